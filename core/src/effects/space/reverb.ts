import { DelayTap } from '../../dsp/delay-tap';
import { Glide, glides } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { lineLoss, ReverbLine } from '../../dsp/reverb-lines';
import type { ParameterValues } from '../../project/parameters';
import { hertz, noteLength, seconds, share, toggle } from '../../project/parameters';
import { defineEffect } from '../effect';

const lineCount = 16;
const glideFrames = 512;
const preDelayGlide = 24_000;
const longestPreDelay = 0.5;
/** Lengths of the lines at full size, in seconds: prime numbers of frames at 48 kHz, so that their echoes do not fall together. */
const lengths = [1_009, 1_153, 1_289, 1_429, 1_597, 1_741, 1_889, 2_053, 2_213, 2_381, 2_549, 2_731, 2_909, 3_109, 3_313, 3_539].map(
  (frames) => frames / 48_000,
);
/** Times and gains of the early reflections at full size, for both sides. */
const early = [
  { time: 0.0043, left: 0.84, right: 0.5 },
  { time: 0.0115, left: 0.3, right: 0.72 },
  { time: 0.0179, left: 0.6, right: 0.35 },
  { time: 0.0259, left: 0.24, right: 0.52 },
  { time: 0.0371, left: 0.41, right: 0.22 },
  { time: 0.0487, left: 0.17, right: 0.37 },
];
/** Swing of the modulated lines at full depth, in seconds. */
const deepest = 0.0006;

/**
 * Feedback delay network of 16 lines with a Hadamard matrix (Jot & Chaigne 1991; Schlecht & Habets 2017): the decay of low, middle and
 * high is exact within a few percent at 125 Hz, 1 kHz and 6.3 kHz. Early reflections, size, modulation and freeze; wet only, the
 * step's mix blends in the dry sound.
 */
export const reverb = defineEffect({
  id: 'reverb',
  label: 'Reverb',
  family: 'Time and space',
  purpose: 'Puts the sound into a room, a hall, a cave; only the room comes out, Mix blends in the sound itself.',
  parameters: {
    decay: seconds({ label: 'Decay', min: 0.1, max: 30, default: 1.8 }),
    low: { ...share({ label: 'Low decay', min: 0.2, max: 2, default: 1.1 }), scale: 'log' },
    high: { ...share({ label: 'High decay', min: 0.05, max: 1.5, default: 0.5 }), scale: 'log' },
    size: { ...share({ label: 'Size', min: 0.1, max: 2, default: 0.8 }), scale: 'log', fixed: true },
    preDelay: { ...seconds({ label: 'Pre-delay', min: 0, max: longestPreDelay, default: 0.012 }), scale: 'linear', counted: 'note' },
    note: noteLength('Pre-delay in'),
    early: share({ label: 'Early', default: 0.5 }),
    late: share({ label: 'Late', default: 0.7 }),
    modulation: share({ label: 'Modulation', default: 0.2 }),
    rate: hertz({ label: 'Rate', min: 0.05, max: 5, default: 0.6 }),
    width: share({ label: 'Width', default: 1 }),
    freeze: toggle('Freeze', false),
  },
  presets: [
    { name: 'Station corridor', values: { decay: 0.7, size: 0.35, preDelay: 0.004, early: 0.8, high: 0.7 } },
    { name: 'Ice cavern', values: { decay: 4.5, size: 1.6, preDelay: 0.035, high: 0.35, low: 1.4 } },
    { name: 'Tight room', values: { decay: 0.3, size: 0.2, early: 1, late: 0.4, high: 0.6 } },
    { name: 'Endless white', values: { decay: 14, size: 2, modulation: 0.7, early: 0, high: 0.8 } },
  ],
  latency: () => 0,
  tail: ({ decay, low, high, preDelay, freeze }, sampleRate) =>
    Math.ceil((preDelay + (freeze ? 30 : decay * Math.max(1, low, high)) + 0.2) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const lines = lengths.map((length) => new ReverbLine(Math.ceil((length * 2 + deepest) * sampleRate) + 8, sampleRate));
    const input = new DelayTap(Math.ceil((longestPreDelay + 0.12) * sampleRate));
    const outputs = new Float64Array(lineCount);
    const delays = new Float64Array(lineCount);
    const phase = new Phase();
    const now = glides(glideFrames, 'early', 'late', 'modulation', 'width', 'input');
    // A pre-delay that jumped would be heard as a chirp.
    const preNow = new Glide(preDelayGlide);
    let designed = '';
    let last: ParameterValues | undefined;
    const design = (decay: number, low: number, high: number, size: number, freeze: boolean): void => {
      const wanted = `${decay} ${low} ${high} ${size} ${freeze}`;
      if (wanted === designed) return;
      designed = wanted;
      lines.forEach((line, n) => {
        delays[n] = Math.max(16, Math.round(lengths[n]! * size * sampleRate));
        line.aim(freeze ? { gain: 1, lowShelf: 1, highShelf: 1 } : lineLoss(delays[n]!, [decay * low, decay, decay * high], sampleRate));
      });
    };
    return {
      reset: () => {
        designed = '';
        last = undefined;
        for (const part of [...lines, input, phase, preNow, ...Object.values(now)]) part.reset();
      },
      process(block, values) {
        const { decay, low, high, size, rate, freeze } = values;
        if (values !== last) {
          last = values;
          design(decay, low, high, size, freeze);
        }
        preNow.aim(values.preDelay * sampleRate);
        now.early.aim(values.early);
        // About even loudness whatever the decay: the sum of all echoes grows with it.
        now.late.aim(values.late * Math.sqrt(1 / (1 + 0.6 * decay)) * 0.9);
        now.modulation.aim(freeze ? 0 : values.modulation * deepest * sampleRate);
        now.width.aim(values.width);
        now.input.aim(freeze ? 0 : 1);
        for (let i = 0; i < block.frames; i++) {
          let sum = 0;
          for (let c = 0; c < channels; c++) sum += block.channels[c]![i]!;
          input.write((sum / channels) * now.input.next());
          const pre = preNow.next() + 1;
          const place = phase.next(rate, sampleRate);
          const swing = now.modulation.next();
          const direct = input.read(pre);
          for (let n = 0; n < lineCount; n++) {
            const delay =
              swing > 0 && n % 4 === 0 ? delays[n]! - swing * (1 + Math.sin(2 * Math.PI * (place + n / lineCount))) : delays[n]!;
            outputs[n] = lines[n]!.read(delay);
          }
          let left = 0;
          let right = 0;
          for (let n = 0; n < lineCount; n++) {
            if (n % 2) right += n % 4 === 1 ? outputs[n]! : -outputs[n]!;
            else left += n % 4 === 0 ? outputs[n]! : -outputs[n]!;
          }
          hadamard(outputs);
          for (let n = 0; n < lineCount; n++) lines[n]!.write(outputs[n]! + (n % 2 ? -direct : direct) * 0.25);
          let earlyLeft = 0;
          let earlyRight = 0;
          for (let r = 0; r < early.length; r++) {
            const reflection = early[r]!;
            const heard = input.read(pre + reflection.time * size * sampleRate);
            earlyLeft += heard * reflection.left;
            earlyRight += heard * reflection.right;
          }
          const earlyLevel = now.early.next();
          const lateLevel = now.late.next();
          const wide = now.width.next();
          const leftOut = earlyLeft * earlyLevel + left * lateLevel;
          const rightOut = earlyRight * earlyLevel + right * lateLevel;
          const middle = (leftOut + rightOut) / 2;
          const side = ((leftOut - rightOut) / 2) * wide;
          for (let c = 0; c < channels; c++) block.channels[c]![i] = channels === 1 ? middle : c % 2 ? middle - side : middle + side;
        }
      },
    };
  },
});

/** Fast Walsh–Hadamard transform, scaled so that it keeps energy. */
function hadamard(values: Float64Array): void {
  for (let span = 1; span < lineCount; span *= 2) {
    for (let from = 0; from < lineCount; from += 2 * span) {
      for (let n = from; n < from + span; n++) {
        const a = values[n]!;
        const b = values[n + span]!;
        values[n] = a + b;
        values[n + span] = a - b;
      }
    }
  }
  for (let n = 0; n < lineCount; n++) values[n]! *= 0.25;
}
