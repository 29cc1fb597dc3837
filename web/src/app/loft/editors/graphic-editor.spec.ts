import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { EffectStep } from '@tangled-choir/core';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { GraphicEditor } from './graphic-editor';

describe('the graphic EQ', () => {
  let fixture: ComponentFixture<GraphicEditor>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  const sound = () => store.project()!.sounds[0]!;
  const layer = () => sound().layers[0]!;
  const step = (): EffectStep => layer().chain[0]!;
  const slider = (label: string): HTMLElement => host.querySelector<HTMLElement>(`[aria-label="${label} Hz"]`)!;
  const refresh = async (): Promise<void> => {
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    store.edit('addEffect', { sound: sound().id, owner: { layer: layer().id }, effect: 'graphic-eq' });
    fixture = TestBed.createComponent(GraphicEditor);
    await refresh();
    host = fixture.nativeElement;
  });

  it('turns a slider with the keys, however quickly they come', async () => {
    for (const key of ['ArrowUp', 'ArrowUp', 'ArrowUp', 'ArrowDown'])
      slider('1k').dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    slider('130').dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', shiftKey: true, bubbles: true, cancelable: true }));
    await refresh();
    expect(step().parameters['band18']).toBe(2);
    expect(slider('1k').getAttribute('aria-valuetext')).toBe('+2.0 dB');
    expect(step().parameters['band9']).toBeCloseTo(-0.1, 9);
  });

  it('draws across sliders, as one step to undo', async () => {
    const plot = host.querySelector<HTMLElement>('.plot')!;
    // 31 sliders over 310 pixels, 36 dB over 360.
    plot.getBoundingClientRect = () => ({ left: 0, top: 0, width: 310, height: 360 }) as DOMRect;
    const at = (type: string, clientX: number, clientY: number): MouseEvent =>
      new MouseEvent(type, { clientX, clientY, button: 0, bubbles: true, cancelable: true });
    plot.dispatchEvent(at('pointerdown', 5, 180));
    dispatchEvent(at('pointermove', 105, 80));
    dispatchEvent(at('pointerup', 105, 80));
    await refresh();
    for (let band = 0; band <= 10; band++) expect(Number(step().parameters[`band${band + 1}`] ?? 0)).toBeCloseTo(band, 6);
    store.undo();
    expect(step().parameters['band11'] ?? 0).toBe(0);
  });

  it('marks the sliders that move along a lane', async () => {
    expect(host.querySelectorAll('.automated')).toHaveLength(0);
    store.edit('addAutomation', { sound: sound().id, address: `layer/${layer().id}/chain/${step().id}/band18` });
    await refresh();
    expect(host.querySelectorAll('.automated')).toHaveLength(1);
    expect(slider('1k').title).toBe('1k Hz: 0.0 dB, automated');
  });
});
