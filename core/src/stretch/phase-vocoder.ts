import { copyPadded } from '../audio/audio';
import { hannWindow } from '../dsp/fft';
import type { PairTransform } from '../dsp/pair-transform';
import { pairTransform } from '../dsp/pair-transform';
import type { Random } from '../dsp/random';
import { createRandom, seedOf } from '../dsp/random';
import type { Frames, Unit } from '../units';
import type { TimeMap } from './time-map';
import type { PairSpectra } from './turned-spectra';
import { TurnedSpectra } from './turned-spectra';

const overlap = 4;
/** By how many powers worn frames are narrower. */
const mostNarrow = 5;
/** Cosine of the angle by which the advance of a partial's phase may change from one hop to the next. */
const leastAgreement = 0.995;
/** Products of magnitudes below this have no phase worth the name. */
const silent = 1e-20;
/** Sums of four frames in step over sums of as many without relation: 1.5 to √(1.5 · 0.375). */
const scatteredGain = 2;

export interface VocoderOptions {
  /** Damage that is wanted: bins go their own way (metal), and frames are heard one by one (grain). */
  readonly wear?: Unit;
  /** Whether what is no partial goes on as it was or is given new phases in every frame, so that it stays noise however long it lasts. */
  readonly noise?: 'kept' | 'scattered';
}

/** What is put out: which frames, and where place 0 of the arrays lies among them. */
export interface OutputSpan {
  readonly from: Frames;
  readonly to: Frames;
  readonly origin: Frames;
}

/**
 * A phase vocoder that reads where it likes: every frame takes the spectrum around a moment of the input, and a second one a hop earlier, which
 * tells by how much the phases move on within a hop, whatever the frame before was read at. Each peak goes on where the output's last frame left
 * it, and the bins around it turn with it (identity phase locking; Laroche & Dolson 1999), by the same angle in all channels, so that
 * what lies between channels stays as it is. Where the input is read at its own pace, the output is the input.
 */
export class PhaseVocoder {
  private readonly hop: Frames;
  private readonly transform: PairTransform;
  private readonly spectra: TurnedSpectra;
  private readonly pairs: PairSpectra[];
  private readonly loose: Unit;
  private readonly random: Random | undefined;
  /** Whether noise is given new phases at the moment: not where the input passes at its own pace, and is copied. */
  private scatters = false;

  /** @param size samples of a frame, a power of two of at least 64 */
  constructor(
    readonly size: Frames,
    channelCount: number,
    { wear = 0, noise = 'kept' }: VocoderOptions = {},
  ) {
    this.hop = size / overlap;
    this.loose = wear;
    this.random = noise === 'scattered' ? createRandom(seedOf('scattered', size)) : undefined;
    const window = hannWindow(size);
    // Narrower frames no longer add up evenly: they are heard one by one, as loud as before.
    const narrow = window.map((weight) => Math.pow(weight, 1 + mostNarrow * wear));
    const sum = narrow.reduce((total, weight, i) => total + weight * window[i]!, 0) / this.hop;
    const synthesis = narrow.map((weight) => weight / sum);
    this.transform = pairTransform(size, window);
    this.spectra = new TurnedSpectra(this.transform, synthesis);
    const room = (): number => this.transform.allocate();
    this.pairs = Array.from({ length: Math.ceil(channelCount / 2) }, () => ({
      now: room(),
      earlier: room(),
      last: room(),
      before: this.random ? room() : 0,
    }));
  }

  /** The frames of the output that are asked for; beyond the ends of the input lies silence. */
  stretch(channels: readonly Float32Array[], map: TimeMap, { from, to }: { readonly from: Frames; readonly to: Frames }): Float32Array[] {
    const reach = 2 * this.size;
    const length = channels[0]?.length ?? 0;
    // Frames that last long are full from the beginning to the end, where there is as much.
    const keeps = this.random !== undefined && length >= 1.5 * this.size;
    const inside = (place: Frames): Frames => (keeps ? Math.max(this.size, Math.min(length - this.size / 2, place)) : place);
    const first = Math.floor(inside(map.inputAt(from - this.size))) - reach;
    const last = Math.ceil(inside(map.inputAt(to + this.size))) + reach;
    const inputs = channels.map((channel) => {
      const input = new Float32Array(last - first);
      copyPadded(channel, first, input);
      return input;
    });
    const outputs = channels.map(() => new Float32Array(to - from));
    this.run(inputs, outputs, { from, to, origin: from }, (output) => inside(map.inputAt(output)) - first);
    return outputs;
  }

  /**
   * Adds what is put out to `outputs`. What lies within half a frame of the ends of the span is whole, too.
   * @param inputs must hold a frame and two hops around every moment that is read
   * @param inputAt the moment of the inputs, in frames of theirs, that is heard at a moment of the output
   */
  run(inputs: readonly Float32Array[], outputs: readonly Float32Array[], span: OutputSpan, inputAt: (output: Frames) => Frames): void {
    const half = this.size / 2;
    let read = NaN;
    for (let at = Math.floor((span.from - half) / this.hop) * this.hop; at <= span.to + half; at += this.hop) {
      const place = Math.round(inputAt(at));
      const begins = Number.isNaN(read);
      const ownPace = place - read === this.hop;
      this.scatters = this.random !== undefined && !ownPace;
      for (let p = 0; p < this.pairs.length; p++) {
        const pair = this.pairs[p]!;
        const left = inputs[2 * p]!;
        const right = inputs[2 * p + 1];
        // Read at its own pace, what lies a hop before is the frame before.
        if (ownPace) [pair.now, pair.earlier] = [pair.earlier, pair.now];
        else if (!begins) this.transform.forward(left, right, place - this.hop - half, pair.earlier);
        this.transform.forward(left, right, place - half, pair.now);
        if (this.scatters) this.transform.forward(left, right, place - 2 * this.hop - half, pair.before);
      }
      if (begins) {
        this.spectra.turnRe.fill(1);
        this.spectra.turnIm.fill(0);
      } else this.findTurns();
      read = place;
      for (let p = 0; p < this.pairs.length; p++) {
        const heard = this.spectra.turn(this.pairs[p]!);
        addAt(outputs[2 * p]!, heard.subarray(0, this.size), at - half - span.origin);
        if (2 * p + 1 < outputs.length) addAt(outputs[2 * p + 1]!, heard.subarray(this.size), at - half - span.origin);
      }
    }
  }

  /** By how much each bin must turn to go on where the last output was, all channels alike. */
  private findTurns(): void {
    const { spectra } = this;
    const { power, turnRe, turnIm } = spectra;
    power.fill(0);
    turnRe.fill(0);
    turnIm.fill(0);
    for (let p = 0; p < this.pairs.length; p++) spectra.addTurns(this.pairs[p]!);
    this.lockToPeaks(power, turnRe, turnIm);
    // At both ends of the spectrum the channels are the parts of one number: a turn would mix them.
    for (const k of [0, spectra.bins - 1]) {
      turnRe[k] = Math.hypot(turnRe[k]!, turnIm[k]!);
      turnIm[k] = 0;
    }
  }

  /** Gives every bin the turn of the peak that it belongs to; peaks part at the lowest bin between them. */
  private lockToPeaks(power: Float32Array, turnRe: Float32Array, turnIm: Float32Array): void {
    const bins = power.length;
    let start = 0;
    let peak = -1;
    let lowest = 0;
    let least = Infinity;
    // The powers of the two bins before.
    let second = -1;
    let first = -1;
    for (let k = 0; k < bins; k++) {
      const here = power[k]!;
      if (here > first && here > second && here > 0 && !rises(power, k, here)) {
        if (peak >= 0) {
          this.lock(start, lowest, peak, power, turnRe, turnIm);
          start = lowest;
        }
        peak = k;
        lowest = k + 1;
        least = Infinity;
      } else if (here < least) {
        least = here;
        lowest = k;
      }
      second = first;
      first = here;
    }
    this.lock(start, bins, Math.max(0, peak), power, turnRe, turnIm);
  }

  private lock(from: number, to: number, peak: number, power: Float32Array, turnRe: Float32Array, turnIm: Float32Array): void {
    const { loose } = this;
    if (this.random && this.scatters && !this.isPartial(peak)) {
      scatter(from, to, this.random, power, turnRe, turnIm);
      return;
    }
    const first = peak > 0 ? peak - 1 : 0;
    const last = peak < turnRe.length - 1 ? peak + 1 : peak;
    let re = 0;
    let im = 0;
    for (let k = first; k <= last; k++) {
      re += turnRe[k]!;
      im += turnIm[k]!;
    }
    const length = Math.sqrt(re * re + im * im);
    // Out of silence the phases are those of the input.
    re = length > silent ? re / length : 1;
    im = length > silent ? im / length : 0;
    for (let k = from; k < to; k++) {
      // A peak itself stays together, or it would cancel.
      if (loose > 0 && (k < first || k > last)) loosen(k, loose, re, im, turnRe, turnIm);
      else {
        turnRe[k] = re;
        turnIm[k] = im;
      }
    }
  }

  /** True where a peak's phase moves on evenly: over two hops by twice as much as over one. */
  private isPartial(peak: number): boolean {
    const memory = this.transform.memory();
    const { places } = this.transform;
    let agreement = 0;
    let whole = 0;
    for (const { now, earlier, before } of this.pairs)
      for (let k = Math.max(1, peak - 1); k <= Math.min(this.spectra.bins - 2, peak + 1); k++)
        for (let side = 0; side < 2; side++) {
          const place = places[side === 0 ? k : this.size - k]!;
          const re = memory[now + place]!;
          const im = memory[now + place + 4]!;
          const u = memory[earlier + place]!;
          const v = memory[earlier + place + 4]!;
          const x = memory[before + place]!;
          const y = memory[before + place + 4]!;
          // now · before · conj(earlier)², whose angle is the change of the advance.
          const productRe = re * x - im * y;
          const productIm = re * y + im * x;
          const squareRe = u * u - v * v;
          const squareIm = 2 * u * v;
          agreement += productRe * squareRe + productIm * squareIm;
          whole += Math.sqrt((productRe * productRe + productIm * productIm) * (squareRe * squareRe + squareIm * squareIm));
        }
    return whole > 0 && agreement > leastAgreement * whole;
  }
}

/** True where one of the two bins behind is stronger. */
function rises(power: Float32Array, k: number, here: number): boolean {
  return (k + 1 < power.length && power[k + 1]! > here) || (k + 2 < power.length && power[k + 2]! > here);
}

/** Turns a bin partly with its peak, and partly by itself. */
function loosen(k: number, loose: Unit, re: number, im: number, turnRe: Float32Array, turnIm: Float32Array): void {
  const own = Math.hypot(turnRe[k]!, turnIm[k]!);
  const mixedRe = (1 - loose) * re + loose * (turnRe[k]! / own);
  const mixedIm = (1 - loose) * im + loose * (turnIm[k]! / own);
  const length = Math.hypot(mixedRe, mixedIm);
  // Out of silence a bin goes with its peak.
  turnRe[k] = own > silent && length > silent ? mixedRe / length : re;
  turnIm[k] = own > silent && length > silent ? mixedIm / length : im;
}

/**
 * Gives every bin a phase and a level of its own, as bins of noise have that is as loud as these are together: so noise does not stand still, however slowly it
 * is read. Frames without relation add up by their power, which is less than their sum.
 */
function scatter(from: number, to: number, random: Random, power: Float32Array, turnRe: Float32Array, turnIm: Float32Array): void {
  const { re, im } = noiseBins();
  let mean = 0;
  for (let k = from; k < to; k++) mean += power[k]! / (to - from);
  let draw = Math.floor(random.next() * drawn);
  for (let k = from; k < to; k++) {
    const level = scatteredGain * Math.sqrt(mean / Math.max(power[k]!, 1e-12 * mean, 1e-30));
    turnRe[k] = level * re[draw]!;
    turnIm[k] = level * im[draw]!;
    draw = (draw + 1) & (drawn - 1);
  }
}

/** How many bins of noise are drawn once, to be taken from anywhere. */
const drawn = 16_384;
let noise: { readonly re: Float32Array; readonly im: Float32Array } | undefined;

/** Bins of noise of mean power 1: their phases are even, their powers are spread exponentially. */
function noiseBins(): NonNullable<typeof noise> {
  if (noise) return noise;
  const random = createRandom(seedOf('bins of noise'));
  const [re, im] = [new Float32Array(drawn), new Float32Array(drawn)];
  for (let i = 0; i < drawn; i++) {
    const angle = 2 * Math.PI * random.next();
    const level = Math.sqrt(-Math.log(1 - random.next()));
    re[i] = level * Math.cos(angle);
    im[i] = level * Math.sin(angle);
  }
  return (noise = { re, im });
}

/** Adds samples where they lie within the output. */
function addAt(output: Float32Array, samples: Float32Array, at: Frames): void {
  const from = Math.max(0, -at);
  const to = Math.min(samples.length, output.length - at);
  for (let i = from; i < to; i++) output[at + i]! += samples[i]!;
}
