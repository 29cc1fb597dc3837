import { RealFft } from '../../dsp/fft';

/** Samples of one period: eight for the highest harmonic, so that a cubic between them is off by less than -90 dB. */
const size = 4_096;
/** The highest harmonic that is kept. */
export const mostHarmonics = size / 8;
/** Levels have fewer and fewer harmonics, by half an octave each. */
const levelsPerOctave = 2;
export const lastLevel = levelsPerOctave * Math.log2(mostHarmonics);
/** Samples in front of the period and behind it, that the cubic reads: rounding makes a whole period of a place a hair below 0. */
const margin = 1;
const behind = 3;

const fft = new RealFft(size);
const re = new Float64Array(fft.bins);
const im = new Float64Array(fft.bins);

/** The level whose harmonics all lie below half the sampling rate, for a number of periods per frame. */
export function levelFor(increment: number): number {
  const harmonics = 0.5 / Math.max(1e-9, increment);
  if (harmonics >= mostHarmonics) return 0;
  return Math.min(lastLevel, Math.ceil(levelsPerOctave * Math.log2(mostHarmonics / harmonics)));
}

/** One period of a wave, band-limited for whatever pitch it is played at. Levels are made when they are first asked for. */
export class WaveTable {
  private readonly levels: (Float64Array | undefined)[] = [];

  /** @param cosines @param sines amplitudes of the harmonics from the first on */
  constructor(
    private readonly cosines: Float64Array,
    private readonly sines: Float64Array,
  ) {}

  /** The period at a level, with samples around it for `readTable`. */
  level(level: number): Float64Array {
    return (this.levels[level] ??= this.make(level));
  }

  private make(level: number): Float64Array {
    // A hair more, so that whole octaves keep all of theirs.
    const harmonics = Math.min(this.cosines.length, Math.floor(mostHarmonics * Math.pow(2, -level / levelsPerOctave) + 1e-6));
    re.fill(0);
    im.fill(0);
    for (let h = 1; h <= harmonics; h++) {
      re[h] = (this.cosines[h - 1]! * size) / 2;
      im[h] = (-this.sines[h - 1]! * size) / 2;
    }
    const samples = new Float64Array(margin + size + behind);
    fft.inverse(re, im, samples.subarray(margin, margin + size));
    samples[0] = samples[size]!;
    for (let i = 1; i <= behind; i++) samples[size + i] = samples[i]!;
    return samples;
  }
}

/** What a period has at a place from 0 to 1, by a cubic through four of its samples (Catmull & Rom 1974). */
export function readTable(samples: Float64Array, place: number): number {
  const at = place * size;
  const i = at | 0;
  const x = at - i;
  const a = samples[i]!;
  const b = samples[i + 1]!;
  const c = samples[i + 2]!;
  const d = samples[i + 3]!;
  return b + 0.5 * x * (c - a + x * (2 * a - 5 * b + 4 * c - d + x * (3 * (b - c) + d - a)));
}

/** A table of one period that is given by samples at even distances; it is brought to a peak of one, and its mean is taken away. */
export function tableOfPeriod(period: ArrayLike<number>): WaveTable {
  const count = period.length;
  const harmonics = Math.min(mostHarmonics, Math.floor((count - 1) / 2));
  const cosines = new Float64Array(harmonics);
  const sines = new Float64Array(harmonics);
  for (let h = 1; h <= harmonics; h++)
    for (let i = 0; i < count; i++) {
      const turn = (2 * Math.PI * h * i) / count;
      cosines[h - 1]! += (2 / count) * period[i]! * Math.cos(turn);
      sines[h - 1]! += (2 / count) * period[i]! * Math.sin(turn);
    }
  return normalised(cosines, sines);
}

/** A table with the harmonics of some amplitudes, all of them beginning as sines do. */
export function tableOfHarmonics(amplitudes: ArrayLike<number>): WaveTable {
  return normalised(new Float64Array(amplitudes.length), Float64Array.from(amplitudes));
}

/** Brought to a peak of one where all harmonics are there; what has none stays silent. */
export function normalised(cosines: Float64Array, sines: Float64Array): WaveTable {
  const peak = new WaveTable(cosines, sines).level(0).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  const scale = peak > 1e-9 ? 1 / peak : 0;
  return new WaveTable(
    cosines.map((amplitude) => amplitude * scale),
    sines.map((amplitude) => amplitude * scale),
  );
}
