import type { Frames, Hertz } from '../units';
import type { Room } from './conduct-data';

/** Delays of a room of size 1, in seconds: none is a multiple of another. */
const delays = [0.0297, 0.0371, 0.0411, 0.0437, 0.0533, 0.0617, 0.0671, 0.0733];
const lines = delays.length;
/** What comes in is smeared by these first, each side by its own. */
const smears = [
  [0.0031, 0.0083],
  [0.0037, 0.0077],
];
const smear = 0.6;
/** Where the decay of the highs is meant. */
const highs: Hertz = 5_000;
/** No round takes more power than this from the highs: what a quick decay asks for beyond that nobody hears. */
const leastHighs = 1e-4;
/** The level makes up for no more darkness than this: what is deep would boom. */
const leastEnergy = 0.1;
/** Less than this is nothing: numbers that come to no end would take a hundred times as long. */
const nothing = 1e-15;

interface Smear {
  readonly held: Float64Array;
  at: number;
}

/**
 * The room of a bus: a feedback delay network of eight lines with absorbing filters (J.-M. Jot and A. Chaigne, “Digital Delay Networks for Designing
 * Artificial Reverberators”, AES 90th Convention, 1991), its lines mixed by a Hadamard matrix. Noise that goes on is as loud behind it as before it.
 */
export class GameRoom {
  private held: readonly Float64Array[] = [];
  private readonly at = new Int32Array(lines);
  private readonly low = new Float64Array(lines);
  /** Of each line: what its filter lets through, and what it keeps. */
  private readonly through = new Float64Array(lines);
  private readonly keep = new Float64Array(lines);
  private readonly now = new Float64Array(lines);
  private readonly smears: readonly (readonly Smear[])[];
  private level = 0;
  /** For how long nothing but zeros has come in and gone round. */
  private zeros = 0;
  private longest: Frames = 0;
  private size = 0;

  constructor(private readonly sampleRate: Hertz) {
    this.smears = smears.map((side) => side.map((seconds) => ({ held: new Float64Array(Math.round(seconds * sampleRate)), at: 0 })));
  }

  /** Sets it; another size begins with an empty room. */
  set({ decay, high, size }: Room): void {
    const { sampleRate } = this;
    if (size !== this.size) {
      this.size = size;
      this.held = delays.map((seconds) => new Float64Array(Math.max(8, Math.round(seconds * size * sampleRate))));
      this.at.fill(0);
      this.low.fill(0);
      this.longest = 2 * Math.max(...this.held.map(({ length }) => length), ...this.smears.flat().map(({ held }) => held.length));
      this.zeros = this.longest;
    }
    const cosine = Math.cos((2 * Math.PI * Math.min(highs, 0.45 * sampleRate)) / sampleRate);
    let energy = 0;
    this.held.forEach(({ length }, line) => {
      const seconds = length / sampleRate;
      const whole = Math.pow(10, (-3 * seconds) / decay);
      const square = Math.max(leastHighs, Math.pow(10, (-6 * seconds * (1 / Math.min(1, high) - 1)) / decay));
      // One pole whose response at `highs` is that much less than at 0 Hz.
      const [a, b] = [1 - square, 1 - square * cosine];
      const pole = a > 1e-9 ? (b - Math.sqrt(Math.max(0, b * b - a * a))) / a : 0;
      this.keep[line] = pole;
      this.through[line] = whole * (1 - pole);
      energy += Math.max(leastEnergy, (1 - pole) / (1 + pole)) * whole * whole;
    });
    const left = Math.min(0.999999, energy / lines);
    // Each side goes into half of the lines; what comes out of a line was round once more.
    this.level = Math.sqrt((1 - left) / left);
  }

  /** Adds what the room makes of its input to the output; `frames` of all. */
  addTo(inLeft: Float32Array, inRight: Float32Array, left: Float32Array, right: Float32Array, frames: Frames): void {
    const { now, low, held, at, through, keep, level } = this;
    for (let i = 0; i < frames; i++) {
      const [one, two] = [inLeft[i]!, inRight[i]!];
      if (one === 0 && two === 0) {
        if (this.zeros >= this.longest) continue;
      } else this.zeros = 0;
      const l = this.smeared(0, one);
      const r = this.smeared(1, two);
      let loudest = 0;
      for (let n = 0; n < lines; n++) {
        const value = through[n]! * held[n]![at[n]!]! + keep[n]! * low[n]!;
        now[n] = low[n] = Math.abs(value) < nothing ? 0 : value;
      }
      left[i] = left[i]! + level * (now[0]! + now[2]! - now[4]! - now[6]!) * 0.5;
      right[i] = right[i]! + level * (now[1]! - now[3]! + now[5]! - now[7]!) * 0.5;
      mix(now);
      for (let n = 0; n < lines; n++) {
        const value = now[n]! + (n % 2 === 0 ? l : r);
        const kept = Math.abs(value) < nothing ? 0 : value;
        if (kept !== 0) loudest = 1;
        const line = held[n]!;
        const place = at[n]!;
        line[place] = kept;
        at[n] = place + 1 < line.length ? place + 1 : 0;
      }
      if (loudest === 0) this.zeros++;
      else this.zeros = 0;
    }
  }

  /** All-pass filters in a row (M. R. Schroeder, “Natural Sounding Artificial Reverberation”, J. AES 10(3), 1962). */
  private smeared(side: number, sample: number): number {
    let value = sample;
    for (const each of this.smears[side]!) {
      const before = each.held[each.at]!;
      const within = value + smear * before;
      value = before - smear * within;
      each.held[each.at] = Math.abs(within) < nothing ? 0 : within;
      if (++each.at === each.held.length) each.at = 0;
    }
    return value;
  }
}

/** A Hadamard matrix of eight, which keeps the power. */
function mix(values: Float64Array): void {
  for (let step = 1; step < lines; step *= 2)
    for (let n = 0; n < lines; n++) {
      if (n & step) continue;
      const [a, b] = [values[n]!, values[n + step]!];
      values[n] = a + b;
      values[n + step] = a - b;
    }
  for (let n = 0; n < lines; n++) values[n] = values[n]! / Math.sqrt(lines);
}
