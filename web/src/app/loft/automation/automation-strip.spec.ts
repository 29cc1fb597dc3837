import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { Playback } from '../../state/playback.store';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import { LoftView } from '../loft-view';
import { TimelineScale } from '../timeline/timeline-scale';

/** In a page without a layout every box begins at 0, so that pointer places are places in the strip. */
describe('an automation lane in the Loft', () => {
  let fixture: ComponentFixture<LoftView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  const zoom = 200;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(LoftView);
    await fixture.whenStable();
    host = fixture.nativeElement;
    store.edit('addAutomation', { sound: sound().id, address: `layer/${layer().id}/gain` });
    TestBed.inject(WorkbenchStore).showAutomation(`layer/${layer().id}`, true);
    await fixture.whenStable();
    // Without a layout, the whole sound was fitted into nothing.
    fixture.debugElement.injector.get(TimelineScale).pixelsPerSecond.set(zoom);
    await fixture.whenStable();
  });

  const sound = () => store.project()!.sounds[0]!;
  const layer = () => sound().layers[0]!;
  const lane = () => sound().automation[0]!;
  const curve = (): HTMLElement => host.querySelector<HTMLElement>('.curve')!;
  const pointer = (type: string, time: number, y: number, more: MouseEventInit = {}): MouseEvent =>
    new MouseEvent(type, { clientX: time * zoom, clientY: y, bubbles: true, cancelable: true, button: 0, ...more });
  const drag = async (target: HTMLElement, path: [number, number][], more: MouseEventInit = {}): Promise<void> => {
    target.dispatchEvent(pointer('pointerdown', ...path[0]!, more));
    for (const place of path.slice(1)) window.dispatchEvent(pointer('pointermove', ...place, more));
    window.dispatchEvent(pointer('pointerup', ...path.at(-1)!, more));
    await fixture.whenStable();
  };
  const key = async (target: Element, name: string, more: KeyboardEventInit = {}): Promise<void> => {
    target.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more }));
    await fixture.whenStable();
  };
  const addPoint = async (time: number, y: number): Promise<void> => {
    curve().dispatchEvent(pointer('dblclick', time, y));
    await fixture.whenStable();
  };

  it('takes points by double click, moves and removes them, each as one step', async () => {
    await addPoint(0.5, 40);
    expect(lane().points).toHaveLength(2);
    expect(store.undoLabel()).toBe('Add a point: slab knock: gain');
    const before = lane().points[1]!;
    await drag(
      host.querySelectorAll<HTMLElement>('.point')[1]!,
      [
        [0.5, 40],
        [0.6, 50],
        [0.7, 60],
      ],
      { altKey: true },
    );
    expect(lane().points[1]!.time).toBeCloseTo(0.7, 3);
    expect(lane().points[1]!.value).toBeLessThan(before.value - 10);
    store.undo();
    expect(lane().points[1]).toEqual(before);
    await fixture.whenStable();
    await key(host.querySelectorAll('.point')[1]!, 'ArrowRight');
    expect(lane().points[1]!.time).toBeCloseTo(0.51, 3);
    await key(host.querySelectorAll('.point')[1]!, 'Delete');
    expect(lane().points).toHaveLength(1);
    expect(sound().layers).toHaveLength(2);
  });

  it('is drawn by hand with Ctrl held, and chosen in stretches otherwise', async () => {
    const stroke = Array.from({ length: 20 }, (_, i): [number, number] => [0.2 + i / 50, 30 + 2 * i]);
    await drag(curve(), stroke, { ctrlKey: true });
    expect(store.undoLabel()).toContain('Draw');
    const values = lane().points.map((point) => point.value);
    expect(lane().points.at(-1)!.time).toBeCloseTo(0.58, 1);
    expect(values.at(-1)).toBeLessThan(-40);
    await drag(curve(), [
      [0.3, 78],
      [0.5, 78],
    ]);
    expect(host.querySelector('.stretch')).not.toBeNull();
    // Delete belongs to the lane while it has the focus, never to the layer.
    await key(curve(), 'Delete');
    expect(sound().layers).toHaveLength(2);
    await key(curve(), 'Escape');
    expect(host.querySelector('.stretch')).toBeNull();
  });

  it('copies a course and pastes it at the playhead, into another property as well', async () => {
    await addPoint(0.5, 60);
    await key(curve(), 'c', { ctrlKey: true });
    store.edit('addAutomation', { sound: sound().id, address: `layer/${layer().id}/pan` });
    await fixture.whenStable();
    await key(host.querySelectorAll('.curve')[1]!, 'v', { ctrlKey: true });
    const pan = sound().automation[1]!;
    expect(pan.points.length).toBeGreaterThan(1);
    for (const point of pan.points) expect(Math.abs(point.value)).toBeLessThanOrEqual(1);
  });

  it('is trimmed as a whole when its dial is turned, whatever it says at the playhead', async () => {
    const turning = TestBed.inject(Turning);
    turning.turn({ [`layer/${layer().id}/gain`]: -6, [`layer/${layer().id}/pan`]: 0.5 }, 'Turn');
    expect(lane().trim).toBe(-6);
    expect(layer().gain).toBe(0);
    expect(layer().pan).toBe(0.5);
    await fixture.whenStable();
    expect(host.querySelector('.gain')!.textContent).toContain('−6.0 dB');
    turning.turn({ [`layer/${layer().id}/gain`]: -2 }, 'Turn');
    expect(lane().trim).toBeCloseTo(-2, 9);
  });

  it('gets one point by a double click on its curve, and loses a point by one on the point', async () => {
    // As a browser sends them: press, press on what lies there by then, double click.
    const place = [0.6, 33.5] as const;
    curve().dispatchEvent(pointer('pointerdown', ...place));
    window.dispatchEvent(pointer('pointerup', ...place));
    await fixture.whenStable();
    const added = host.querySelectorAll<HTMLElement>('.point')[1]!;
    added.dispatchEvent(pointer('pointerdown', ...place));
    window.dispatchEvent(pointer('pointerup', ...place));
    added.dispatchEvent(pointer('dblclick', ...place));
    await fixture.whenStable();
    expect(lane().points).toHaveLength(2);
    await new Promise((resolve) => setTimeout(resolve, 700));
    host.querySelectorAll<HTMLElement>('.point')[1]!.dispatchEvent(pointer('dblclick', ...place));
    await fixture.whenStable();
    expect(lane().points).toHaveLength(1);
  });

  it('keeps both points of two double clicks that come quicker than the screen is refreshed', async () => {
    curve().dispatchEvent(pointer('dblclick', 0.5, 40));
    curve().dispatchEvent(pointer('dblclick', 1, 60));
    expect(lane().points.map(({ time }) => time)).toEqual([0, 0.5, 1]);
  });

  it('gets one point by a double click on its curve that is quicker than the screen is refreshed', async () => {
    const place = [0.6, 33.5] as const;
    for (const type of ['pointerdown', 'pointerup', 'pointerdown', 'pointerup', 'dblclick']) curve().dispatchEvent(pointer(type, ...place));
    await fixture.whenStable();
    expect(lane().points).toHaveLength(2);
  });

  it('is measured by one moment while its dial is turned, however far the sound plays on', async () => {
    store.edit('setAutomationPoints', {
      sound: sound().id,
      lane: lane().id,
      points: [
        { time: 0, value: -20, bend: 0 },
        { time: 1, value: 0, bend: 0 },
      ],
      action: 'Draw',
    });
    const turning = TestBed.inject(Turning);
    const playback = TestBed.inject(Playback);
    turning.turn({ [lane().address]: -14 }, 'Gain', 'drag');
    expect(lane().trim).toBe(6);
    playback.seek(1);
    turning.turn({ [lane().address]: -13 }, 'Gain', 'drag');
    expect(lane().trim).toBe(7);
    turning.turn({ [lane().address]: -3 }, 'Gain', 'another drag');
    expect(lane().trim).toBe(-3);
  });

  it('is titled by what it moves, whatever its layer is called', async () => {
    store.edit('renameLayer', { sound: sound().id, layer: layer().id, name: 'Strike · Back to ice' });
    store.edit('addSharedBus', { sound: sound().id, name: 'Hall' });
    store.edit('setSend', { sound: sound().id, owner: { layer: layer().id }, bus: sound().buses[0]!.id, on: true });
    store.edit('addEffect', { sound: sound().id, owner: { layer: layer().id }, effect: 'compressor' });
    store.edit('addAutomation', { sound: sound().id, address: `layer/${layer().id}/send/${sound().buses[0]!.id}` });
    store.edit('addAutomation', { sound: sound().id, address: `layer/${layer().id}/chain/${layer().chain[0]!.id}/ratio` });
    await fixture.whenStable();
    const titles = [...host.querySelectorAll('tc-automation-strip .title')].map((title) => title.textContent);
    expect(titles).toEqual(['Gain', 'Send to Hall · Level', 'Compressor · Ratio']);
  });

  it('shows its trim in what the property is counted in', async () => {
    store.edit('addEffect', { sound: sound().id, owner: { layer: layer().id }, effect: 'compressor' });
    const step = `layer/${layer().id}/chain/${layer().chain[0]!.id}`;
    for (const key of ['mix', 'attack', 'keyLowCut']) store.edit('addAutomation', { sound: sound().id, address: `${step}/${key}` });
    const trims = [3, -0.1, 20, -2];
    sound().automation.forEach(({ id }, n) => store.edit('setAutomation', { sound: sound().id, lane: id, settings: { trim: trims[n]! } }));
    await fixture.whenStable();
    const texts = [...host.querySelectorAll('.trim .value')].map((text) => text.textContent);
    expect(texts).toEqual(['+3.0 dB', '−10.0 %', '+20.0 %', '−2.0 st']);
  });

  it('is opened and closed by its key, and switched off without being lost', async () => {
    await key(document.body, 'a');
    expect(host.querySelector('tc-automation-strip')).toBeNull();
    await key(document.body, 'a');
    host.querySelector<HTMLElement>('[aria-label="Automation on: slab knock: gain"]')!.click();
    host.querySelector<HTMLElement>('[aria-label="Steps: slab knock: gain"]')!.click();
    await fixture.whenStable();
    expect(lane()).toMatchObject({ enabled: false, stepped: true });
    expect(TestBed.inject(Turning).laneOf(lane().address)).toBeUndefined();
  });

  it('names the stages of a choice where the lane goes over to them, and has nothing to bend or trim there', async () => {
    store.edit('addEffect', { sound: sound().id, owner: { layer: layer().id }, effect: 'filter' });
    const step = layer().chain.at(-1)!.id;
    store.edit('addAutomation', { sound: sound().id, address: `layer/${layer().id}/chain/${step}/kind` });
    const points = [
      { time: 0, value: 0, bend: 0 },
      { time: 0.5, value: 2, bend: 0 },
    ];
    store.edit('setAutomationPoints', { sound: sound().id, lane: sound().automation[1]!.id, points, action: 'Draw' });
    await fixture.whenStable();
    const strip = host.querySelectorAll('tc-automation-strip')[1]!;
    expect([...strip.querySelectorAll('.stage')].map((stage) => stage.textContent)).toEqual(['low pass', 'band pass']);
    expect(strip.querySelectorAll('.bend, .trim, [aria-label^="Steps"]')).toHaveLength(0);
    expect(strip.querySelector('.now')!.textContent).toBe('low pass');
  });
});
