import { TestBed } from '@angular/core/testing';
import type { ConductData, ConductEvent, GameMove } from '@tangled-choir/core';
import { ConductEngine } from '@tangled-choir/core';
import type { FromConductor } from '@tangled-choir/player';
import { configureStores, openProject } from '../../testing/project';
import { ConductOutput } from '../engine/conduct-output';
import { ConductTakes } from './conduct-takes.store';
import type { DocumentStore } from './project/document.store';
import { SimulatorCourse } from './simulator-course';
import { Simulator } from './simulator.store';

/** Decides as the worklet does, block by block when it is told to, and makes no sound. */
class SilentConductor {
  onreport: ((report: FromConductor) => void) | undefined;
  readonly decided: ConductEvent[] = [];
  readonly assets = new Map<string, unknown>();
  running = false;
  private engine: ConductEngine | undefined;
  private serial = 0;
  private readonly reports: FromConductor[] = [];

  /** Messages come back in their order, and later than the call that leads to them. */
  private report(report: FromConductor): void {
    this.reports.push(report);
    queueMicrotask(() => this.flush());
  }
  private flush(): void {
    for (let next = this.reports.shift(); next; next = this.reports.shift()) this.onreport?.(next);
  }

  setData(data: ConductData): number {
    if (this.engine) this.engine.replace(data);
    else this.engine = new ConductEngine(data);
    this.report({ type: 'data', frame: this.engine.frame, serial: ++this.serial });
    return this.serial;
  }
  setAsset(id: string, channels: unknown): void {
    if (channels) this.assets.set(id, channels);
    else this.assets.delete(id);
  }
  move(move: GameMove, wanted = 0): void {
    const known = this.engine!.frame;
    this.engine!.move(move, Math.max(known, wanted));
    this.report({ type: 'moved', known, frame: Math.max(known, wanted), move });
  }
  run(on: boolean): void {
    this.running = on;
  }
  reset(): void {
    this.engine = undefined;
    this.decided.length = 0;
  }
  close(): void {
    this.running = false;
  }
  /** Lets time go by. */
  play(frames: number): void {
    for (let end = this.engine!.frame + frames; this.running && this.engine!.frame < end;) {
      const events = this.engine!.advance(this.engine!.frame + 1_024);
      this.decided.push(...events);
      this.report({ type: 'beat', frame: this.engine!.frame, events, sounding: 0, peak: 0 });
      this.flush();
    }
  }
}

describe('the simulator', () => {
  let document: InstanceType<typeof DocumentStore>;
  let conductor: SilentConductor;
  let simulator: Simulator;
  let behaviour: string;

  beforeEach(async () => {
    configureStores();
    conductor = new SilentConductor();
    TestBed.overrideProvider(ConductOutput, { useValue: { start: () => Promise.resolve(conductor), measure: () => undefined } });
    document = await openProject();
    document.edit('addBehaviour', { kind: 'sprinkle', name: 'Ice' });
    behaviour = document.project()!.conduct.behaviours[0]!.id;
    document.edit('addBehaviour', { kind: 'one', name: 'Crack', parent: behaviour, sound: document.project()!.sounds[0]!.id });
    document.edit('addGamePart', { part: 'parameters', name: 'Wind' });
    const takes = TestBed.inject(ConductTakes);
    simulator = TestBed.inject(Simulator);
    takes.watch(true);
    for (let i = 0; i < 400 && takes.ready() < 1; i++) {
      TestBed.tick();
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
    expect(takes.ready()).toBe(1);
  });

  const played = (events: readonly ConductEvent[]) => events.filter((event) => event.do !== 'turn');
  const soon = async (): Promise<void> => {
    TestBed.tick();
    await new Promise((resolve) => setTimeout(resolve, 0));
    TestBed.tick();
  };

  it('knows what the worklet decides, and what it will decide', async () => {
    await simulator.trigger(behaviour);
    await soon();
    conductor.play(48_000 * 10);
    expect(conductor.assets.size).toBe(1);
    expect(simulator.events().filter((event) => event.do !== 'turn')).toEqual(played(conductor.decided));
    expect(simulator.log().filter((entry) => entry.do === 'play').length).toBeGreaterThan(0);
    const { spans, frame } = TestBed.inject(SimulatorCourse).around(6, 12);
    const coming = spans.filter(({ when }) => when === 'coming').map(({ span }) => span.from);
    conductor.play(48_000 * 11);
    const came = conductor.decided.flatMap((event) => (event.do === 'play' && event.frame >= frame ? [event.frame] : []));
    expect(coming.length).toBeGreaterThan(0);
    expect(came).toEqual(coming.filter((from) => from < frame + 48_000 * 11));
  });

  it('goes on with an edit while it runs, and keeps its moves in step', async () => {
    await simulator.trigger(behaviour);
    await soon();
    conductor.play(48_000);
    document.edit('setBehaviour', { behaviour, label: 'Rate', change: { play: { kind: 'sprinkle', shortest: 0.1, longest: 0.2 } } });
    await soon();
    conductor.play(48_000 * 3);
    await simulator.trigger(behaviour);
    await soon();
    conductor.play(48_000);
    expect(simulator.moves().map(({ move }) => move.do)).toEqual(['listener', 'trigger', 'trigger']);
    expect(simulator.events().filter((event) => event.do !== 'turn')).toEqual(played(conductor.decided));
    expect(simulator.events().filter((event) => event.do === 'play').length).toBeGreaterThan(5);
  });

  it('plays a script from the beginning, shows what it sets, and holds at its end', async () => {
    const wind = document.project()!.conduct.parameters[0]!.id;
    await simulator.trigger(behaviour);
    await soon();
    conductor.play(10_000);
    await simulator.playScript({
      seconds: 2,
      moves: [
        { at: 0, move: { do: 'listener', x: 3, y: 4, facing: 90 } },
        { at: 1, move: { do: 'set', parameter: wind, value: 0.75 } },
      ],
    });
    await soon();
    expect(simulator.listener()).toEqual({ x: 3, y: 4, facing: 90 });
    conductor.play(20_000);
    expect(simulator.values().get(wind)).toBeUndefined();
    conductor.play(48_000 * 5);
    expect(simulator.values().get(wind)).toBe(0.75);
    expect(simulator.phase()).toBe('held');
    expect(simulator.seconds()).toBeCloseTo(2, 1);
    expect(simulator.events().filter((event) => event.do === 'call')).toEqual([]);
    simulator.rewind();
    expect(simulator.last()).toMatchObject({ moves: [{}, {}, {}] });
    expect(simulator.last()?.seconds).toBeCloseTo(2, 1);
    expect([simulator.phase(), simulator.moves().length, simulator.values().get(wind)]).toEqual(['idle', 0, 0.75]);
  });
});
