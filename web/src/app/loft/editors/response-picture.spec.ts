import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { ResponsePicture } from './response-picture';

describe('the response of a convolution', () => {
  let store: DocumentStore;
  let fixture: ComponentFixture<ResponsePicture>;
  let host: HTMLElement;
  const sound = () => TestBed.inject(WorkbenchStore).sound()!;
  const step = () => sound().layers[0]!.chain[0]!;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    store.edit('addEffect', { sound: sound().id, owner: { layer: sound().layers[0]!.id }, effect: 'convolution' });
    fixture = TestBed.createComponent(ResponsePicture);
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const set = async (values: Readonly<Record<string, number | string | boolean>>): Promise<void> => {
    const prefix = `layer/${sound().layers[0]!.id}/chain/${step().id}`;
    const addressed = Object.fromEntries(Object.entries(values).map(([key, value]) => [`${prefix}/${key}`, value]));
    store.edit('setValues', { sound: sound().id, values: addressed, label: '' });
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };
  const handle = (name: string): HTMLElement => host.querySelector(`[aria-label="${name} of the response"]`)!;
  const drag = async (name: string, x: number): Promise<void> => {
    const plot = host.querySelector<HTMLElement>('.plot')!;
    plot.getBoundingClientRect = () => new DOMRect(100, 0, 200, 100);
    handle(name).dispatchEvent(new MouseEvent('pointerdown', { bubbles: true, button: 0 }));
    window.dispatchEvent(new MouseEvent('pointermove', { clientX: x }));
    window.dispatchEvent(new MouseEvent('pointerup'));
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };

  it('tells what is used of which recording, how long it gets and how it is turned', async () => {
    expect(host.textContent).toContain('Fading noise: 0.80');
    await set({ response: `source/${store.project()!.sources[0]!.id}`, from: 0.25, to: 0.75, stretch: 2, reversed: true, tilt: -3 });
    expect(host.textContent).toContain('slab knock: 1.00');
    expect(host.textContent).toContain('backwards, −3.0 dB per octave');
    expect(host.querySelector('tc-waveform')).not.toBeNull();
  });

  it('lets the range be dragged, as one undo step', async () => {
    await drag('From', 150);
    expect(step().parameters['from']).toBeCloseTo(0.25, 6);
    await drag('To', 260);
    expect(step().parameters['to']).toBeCloseTo(0.8, 6);
    await drag('To', 900);
    expect(step().parameters['to']).toBe(1);
    store.undo();
    expect(step().parameters['to']).toBeCloseTo(0.8, 6);
  });

  it('lets the fades be dragged within the part; played backwards they change sides', async () => {
    await set({ from: 0.5, to: 1 });
    await drag('Fade in', 225);
    expect(step().parameters['fadeIn']).toBeCloseTo(0.25, 6);
    await set({ reversed: true });
    expect(handle('Fade in').style.left).toBe('87.5%');
    await drag('Fade in', 250);
    expect(step().parameters['fadeIn']).toBeCloseTo(0.5, 6);
  });

  it('goes by keys, too', async () => {
    handle('To').dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft', bubbles: true }));
    expect(step().parameters['to']).toBeCloseTo(0.99, 6);
  });
});
