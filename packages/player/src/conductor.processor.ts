/**
 * The audio worklet of the player: decides block by block what is played, and plays it. Decisions and samples come from the same code as everywhere else, so
 * that a game hears what was tried.
 */
import type { ConductEvent, GameMove } from '@tangled-choir/core/conduct';
import { ConductEngine, ConductMixer } from '@tangled-choir/core/conduct';
import type { FromConductor, ToConductor } from './protocol';
import { processorName } from './protocol';

/** Blocks between two reports: about 47 a second. */
const blocksPerBeat = 8;

class Conductor extends AudioWorkletProcessor {
  private engine: ConductEngine | undefined;
  private mixer = new ConductMixer(sampleRate);
  private running = false;
  private blocks = 0;
  private peak = 0;
  private events: ConductEvent[] = [];

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<ToConductor>) => this.receive(data);
  }

  private receive(message: ToConductor): void {
    switch (message.type) {
      case 'data':
        if (this.engine) this.engine.replace(message.data);
        else this.engine = new ConductEngine(message.data);
        this.mixer.setBuses(message.data.buses);
        return this.send({ type: 'data', frame: this.engine.frame, serial: message.serial });
      case 'asset':
        return this.mixer.setAsset(message.id, message.channels);
      case 'move':
        if (!this.engine) return;
        return this.move(this.engine, message.move, message.frame);
      case 'run':
        this.running = message.on;
        return;
      case 'quiet':
        // From the beginning: what was decided and what sounds is forgotten.
        this.engine = undefined;
        this.events = [];
        this.mixer = this.mixer.afresh();
    }
  }

  private move(engine: ConductEngine, move: GameMove, wanted = 0): void {
    const known = engine.frame;
    const frame = Math.max(known, wanted);
    engine.move(move, frame);
    this.send({ type: 'moved', known, frame, move });
  }

  process(_inputs: Float32Array[][], [output]: Float32Array[][]): boolean {
    const [left, right] = [output?.[0], output?.[1]];
    const { engine, mixer } = this;
    if (!left || !right || !engine || !this.running) return true;
    const events = engine.advance(engine.frame + left.length);
    mixer.take(events);
    for (const event of events) if (event.do !== 'turn') this.events.push(event);
    mixer.render(left, right, left.length);
    for (let i = 0; i < left.length; i++) this.peak = Math.max(this.peak, Math.abs(left[i]!), Math.abs(right[i]!));
    if (++this.blocks % blocksPerBeat === 0) {
      this.send({ type: 'beat', frame: engine.frame, events: this.events, sounding: mixer.sounding, peak: this.peak });
      this.events = [];
      this.peak = 0;
    }
    return true;
  }

  private send(report: FromConductor): void {
    this.port.postMessage(report);
  }
}

registerProcessor(processorName, Conductor);
