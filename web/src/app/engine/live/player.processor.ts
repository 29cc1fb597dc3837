/**
 * The audio worklet: plays what the engine's worker has put into the ring. Where the stream breaks (start, stop, jump, underrun) it
 * fades over 128 frames, so that no break is a click.
 */
import { ringCapacity, ringSlots } from './ring';
import type { EnginePort, RingPiece } from './ring-by-message';
import { progressOf, takePiece } from './ring-by-message';

interface PlayerOptions {
  readonly samples: Float32Array;
  readonly control: Int32Array;
}

const fadeFrames = 128;
/** Blocks of 128 frames between two messages about how far it has come. */
const blocksBetween = 4;
const mask = ringCapacity - 1;

class ChoirPlayer extends AudioWorkletProcessor {
  private readonly samples: Float32Array;
  private readonly control: Int32Array;
  private seenDiscards = 0;
  /** Gain of the running fade. */
  private gain = 0;
  /** What each channel falls from after a break. */
  private readonly last: Float32Array;
  private release = 0;

  constructor(options: { processorOptions: PlayerOptions }) {
    super();
    this.samples = options.processorOptions.samples;
    this.control = options.processorOptions.control;
    this.last = new Float32Array(this.samples.length / ringCapacity);
    this.port.onmessage = ({ data }: MessageEvent<EnginePort>) => {
      this.engine = data.engine;
      data.engine.onmessage = ({ data: piece }: MessageEvent<RingPiece>) => takePiece(this.samples, this.control, piece);
    };
  }
  private engine: MessagePort | undefined;
  private blocks = 0;

  private tell(): void {
    if (!this.engine || this.blocks++ % blocksBetween > 0) return;
    const progress = progressOf(this.control);
    this.engine.postMessage(progress);
    this.port.postMessage(progress);
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const { control } = this;
    const channels = outputs[0]!;
    const frames = channels[0]!.length;
    let read = Atomics.load(control, ringSlots.read);
    const discards = Atomics.load(control, ringSlots.discards);
    if (discards !== this.seenDiscards) {
      this.seenDiscards = discards;
      const target = Atomics.load(control, ringSlots.discardTo);
      if (((target - read) | 0) > 0) {
        read = target;
        this.break();
      }
    }
    const playing = Atomics.load(control, ringSlots.playing) === 1;
    const available = (Atomics.load(control, ringSlots.written) - read) | 0;
    let peak = 0;
    let sounded = 0;
    for (let i = 0; i < frames; i++) {
      const here = playing && i < available;
      if (here) {
        if (this.gain < 1) this.gain = Math.min(1, this.gain + 1 / fadeFrames);
        sounded++;
      } else if (this.gain > 0) this.break();
      if (this.release > 0) this.release--;
      const rest = this.release / fadeFrames;
      const place = (read + i) & mask;
      for (let c = 0; c < channels.length; c++) {
        let sample = here ? this.samples[c * ringCapacity + place]! * this.gain : 0;
        if (rest > 0) sample += this.last[c]! * rest;
        channels[c]![i] = sample;
        peak = Math.max(peak, Math.abs(sample));
        if (sounded > 0 && this.release === 0) this.last[c] = sample;
      }
    }
    if (playing && sounded < frames) Atomics.add(control, ringSlots.underruns, 1);
    Atomics.store(control, ringSlots.read, (read + sounded) | 0);
    Atomics.add(control, ringSlots.sounded, sounded);
    const millionths = Math.round(peak * 1e6);
    if (millionths > Atomics.load(control, ringSlots.outputPeak)) Atomics.store(control, ringSlots.outputPeak, millionths);
    this.tell();
    return true;
  }

  /** The stream broke: let the last value fall, and let what follows rise. */
  private break(): void {
    if (this.gain > 0) this.release = fadeFrames;
    this.gain = 0;
  }
}

registerProcessor('choir-player', ChoirPlayer);
