import { maxBlock } from '../../dsp/block';
import { Glide } from '../../dsp/glide';
import { Phase, shapeAt } from '../../dsp/oscillator';
import { Oversampler } from '../../dsp/oversampler';
import type { Shaper } from '../../dsp/shaper';
import { choice, hertz, share } from '../../project/parameters';
import type { Frames, Unit } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;
const { factor, raisedLag } = Oversampler;

/** Multiplies raised samples by a tone that all channels share. Like every shaper, it comes a raised sample late. */
class Multiplier implements Shaper {
  private last = 0;
  private at = 0;

  constructor(private readonly tone: Float64Array) {}

  reset(): void {
    this.last = 0;
  }

  /** The next raised sample meets the first value of the tone. */
  begin(): void {
    this.at = 0;
  }

  shape(samples: Float32Array, from: number, count: number): void {
    const { tone, at } = this;
    let { last } = this;
    for (let i = 0; i < count; i++) {
      const sample = samples[from + i]!;
      samples[from + i] = last * tone[at + i]!;
      last = sample;
    }
    this.last = last;
    this.at = at + count;
  }
}

/** Writes the tone of one frame, from a place of its period on; `depth` is how far it goes down from 1. */
type WriteTone = (tone: Float64Array, at: number, place: Unit, step: Unit, depth: Unit) => void;

const writeSine: WriteTone = (tone, at, place, step, depth) => {
  let sine = Math.sin(2 * Math.PI * place);
  let cosine = Math.cos(2 * Math.PI * place);
  const [turn, stay] = [Math.sin(2 * Math.PI * step), Math.cos(2 * Math.PI * step)];
  for (let n = 0; n < factor; n++) {
    tone[at + n] = 1 - depth + depth * sine;
    const next = sine * stay + cosine * turn;
    cosine = cosine * stay - sine * turn;
    sine = next;
  }
};

const writeTriangle: WriteTone = (tone, at, place, step, depth) => {
  for (let n = 0; n < factor; n++) {
    tone[at + n] = 1 - depth + depth * shapeAt('triangle', place);
    place += step;
    if (place >= 1) place -= 1;
  }
};

const writeSquare: WriteTone = (tone, at, place, step, depth) => {
  for (let n = 0; n < factor; n++) {
    const value = place < 0.5 ? 1 : -1;
    // Places from the nearest edge up, at 0 or 1, and from the one down, at a half.
    const up = (place < 0.5 ? place : place - 1) / step;
    const down = (place - 0.5) / step;
    tone[at + n] = 1 - depth + depth * (value + 2 * (edge(up) - edge(down)));
    place += step;
    if (place >= 1) place -= 1;
  }
};

/** What a step from 0 to 1 lacks, so many samples behind it, to be one of a cubic spline: its overtones fall by 80 dB before they fold back (Välimäki et al. 2012). */
function edge(behind: number): number {
  const away = Math.abs(behind);
  if (away >= 2) return 0;
  const rest = away < 1 ? 0.5 - away * (2 / 3 - away * away * (1 / 3 - away / 8)) : (2 - away) ** 4 / 24;
  return behind < 0 ? rest : -rest;
}

/**
 * Multiplies the sound by a tone, which replaces every partial by its sum and its difference with the tone. At eight times the rate, so that sums beyond half the rate and the
 * overtones of the tone do not fold back.
 */
export const ringModulator = defineEffect({
  id: 'ring-modulator',
  label: 'Ring modulator',
  family: 'Drive',
  channels: 'each',
  purpose: 'Turns pitched sounds metallic and voices inhuman.',
  parameters: {
    frequency: hertz({ label: 'Frequency', min: 0.1, max: 12_000, default: 180 }),
    shape: choice('Shape', ['sine', 'triangle', 'square'], 'sine'),
    depth: share({ label: 'Depth', default: 1 }),
  },
  presets: [
    { name: 'Robot voice', values: { frequency: 62, shape: 'sine' } },
    { name: 'Struck metal', values: { frequency: 730, shape: 'sine' } },
    { name: 'Alarm', values: { frequency: 9, shape: 'square', depth: 0.9 } },
  ],
  latency: () => Oversampler.latency,
  tail: () => 2 * Oversampler.latency,
  create: ({ sampleRate, channels }) => {
    const phase = new Phase();
    const depthNow = new Glide(glideFrames);
    const pitch = new Glide(glideFrames);
    /** The tone of a block, behind as much of it as the raised sound comes late: both meet as they were. */
    const waiting: Frames = raisedLag + 1;
    const tone = new Float64Array(waiting + factor * maxBlock).fill(1);
    const parts = Array.from({ length: channels }, () => ({ oversampler: new Oversampler(), multiplier: new Multiplier(tone) }));
    return {
      reset: () => {
        for (const part of [phase, depthNow, pitch]) part.reset();
        for (const { oversampler, multiplier } of parts) {
          oversampler.reset();
          multiplier.reset();
        }
        tone.fill(1);
      },
      process(block, { frequency, shape, depth }) {
        depthNow.aim(depth);
        pitch.aim(frequency);
        const write = shape === 'sine' ? writeSine : shape === 'square' ? writeSquare : writeTriangle;
        for (let i = 0; i < block.frames; i++) {
          const hz = pitch.next();
          write(tone, waiting + factor * i, phase.next(hz, sampleRate), hz / (factor * sampleRate), depthNow.next());
        }
        for (let c = 0; c < channels; c++) {
          const { oversampler, multiplier } = parts[c]!;
          multiplier.begin();
          oversampler.process(block.channels[c]!, block.frames, multiplier);
        }
        tone.copyWithin(0, factor * block.frames, factor * block.frames + waiting);
      },
    };
  },
});
