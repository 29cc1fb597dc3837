/**
 * The audio worklet: plays what the engine's worker has put into the ring. Where the stream breaks (start, stop, jump, underrun) it
 * fades over 128 frames, so that no break is a click.
 */
import { ringCapacity, ringSlots } from './ring';

interface PlayerOptions {
  readonly samples: Float32Array;
  readonly control: Int32Array;
}

const fadeFrames = 128;
const mask = ringCapacity - 1;

class ChoirPlayer extends AudioWorkletProcessor {
  private readonly samples: Float32Array;
  private readonly control: Int32Array;
  private seenDiscards = 0;
  /** Gain of the running fade. */
  private gain = 0;
  /** What the output falls from after a break. */
  private lastLeft = 0;
  private lastRight = 0;
  private release = 0;

  constructor(options: { processorOptions: PlayerOptions }) {
    super();
    this.samples = options.processorOptions.samples;
    this.control = options.processorOptions.control;
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const { control } = this;
    const left = outputs[0]![0]!;
    const right = outputs[0]![1] ?? left;
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
    for (let i = 0; i < left.length; i++) {
      let l = 0;
      let r = 0;
      if (playing && i < available) {
        const place = (read + i) & mask;
        if (this.gain < 1) this.gain = Math.min(1, this.gain + 1 / fadeFrames);
        l = this.samples[place]! * this.gain;
        r = this.samples[ringCapacity + place]! * this.gain;
        sounded++;
      } else if (this.gain > 0) this.break();
      if (this.release > 0) {
        this.release--;
        const rest = this.release / fadeFrames;
        l += this.lastLeft * rest;
        r += this.lastRight * rest;
      }
      left[i] = l;
      if (right !== left) right[i] = r;
      peak = Math.max(peak, Math.abs(l), Math.abs(r));
      if (sounded > 0 && this.release === 0) {
        this.lastLeft = l;
        this.lastRight = r;
      }
    }
    if (playing && sounded < left.length) Atomics.add(control, ringSlots.underruns, 1);
    Atomics.store(control, ringSlots.read, (read + sounded) | 0);
    Atomics.add(control, ringSlots.sounded, sounded);
    const millionths = Math.round(peak * 1e6);
    if (millionths > Atomics.load(control, ringSlots.outputPeak)) Atomics.store(control, ringSlots.outputPeak, millionths);
    return true;
  }

  /** The stream broke: let the last value fall, and let what follows rise. */
  private break(): void {
    if (this.gain > 0) this.release = fadeFrames;
    this.gain = 0;
  }
}

registerProcessor('choir-player', ChoirPlayer);
