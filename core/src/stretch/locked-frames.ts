import { hannWindow } from '../dsp/fft';
import type { PairTransform } from '../dsp/pair-transform';
import { pairTransform } from '../dsp/pair-transform';
import type { Random } from '../dsp/random';
import { createRandom, seedOf } from '../dsp/random';
import type { Frames, Unit } from '../units';
import type { PairSpectra } from '../dsp/turned-spectra';
import { TurnedSpectra } from '../dsp/turned-spectra';

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

/**
 * Frames of a phase vocoder, one after the other. Each takes the spectrum around a moment of the input, and a second one a hop earlier, which
 * tells by how much the phases move on within a hop, whatever the frame before was read at. Each peak goes on where the last frame left
 * it, and the bins around it turn with it (identity phase locking; Laroche & Dolson 1999), by the same angle in all channels, so that
 * what lies between channels stays as it is. Read at its own pace, a frame is the input's.
 */
export class LockedFrames {
  private readonly transform: PairTransform;
  private readonly spectra: TurnedSpectra;
  private readonly pairs: PairSpectra[];
  private readonly loose: Unit;
  private readonly random: Random | undefined;
  /** Whether noise is given new phases at the moment: not where the input passes at its own pace, and is copied. */
  private scatters = false;
  /** Where the last frame was read. */
  private read = NaN;

  /**
   * @param size samples of a frame, a power of two of at least 64
   * @param synthesis the window that frames are put out under, beside the Hann window that they are read under
   */
  constructor(
    readonly size: Frames,
    channelCount: number,
    synthesis: Float64Array,
    { wear = 0, noise = 'kept' }: VocoderOptions = {},
  ) {
    this.loose = wear;
    this.random = noise === 'scattered' ? createRandom(seedOf('scattered', size)) : undefined;
    this.transform = pairTransform(size, hannWindow(size));
    this.spectra = new TurnedSpectra(this.transform, synthesis);
    const room = (): number => this.transform.allocate();
    this.pairs = Array.from({ length: Math.ceil(channelCount / 2) }, () => ({
      now: room(),
      earlier: room(),
      last: room(),
      before: this.random ? room() : 0,
    }));
  }

  /** The next frame is the first. */
  reset(): void {
    this.read = NaN;
  }

  /** True where noise is given new phases. */
  get scattersNoise(): boolean {
    return this.random !== undefined;
  }

  /**
   * Takes the next frame, a hop of the output behind the last one.
   * @param place the middle of the frame in the inputs, which must hold half a frame and two hops around it
   * @param upTo bins from this one on are left out
   */
  next(inputs: readonly Float32Array[], place: Frames, hop: Frames, upTo = this.spectra.bins): void {
    const half = this.size / 2;
    const begins = Number.isNaN(this.read);
    const ownPace = place - this.read === hop;
    this.scatters = this.random !== undefined && !ownPace;
    for (let p = 0; p < this.pairs.length; p++) {
      const pair = this.pairs[p]!;
      const left = inputs[2 * p]!;
      const right = inputs[2 * p + 1];
      // Read at its own pace, what lies a hop before is the frame before.
      if (ownPace) [pair.now, pair.earlier] = [pair.earlier, pair.now];
      else if (!begins) this.transform.forward(left, right, place - hop - half, pair.earlier);
      this.transform.forward(left, right, place - half, pair.now);
      if (this.scatters) this.transform.forward(left, right, place - 2 * hop - half, pair.before);
    }
    if (begins) {
      this.spectra.turnRe.fill(1);
      this.spectra.turnIm.fill(0);
    } else this.findTurns();
    if (upTo < this.spectra.bins) {
      this.spectra.turnRe.fill(0, upTo);
      this.spectra.turnIm.fill(0, upTo);
    }
    this.read = place;
  }

  /** The samples of two channels of the frame, one channel behind the other; to be asked for once. A view, stale with the next one. */
  samplesOf(pair: number): Float32Array {
    return this.spectra.turn(this.pairs[pair]!);
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
