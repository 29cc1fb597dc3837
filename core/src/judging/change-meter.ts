import type { Block } from '../dsp/block';
import { createBlock, maxBlock, moveBlock } from '../dsp/block';
import { DelayLine } from '../dsp/delay-line';
import { FrameQueue, SpectralFrame } from '../dsp/spectral-frames';
import type { Decibels, Frames, Hertz, Ratio, Seconds } from '../units';

const size = 4_096;
/** How long the meter looks back. */
const memory: Seconds = 0.8;
/** Centres of the bands that are told, a third of an octave wide (IEC 61260). */
export const changeBands: readonly Hertz[] = Array.from({ length: 28 }, (_, i) => 1_000 * 2 ** ((i - 15) / 3));
/** Below this much of the sound, a band is silence and cannot change. */
const quietest: Decibels = -90;

/**
 * A change below this is called inaudible: the residual lies 40 dB below the sound in every band that holds more than a millionth of
 * it. A masker of one third of an octave hides what is 20 dB (noise) to 30 dB (tones) weaker in its own band (Zwicker & Fastl,
 * "Psychoacoustics", ch. 4); 10 dB are kept to spare.
 */
export const audibleChange: Decibels = -40;
const countedBand: Decibels = -60;

/** How much one step changes the sound, once the level is matched. */
export interface ChangeReading {
  /** Level of the difference relative to the sound, both at the same loudness; -Infinity when nothing but level changes. */
  readonly residual: Decibels;
  /** How much louder the sound comes out than it went in. */
  readonly gain: Decibels;
  /** The same as `residual` for each of `changeBands`; -Infinity where the sound is silent. */
  readonly bands: readonly Decibels[];
  /** False when the change is too small to be heard. */
  readonly audible: boolean;
}

/**
 * Compares what goes into a step with what comes out, live: spectra of both are averaged, the input is brought to the level of the
 * output, and what then differs is told as a whole and by bands. Phase counts: a polarity turned round is a change of +6 dB.
 */
export class ChangeMeter {
  private readonly spectrumBefore = new SpectralFrame(size);
  private readonly spectrumAfter = new SpectralFrame(size);
  private readonly late: LateInput;
  private readonly before: FrameQueue;
  private readonly after: FrameQueue;
  private readonly inputs: Float64Array;
  private readonly outputs: Float64Array;
  private readonly products: Float64Array;
  private readonly keep: number;
  private readonly bandOf: Int8Array;

  /** @param latency frames by which the output of the step lags */
  constructor(
    sampleRate: Hertz,
    latency: Frames,
    private readonly channels: number,
  ) {
    this.late = new LateInput(latency, channels);
    // What comes while a frame is full waits behind it: both sides fill at the same rate, a block apart.
    this.before = new FrameQueue(channels, size, size, 2 * maxBlock);
    this.after = new FrameQueue(channels, size, size, 2 * maxBlock);
    this.keep = Math.exp(-size / (memory * sampleRate));
    const bins = size / 2 + 1;
    this.inputs = new Float64Array(bins);
    this.outputs = new Float64Array(bins);
    this.products = new Float64Array(bins);
    this.bandOf = Int8Array.from({ length: bins }, (_, bin) => {
      const band = Math.round(15 + 3 * Math.log2((bin * sampleRate) / size / 1_000));
      return bin === 0 ? -1 : Math.max(0, Math.min(changeBands.length - 1, band));
    });
  }

  hearBefore(block: Block): void {
    this.before.write(this.late.take(block));
    this.before.advance(block.frames);
  }

  hearAfter(block: Block): void {
    this.after.write(block);
    this.after.advance(block.frames);
    if (this.before.full && this.after.full) this.analyse();
  }

  private analyse(): void {
    for (let bin = 0; bin < this.inputs.length; bin++) {
      this.inputs[bin]! *= this.keep;
      this.outputs[bin]! *= this.keep;
      this.products[bin]! *= this.keep;
    }
    for (let c = 0; c < this.channels; c++) {
      const [a, b] = [this.spectrumBefore, this.spectrumAfter];
      a.take(this.before.channels[c]!, 0);
      b.take(this.after.channels[c]!, 0);
      for (let bin = 0; bin < this.inputs.length; bin++) {
        this.inputs[bin]! += a.re[bin]! ** 2 + a.im[bin]! ** 2;
        this.outputs[bin]! += b.re[bin]! ** 2 + b.im[bin]! ** 2;
        this.products[bin]! += a.re[bin]! * b.re[bin]! + a.im[bin]! * b.im[bin]!;
      }
    }
    this.before.next();
    this.after.next();
  }

  /** What has been heard lately; undefined while there was only silence. */
  read(): ChangeReading | undefined {
    const sum = (values: Float64Array): number => values.reduce((total, value) => total + value, 0);
    const input = sum(this.inputs);
    const output = sum(this.outputs);
    // A full-scale sine has a power of size²/16 with this window.
    const floor = 10 ** (quietest / 10) * (size / 4) ** 2;
    if (input < floor || output < floor) return undefined;
    const gain = Math.sqrt(output / input);
    const residuals = new Float64Array(changeBands.length);
    const levels = new Float64Array(changeBands.length);
    let residual = 0;
    for (let bin = 0; bin < this.inputs.length; bin++) {
      const power = Math.max(0, this.outputs[bin]! + gain * gain * this.inputs[bin]! - 2 * gain * this.products[bin]!);
      residual += power;
      const band = this.bandOf[bin]!;
      if (band < 0) continue;
      residuals[band]! += power;
      // A band that the step has emptied still held something before.
      levels[band]! += Math.max(this.outputs[bin]!, gain * gain * this.inputs[bin]!);
    }
    const bands = Array.from(residuals, (power, band) => decibels(power / Math.max(levels[band]!, output * 1e-12)));
    const counted = bands.filter((_, band) => decibels(levels[band]! / output) > countedBand);
    return {
      residual: decibels(residual / output),
      gain: decibels(gain * gain),
      bands,
      audible: counted.some((level) => level > audibleChange),
    };
  }
}

function decibels(power: Ratio): Decibels {
  return power > 1e-14 ? 10 * Math.log10(power) : -Infinity;
}

/** The input of a step, as late as its output. */
class LateInput {
  readonly block: Block;
  private readonly delay: DelayLine;

  constructor(latency: Frames, channels: number) {
    this.delay = new DelayLine(latency, channels);
    this.block = createBlock(channels);
  }

  take(block: Block): Block {
    const { channels } = this.block;
    this.block.frames = block.frames;
    for (let c = 0; c < channels.length; c++) {
      const [from, into] = [block.channels[c]!, channels[c]!];
      for (let i = 0; i < block.frames; i++) into[i] = from[i]!;
    }
    this.delay.process(this.block);
    return this.block;
  }
}

/** Keeps what one step has changed, sample by sample, so that only the difference can be listened to. */
export class ChangeListener {
  private readonly late: LateInput;
  private readonly difference: Block;
  private input = 0;
  private output = 0;
  private gain = 1;
  private readonly keep: number;

  /** @param latency frames by which the output of the step lags */
  constructor(sampleRate: Hertz, latency: Frames, channels: number) {
    this.keep = Math.exp(-1 / (memory * sampleRate));
    this.late = new LateInput(latency, channels);
    this.difference = createBlock(channels);
  }

  hearBefore(block: Block): void {
    this.late.take(block);
  }

  hearAfter(block: Block): void {
    const { channels } = this.difference;
    const dry = this.late.block.channels;
    for (let i = 0; i < block.frames; i++) {
      let before = 0;
      let after = 0;
      for (let c = 0; c < channels.length; c++) {
        before += dry[c]![i]! ** 2;
        after += block.channels[c]![i]! ** 2;
      }
      this.input = this.input * this.keep + before;
      this.output = this.output * this.keep + after;
      // The matching gain moves slowly, so that it is not heard itself.
      if (this.input > 1e-9 && this.output > 1e-9) this.gain += (Math.sqrt(this.output / this.input) - this.gain) * 0.0005;
      for (let c = 0; c < channels.length; c++) channels[c]![i] = block.channels[c]![i]! - dry[c]![i]! * this.gain;
    }
    this.difference.frames = block.frames;
  }

  /** Puts the latest difference in the place of what is heard; silence where the step heard none. */
  replace(heard: readonly Float32Array[], frames: Frames): void {
    moveBlock(this.difference, heard, frames);
  }
}
