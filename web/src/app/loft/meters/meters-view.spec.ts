import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { fieldDirections } from '@tangled-choir/core';
import { metersOf } from '../../../testing/meters';
import { configureStores, openProject } from '../../../testing/project';
import { LiveEngine } from '../../engine/live/live-engine';
import { spectrumPoints } from '../../engine/protocol';
import type { DocumentStore } from '../../state/project/document.store';
import { LecternPanel } from '../../state/lectern-panel.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { MetersView } from './meters-view';

describe('the meters', () => {
  let fixture: ComponentFixture<MetersView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  let inner: string;

  /** A bank of bands on the second layer with a compressor in its second band, and a limiter on the whole sound. */
  function addDynamics(): void {
    const sound = store.project()!.sounds[0]!;
    const owner = { layer: sound.layers[1]!.id };
    store.edit('addEffect', { sound: sound.id, owner, effect: 'bands' });
    const bands = store.project()!.sounds[0]!.layers[1]!.chain[0]!;
    store.edit('addEffect', { sound: sound.id, owner, effect: 'compressor', branch: bands.branches![1]!.id });
    store.edit('addEffect', { sound: sound.id, owner: 'sound', effect: 'limiter' });
    inner = store.project()!.sounds[0]!.layers[1]!.chain[0]!.branches![1]!.chain[0]!.id;
  }

  const levels = (level: number): Float32Array => new Float32Array(spectrumPoints).fill(level);
  const output = {
    spectrum: levels(-50),
    average: levels(-40),
    peak: levels(-30),
    field: new Float32Array(fieldDirections).fill(1),
    range: 6.04,
  };

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    addDynamics();
    fixture = TestBed.createComponent(MetersView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const rows = (): string[] => [...host.querySelectorAll('.dynamics .row')].map((row) => row.textContent!.replace(/\s+/g, ' ').trim());

  it('list all dynamics, also those within hosts, and open them where they lie', async () => {
    expect(rows()).toEqual(['snow grain Compressor–', 'Whole sound Limiter–']);
    TestBed.inject(LecternPanel).show('meters');
    host.querySelector<HTMLElement>('.dynamics .row')!.click();
    await fixture.whenStable();
    const workbench = TestBed.inject(WorkbenchStore);
    expect(workbench.step()?.id).toBe(inner);
    expect(workbench.path()).toHaveLength(1);
    expect(TestBed.inject(LecternPanel).shown()).toBe('chain');
  });

  it('show what is taken away, loudness with its range, and the lines of the spectrum', async () => {
    const engine = TestBed.inject(LiveEngine);
    engine.playing.set('sound');
    engine.meters.set(metersOf({ gainReductions: new Map([[inner, -12]]), output }));
    await fixture.whenStable();
    expect(rows()[0]).toBe('snow grain Compressor−12.0 dB');
    expect(host.querySelector<HTMLElement>('.bar span')!.style.width).toBe('50%');
    expect(host.querySelector('[data-testid=reading-range]')!.textContent).toBe('6.0 LU');
    const line = (name: string): string => host.querySelector(`[data-testid=${name}]`)!.getAttribute('d') ?? '';
    expect(line('average-line')).not.toBe('');
    expect(line('average-line')).not.toBe(line('peak-line'));
    expect(line('reference-line')).toBe('');
  });
});
