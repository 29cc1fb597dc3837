import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { EffectStep } from '@tangled-choir/core';
import { drawnCurve, drawnPoints, readCurve } from '@tangled-choir/core';
import { choose } from '../../../testing/choices';
import { configureStores, openProject, shownErrors } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { DrawnEditor } from './drawn-editor';

describe('the drawn EQ', () => {
  let fixture: ComponentFixture<DrawnEditor>;
  let host: HTMLElement;
  let plot: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  const step = (): EffectStep => store.project()!.sounds[0]!.layers[0]!.chain[0]!;
  const curve = (): number[] => readCurve(drawnCurve, String(step().parameters['curve'] ?? ''))!;
  const refresh = async (): Promise<void> => {
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };
  const press = async (text: string): Promise<void> => {
    [...host.querySelectorAll('button')].find((button) => button.textContent!.trim() === text)!.click();
    await refresh();
  };

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    const sound = store.project()!.sounds[0]!;
    store.edit('addEffect', { sound: sound.id, owner: { layer: sound.layers[0]!.id }, effect: 'drawn-eq' });
    fixture = TestBed.createComponent(DrawnEditor);
    await refresh();
    host = fixture.nativeElement;
    plot = host.querySelector<HTMLElement>('.plot')!;
    // Ten octaves over a thousand pixels, 48 dB over 480.
    plot.getBoundingClientRect = () => ({ left: 0, top: 0, width: 1_000, height: 480 }) as DOMRect;
  });

  it('takes the curve along which the pointer goes, as one step to undo', async () => {
    const at = (type: string, clientX: number, clientY: number): MouseEvent =>
      new MouseEvent(type, { clientX, clientY, button: 0, bubbles: true, cancelable: true });
    plot.dispatchEvent(at('pointerdown', 200, 240));
    await refresh();
    dispatchEvent(at('pointermove', 400, 140));
    await refresh();
    dispatchEvent(at('pointerup', 400, 140));
    await refresh();
    // From 0 dB at the 24th point in a straight line to +10 dB at the 48th.
    expect(curve()[24]).toBeCloseTo(0, 1);
    expect(curve()[36]).toBeCloseTo(5, 0);
    expect(curve()[48]).toBeCloseTo(10, 1);
    expect(curve()[60]).toBe(0);
    store.undo();
    expect(curve().every((gain) => gain === 0)).toBe(true);
  });

  it('is turned with the keys, smoothed and flattened', async () => {
    const key = async (name: string): Promise<void> => {
      plot.dispatchEvent(new KeyboardEvent('keydown', { key: name }));
      await refresh();
    };
    await key('ArrowRight');
    for (let i = 0; i < 6; i++) await key('ArrowUp');
    expect(curve()[69]).toBe(6);
    expect(plot.getAttribute('aria-valuetext')).toContain('+6.0 dB');
    await press('Smooth');
    expect(curve()[69]).toBeLessThan(6);
    expect(curve()[70]).toBeGreaterThan(0);
    await press('Flatten');
    expect(step().parameters['curve']).toBe('');
  });

  it('matches the spectrum of a source: noise against noise asks for next to nothing', async () => {
    // The layer is the slab knock; the other recording is noise as well, of another seed.
    await choose(fixture, 'Match to', 'snow grain');
    await press('Match');
    for (let i = 0; i < 200 && !step().parameters['curve']; i++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      await refresh();
    }
    expect(shownErrors).toEqual([]);
    const asked = curve().filter((_, i) => drawnPoints[i]! > 500 && drawnPoints[i]! < 10_000);
    expect(asked.some((gain) => gain !== 0)).toBe(true);
    for (const gain of asked) expect(Math.abs(gain)).toBeLessThan(3);
  });
});
