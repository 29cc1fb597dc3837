import { copyPadded } from '../audio/audio';
import { hannWindow } from '../dsp/fft';
import type { Progress } from '../cancelled';
import { report } from '../cancelled';
import type { Frames } from '../units';
import type { VocoderOptions } from './locked-frames';
import { LockedFrames } from './locked-frames';
import type { TimeMap } from './time-map';

const overlap = 4;
/** Progress is told after so many frames. */
const reportEvery = 32;
/** By how many powers worn frames are narrower. */
const mostNarrow = 5;

/** What is put out: which frames, and where place 0 of the arrays lies among them. */
export interface OutputSpan {
  readonly from: Frames;
  readonly to: Frames;
  readonly origin: Frames;
}

/** A phase vocoder that reads where it likes (see `LockedFrames`). Where the input is read at its own pace, the output is the input. */
export class PhaseVocoder {
  private readonly hop: Frames;
  private readonly frames: LockedFrames;

  /** @param size samples of a frame, a power of two of at least 64 */
  constructor(
    readonly size: Frames,
    channelCount: number,
    options: VocoderOptions = {},
  ) {
    this.hop = size / overlap;
    const window = hannWindow(size);
    // Narrower frames no longer add up evenly: they are heard one by one, as loud as before.
    const narrow = window.map((weight) => Math.pow(weight, 1 + mostNarrow * (options.wear ?? 0)));
    const sum = narrow.reduce((total, weight, i) => total + weight * window[i]!, 0) / this.hop;
    const synthesis = narrow.map((weight) => weight / sum);
    this.frames = new LockedFrames(size, channelCount, synthesis, options);
  }

  /** The frames of the output that are asked for; beyond the ends of the input lies silence. */
  stretch(
    channels: readonly Float32Array[],
    map: TimeMap,
    { from, to }: { readonly from: Frames; readonly to: Frames },
    progress?: Progress,
  ): Float32Array[] {
    const reach = 2 * this.size;
    const length = channels[0]?.length ?? 0;
    // Frames that last long are full from the beginning to the end, where there is as much.
    const keeps = this.frames.scattersNoise && length >= 1.5 * this.size;
    const inside = (place: Frames): Frames => (keeps ? Math.max(this.size, Math.min(length - this.size / 2, place)) : place);
    const first = Math.floor(inside(map.inputAt(from - this.size))) - reach;
    const last = Math.ceil(inside(map.inputAt(to + this.size))) + reach;
    const inputs = channels.map((channel) => {
      const input = new Float32Array(last - first);
      copyPadded(channel, first, input);
      return input;
    });
    const outputs = channels.map(() => new Float32Array(to - from));
    this.run(inputs, outputs, { from, to, origin: from }, (output) => inside(map.inputAt(output)) - first, progress);
    return outputs;
  }

  /**
   * Adds what is put out to `outputs`. What lies within half a frame of the ends of the span is whole, too.
   * @param inputs must hold a frame and two hops around every moment that is read
   * @param inputAt the moment of the inputs, in frames of theirs, that is heard at a moment of the output
   */
  run(
    inputs: readonly Float32Array[],
    outputs: readonly Float32Array[],
    span: OutputSpan,
    inputAt: (output: Frames) => Frames,
    progress?: Progress,
  ): void {
    const half = this.size / 2;
    this.frames.reset();
    let count = 0;
    for (let at = Math.floor((span.from - half) / this.hop) * this.hop; at <= span.to + half; at += this.hop) {
      if (count++ % reportEvery === 0) report(progress, Math.max(0, Math.min(1, (at - span.from) / (span.to - span.from))));
      this.frames.next(inputs, Math.round(inputAt(at)), this.hop);
      for (let c = 0; c < outputs.length; c += 2) {
        const heard = this.frames.samplesOf(c / 2);
        addAt(outputs[c]!, heard.subarray(0, this.size), at - half - span.origin);
        if (c + 1 < outputs.length) addAt(outputs[c + 1]!, heard.subarray(this.size), at - half - span.origin);
      }
    }
  }
}

/** Adds samples where they lie within the output. */
function addAt(output: Float32Array, samples: Float32Array, at: Frames): void {
  const from = Math.max(0, -at);
  const to = Math.min(samples.length, output.length - at);
  for (let i = from; i < to; i++) output[at + i]! += samples[i]!;
}
