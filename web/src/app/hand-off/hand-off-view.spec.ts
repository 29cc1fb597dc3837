import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { manifestSchema, readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { configureStores, openProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import * as saving from '../storage/save-file';
import { AskSettings } from '../ui/settings-dialog';
import { Deliveries } from '../state/deliveries.store';
import { HandOffView } from './hand-off-view';

describe('Hand-off', () => {
  let fixture: ComponentFixture<HandOffView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    const sound = store.project()!.sounds[0]!.id;
    store.edit('setFamily', { sound, size: 3 });
    store.edit('judgeSibling', { sound, index: 1, state: 'kept', draws: { 'sound/gain': -3 } });
    fixture = TestBed.createComponent(HandOffView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const files = (): string[] => [...host.querySelectorAll('.file')].map((cell) => cell.textContent);
  const first = (): string => store.project()!.deliveries[0]!.id;
  const type = async (template: string): Promise<void> => {
    const input = host.querySelector<HTMLInputElement>('#template')!;
    input.value = template;
    input.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };

  it('shows live names and finds collisions before anything is written', async () => {
    expect(files()).toEqual(['Halda_Slab_01.wav', 'Halda_Slab_02.wav']);
    await type('{sound}-{number}-{rate}');
    expect(files()).toEqual(['Slab-01-48000.wav', 'Slab-02-48000.wav']);
    await type('{sound}');
    expect(host.textContent).toContain('Another file has the same name');
    expect([...host.querySelectorAll('button')].find((button) => button.textContent.includes('Write zip'))!.disabled).toBe(true);
    expect(store.undoLabel()).toBe('Change delivery “WAV, 24 bit”');
    store.undo();
    await fixture.whenStable();
    expect(files()).toEqual(['Halda_Slab_01.wav', 'Halda_Slab_02.wav']);
  });

  it('forgets what pre-flight found as soon as something changes', async () => {
    const deliveries = TestBed.inject(Deliveries);
    await deliveries.check();
    expect(deliveries.checked()).toHaveLength(2);
    store.edit('setDelivery', { delivery: first(), change: { channels: 'mono' } });
    expect(deliveries.checked()).toBeUndefined();
  });

  it('writes what was promised', async () => {
    const saved: [BlobPart, string][] = [];
    jest.spyOn(saving, 'saveFile').mockImplementation((bytes, name) => void saved.push([bytes, name]));
    store.edit('setDelivery', { delivery: first(), change: { channels: 'mono', encoding: '16', sampleRate: 44_100 } });
    expect(await TestBed.inject(Deliveries).deliver(() => Promise.resolve(true))).toBe(5);
    const [bytes, name] = saved[0]!;
    expect(name).toBe('Halda.zip');
    const entries = unzipSync(new Uint8Array(await new Blob([bytes]).arrayBuffer()));
    const manifest = manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json'])));
    expect(manifest.files.map((file) => file.variant)).toEqual(['original', 2]);
    const [original, sibling] = manifest.files.map((file) => readWav(entries[file.file]!).audio);
    expect(original!.sampleRate).toBe(44_100);
    expect(original!.channels).toHaveLength(1);
    expect(manifest.files[0]!.integratedLufs! - manifest.files[1]!.integratedLufs!).toBeCloseTo(3, 1);
    expect(sibling!.channels[0]).toHaveLength(original!.channels[0]!.length);
  });

  const button = (text: string): HTMLButtonElement | undefined =>
    [...host.querySelectorAll('button')].find((each) => each.textContent.includes(text));
  const clip = (): void => {
    store.edit('setValues', { sound: store.project()!.sounds[0]!.id, values: { 'sound/gain': 30 }, label: 'Loud' });
  };

  it('mends what pre-flight finds on a click, as one step, and checks again', async () => {
    clip();
    const deliveries = TestBed.inject(Deliveries);
    await deliveries.check();
    await fixture.whenStable();
    expect(host.textContent).toContain('samples clip');
    await fixture.componentInstance['mend'](store.project()!.sounds[0]!.id, 'change level');
    await fixture.whenStable();
    expect(deliveries.checked()!.flatMap(({ findings }) => findings.filter(({ severity }) => severity === 'fault'))).toEqual([]);
    expect(deliveries.peak()).toBeCloseTo(-1, 1);
    expect(store.undoLabel()).toBe('Change the level');
    store.undo();
    expect(store.project()!.sounds[0]!.gain).toBe(30);
  });

  it('asks once before it writes files with faults', async () => {
    const saved = jest.spyOn(saving, 'saveFile').mockImplementation(() => undefined);
    saved.mockClear();
    const ask = jest.spyOn(TestBed.inject(AskSettings), 'ask').mockResolvedValue(undefined);
    clip();
    await fixture.componentInstance['deliver']();
    expect(ask).toHaveBeenCalledTimes(1);
    expect(ask.mock.calls[0]![0].title).toBe('2 files have faults');
    expect(ask.mock.calls[0]![0].explain).toContain('samples clip');
    expect(saved).not.toHaveBeenCalled();
    ask.mockResolvedValue({});
    await fixture.componentInstance['deliver']();
    expect(saved).toHaveBeenCalledTimes(1);
  });

  it('says that solos are only for listening, and ends them on a click', async () => {
    const sound = store.project()!.sounds[0]!;
    store.edit('solo', { sound: sound.id, owner: { layer: sound.layers[0]!.id }, soloed: true });
    await fixture.whenStable();
    expect(host.querySelector('.solo')!.textContent).toContain(`“${sound.layers[0]!.name}”`);
    button('End the solos')!.click();
    await fixture.whenStable();
    expect(host.querySelector('.solo')).toBeNull();
    expect(store.undoLabel()).toBe('End all solos');
  });

  it('tells how siblings come into the list while none is kept', async () => {
    const sound = store.project()!.sounds[0]!.id;
    store.edit('judgeSibling', { sound, index: 1, state: 'open' });
    await fixture.whenStable();
    expect(host.querySelector('[data-testid="open-siblings"]')!.textContent).toContain('3 open, 0 kept: keep them with K');
  });
});
