import { DelayTap } from '../../dsp/delay-tap';
import { Glide } from '../../dsp/glide';
import { OnePole } from '../../dsp/filters/simple-filters';
import { choice, hertz, seconds, semitones } from '../../project/parameters';
import { semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';

const lowest = 20;
const glideFrames = 1_024;
/** Intervals of every chord above its root, in semitones. */
const chords: Readonly<Record<string, readonly number[]>> = {
  single: [0],
  octaves: [0, 12],
  fifths: [0, 7, 12],
  minor: [0, 3, 7, 12],
  major: [0, 4, 7, 12],
  cluster: [0, 1, 2, 3],
};
const mostVoices = 4;

/** Tuned comb filters (Karplus & Strong 1983, Jaffe & Smith 1983): feedback loops one period long that ring for `decay`. */
export const resonator = defineEffect({
  id: 'resonator',
  label: 'Resonator',
  family: 'EQ and filters',
  channels: 'each',
  purpose: 'Makes noise and knocks ring at notes, as tubes, wires and hulls do.',
  parameters: {
    root: hertz({ label: 'Root', min: lowest, max: 2_000, default: 110 }),
    tune: semitones({ label: 'Tune', min: -24, max: 24, default: 0 }),
    chord: choice('Chord', Object.keys(chords), 'fifths'),
    decay: seconds({ label: 'Decay', min: 0.02, max: 10, default: 1.2 }),
    damping: hertz({ label: 'Damping', min: 200, max: 20_000, default: 6_000 }),
  },
  presets: [
    { name: 'Hollow mast', values: { root: 82, chord: 'octaves', decay: 1.6, damping: 2_500 } },
    { name: 'Taut wire', values: { root: 196, chord: 'fifths', decay: 4, damping: 12_000 } },
    { name: 'Uneasy hull', values: { root: 55, chord: 'cluster', decay: 2.5, damping: 1_500 } },
  ],
  latency: () => 0,
  // Below its damping a loop is longer than its period by what the damper holds back, and so is the decay of what it keeps of low sounds.
  tail: ({ decay, root, tune, chord, damping }, sampleRate) => {
    const highest = root * semitonesToRatio(tune + Math.max(...(chords[chord] ?? chords['single']!)));
    return Math.ceil(decay * (1 + highest / (2 * Math.PI * damping)) * sampleRate);
  },
  create: ({ sampleRate, channels }) => {
    const longest = Math.ceil((sampleRate / lowest) * 4.2);
    const voices = Array.from({ length: channels }, () =>
      Array.from({ length: mostVoices }, () => ({ line: new DelayTap(longest), damper: new OnePole() })),
    );
    const periods = Array.from({ length: mostVoices }, () => new Glide(glideFrames));
    const now = new Float64Array(mostVoices);
    const feedbackGlides = Array.from({ length: mostVoices }, () => new Glide(glideFrames));
    const feedbacks = new Float64Array(mostVoices);
    return {
      reset: () => {
        for (const glide of [...periods, ...feedbackGlides]) glide.reset();
        for (const perChannel of voices)
          for (const { line, damper } of perChannel) {
            line.reset();
            damper.reset();
          }
      },
      process(block, { root, tune, chord, decay, damping }) {
        const intervals = chords[chord] ?? chords['single']!;
        const level = 1 / Math.sqrt(intervals.length);
        for (let v = 0; v < intervals.length; v++) {
          const period = sampleRate / (root * semitonesToRatio(tune + intervals[v]!));
          periods[v]!.aim(Math.min(longest - 4, period));
          feedbackGlides[v]!.aim(Math.pow(10, (-3 * period) / (sampleRate * decay)));
          for (let c = 0; c < channels; c++) voices[c]![v]!.damper.tune(damping, sampleRate);
        }
        for (let i = 0; i < block.frames; i++) {
          for (let v = 0; v < intervals.length; v++) {
            now[v] = periods[v]!.next();
            feedbacks[v] = feedbackGlides[v]!.next();
          }
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const input = samples[i]!;
            let sum = 0;
            for (let v = 0; v < intervals.length; v++) {
              const { line, damper } = voices[c]![v]!;
              // What is read before the write lies one frame further back.
              const rung = damper.low(line.read(now[v]! - 1)) * feedbacks[v]!;
              const wave = input * (1 - feedbacks[v]! * 0.9) + rung;
              line.write(Math.abs(wave) < 1e-20 ? 0 : wave);
              sum += wave;
            }
            samples[i] = sum * level;
          }
        }
      },
    };
  },
});
