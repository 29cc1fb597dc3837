import type { Block } from '../../dsp/block';
import { createBlock, maxBlock } from '../../dsp/block';
import { glides } from '../../dsp/glide';
import { createRandom, seedOf } from '../../dsp/random';
import { SampleHistory } from '../../dsp/sample-history';
import { splicedLatency, SplicedShifter } from '../../dsp/spliced-shifter';
import { count, decibels, seconds, semitones, share } from '../../project/parameters';
import { StreamedFormants, streamedFormantsLatency } from '../../stretch/streamed-formants';
import type { Frames, Hertz, Ratio, Unit } from '../../units';
import { decibelsToGain, semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 2_048;
const longestDelay = 0.08;
/** Pitch is looked at every so many frames; between them it stays. */
const controlFrames: Frames = 32;
/** How far drift takes a voice at most, in semitones, and how fast it goes. */
const drifting = 0.25;
const slowest: Hertz = 0.08;
const fastest: Hertz = 0.4;
/** Formants are moved so many times: each voice takes what is nearest to its own. */
const shades = [-1, -1 / 3, 1 / 3, 1] as const;

/** Where one voice is between the ends of everything that is spread: from -1 to 1. */
interface Place {
  readonly pitch: number;
  readonly pan: number;
  readonly delay: Unit;
  readonly level: Unit;
  readonly shade: number;
  readonly rates: readonly [Hertz, Hertz];
  readonly phases: readonly [number, number];
}

/** Many at once: voices spread in pitch, time, place, level and formants around the sound, each drifting by itself. */
export const unison = defineEffect({
  id: 'unison',
  label: 'Unison',
  family: 'Pitch',
  channels: 'pairs',
  purpose: 'Makes a crowd of one: up to fifty voices, spread in pitch, formants, time, place and level, that drift.',
  parameters: {
    voices: { ...count({ label: 'Voices', min: 2, max: 50, default: 8 }), builds: true, fixed: true },
    pitch: semitones({ label: 'Pitch spread', min: 0, max: 12, default: 0.15 }),
    drift: share({ label: 'Drift', default: 0.3 }),
    formant: { ...semitones({ label: 'Formant spread', min: 0, max: 12, default: 0 }), builds: true, fixed: true },
    delay: { ...seconds({ label: 'Delay spread', min: 0, max: longestDelay, default: 0.02 }), scale: 'linear' },
    width: share({ label: 'Width', default: 0.8 }),
    level: decibels({ label: 'Level spread', min: 0, max: 24, default: 4 }),
  },
  presets: [
    { name: 'Wide and slow', values: { voices: 12, pitch: 0.1, drift: 0.6, delay: 0.03 } },
    { name: 'A crowd', values: { voices: 24, pitch: 1.5, formant: 4, delay: 0.07, drift: 0.8, level: 9 } },
    { name: 'Swarm', values: { voices: 40, pitch: 6, drift: 1, delay: 0.05, level: 12 } },
    { name: 'Two beside', values: { voices: 2, pitch: 0.08, delay: 0.012, width: 1, level: 0 } },
  ],
  latency: latencyOf,
  tail: (values, sampleRate) => latencyOf(values, sampleRate) + Math.ceil((longestDelay + 0.03) * sampleRate) + 2 * streamedFormantsLatency,
  create: ({ sampleRate, channels, values }) => {
    const keep = SplicedShifter.keep(sampleRate) + Math.ceil(longestDelay * sampleRate) + maxBlock;
    const moved = values.formant > 0 ? shades : [0];
    const sources = moved.map((shade) => shadedSource(channels, sampleRate, keep, shade * values.formant));
    const places = placesOf(values.voices);
    const voices = places.map(({ shade, delay }) => {
      const source = sources[Math.min(sources.length - 1, shade)]!;
      return new SplicedShifter(source.history, sampleRate, { begins: 0.3 + 0.4 * delay, fastest: 1 });
    });
    const now = glides(glideFrames, 'pitch', 'drift', 'delay', 'width', 'level');
    const ratios = new Float64Array(voices.length).fill(1);
    /** Of each voice on both sides: the gain at the last look, and by how much it moves with every frame. */
    const gains = voices.map(() => new Float64Array(2));
    const slopes = voices.map(() => new Float64Array(2));
    const heard = Array.from({ length: channels }, () => new Float32Array(controlFrames));
    let frame = 0;

    /** Where every voice goes until the next look. */
    const look = (): void => {
      const { pitch, drift, delay, width, level } = now;
      const power = places.reduce((sum, place) => sum + decibelsToGain(-2 * place.level * level.current), 0);
      places.forEach((place, v) => {
        ratios[v] = semitonesToRatio(place.pitch * pitch.current + drift.current * drifting * driftAt(place, frame / sampleRate));
        voices[v]!.delayTo(place.delay * delay.current * sampleRate, controlFrames);
        const own = decibelsToGain(-place.level * level.current) / Math.sqrt(power);
        // A single channel hears all voices as loud as a pair hears them together.
        const sides = channels === 1 ? [1, 1] : pan(place.pan * width.current);
        sides.forEach((side, n) => {
          if (frame > 0) gains[v]![n]! += slopes[v]![n]! * controlFrames;
          else gains[v]![n] = own * side;
          slopes[v]![n] = (own * side - gains[v]![n]!) / controlFrames;
        });
      });
    };

    return {
      reset: () => {
        for (const part of [...sources, ...voices, ...Object.values(now)]) part.reset();
        frame = 0;
      },
      process(block, { pitch, drift, delay, width, level }) {
        now.pitch.aim(pitch);
        now.drift.aim(drift);
        now.delay.aim(delay);
        now.width.aim(width);
        now.level.aim(level);
        for (const source of sources) source.write(block);
        for (const samples of block.channels) samples.fill(0, 0, block.frames);
        for (let i = 0; i < block.frames;) {
          const into = frame % controlFrames;
          if (into === 0) {
            for (const glide of Object.values(now)) for (let n = 0; n < controlFrames; n++) glide.next();
            look();
          }
          const count = Math.min(controlFrames - into, block.frames - i);
          for (let v = 0; v < voices.length; v++) {
            voices[v]!.read(ratios[v]!, count, heard);
            for (let c = 0; c < channels; c++) {
              const gain = gains[v]![c % 2]!;
              const slope = slopes[v]![c % 2]!;
              const samples = heard[c]!;
              const sum = block.channels[c]!;
              for (let n = 0; n < count; n++) sum[i + n]! += samples[n]! * (gain + slope * (into + n));
            }
          }
          i += count;
          frame += count;
        }
      },
    };
  },
});

function latencyOf({ formant }: { readonly formant: number }, sampleRate: Hertz): Frames {
  return splicedLatency(sampleRate) + (formant > 0 ? streamedFormantsLatency : 0);
}

/** The input with its formants moved, kept for voices to read. */
function shadedSource(
  channels: number,
  sampleRate: Hertz,
  keep: Frames,
  formant: number,
): { readonly history: SampleHistory; write(block: Block): void; reset(): void } {
  const history = new SampleHistory(channels, keep);
  if (formant === 0) return { history, write: (block) => history.write(block.channels, block.frames), reset: () => history.reset() };
  const mover = new StreamedFormants(channels, sampleRate);
  const own = createBlock(channels);
  const ratios = new Float64Array(maxBlock).fill(semitonesToRatio(formant));
  return {
    history,
    write: (block) => {
      own.frames = block.frames;
      own.channels.forEach((samples, c) => samples.set(block.channels[c]!.subarray(0, block.frames)));
      mover.process(own, ratios);
      history.write(own.channels, block.frames);
    },
    reset: () => {
      history.reset();
      mover.reset();
    },
  };
}

/** The same voices whenever there are so many: spread evenly in pitch, and by chance in everything else. */
function placesOf(voices: number): Place[] {
  const random = createRandom(seedOf('unison', voices));
  return Array.from({ length: voices }, (_, v) => {
    const across = (2 * v) / (voices - 1) - 1;
    const between = (from: number, to: number): number => from + (to - from) * random.next();
    return {
      // Off the even grid a little, or the voices would beat all at one rate.
      pitch: Math.max(-1, Math.min(1, across + between(-0.3, 0.3) / voices)),
      // Every second one on the other side, so that no side is the higher one.
      pan: (v % 2 === 0 ? 1 : -1) * between(0.3, 1),
      delay: random.next(),
      level: random.next(),
      shade: Math.floor(random.next() * shades.length),
      rates: [between(slowest, fastest), between(slowest, fastest)] as const,
      phases: [random.next(), random.next()] as const,
    };
  });
}

/** Two swings that never meet again: from -1 to 1. */
function driftAt({ rates, phases }: Place, time: number): number {
  const swing = (n: 0 | 1): number => Math.sin(2 * Math.PI * (rates[n] * time + phases[n]));
  return 0.6 * swing(0) + 0.4 * swing(1);
}

/** Gains of left and right: of equal power, 1 in the middle. */
function pan(place: number): readonly [Ratio, Ratio] {
  const angle = ((1 + place) * Math.PI) / 4;
  return [Math.SQRT2 * Math.cos(angle), Math.SQRT2 * Math.sin(angle)];
}
