import { DelayTap } from '../../dsp/delay-tap';
import { Glide, glides } from '../../dsp/glide';
import { decayBands, lineLoss, lossLevel } from '../../dsp/filters/line-loss';
import { ReverbNetwork } from '../../dsp/reverb-network';
import { Turn } from '../../dsp/turn';
import type { ParameterValues } from '../../project/parameters';
import type { Frames } from '../../units';
import { hertz, noteLength, seconds, share, toggle } from '../../project/parameters';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';
import { curveAlong, logAxis } from '../effect-picture';
import { pairMeans } from './pair-means';

const glideFrames = 512;
const preDelayGlide = 24_000;
/** A room that grows at once would chirp. */
const sizeGlide = 9_600;
const longestPreDelay = 0.5;
/** The longest decay that is drawn. */
const longestDecay = 60;
/** The line, in seconds at full size, and the rate that it is drawn for. */
const middleLine = 0.045;
const pictureRate = 48_000;
/** Times and gains of the early reflections at full size, for both sides. */
const early = [
  { time: 0.0043, left: 0.84, right: 0.5 },
  { time: 0.0115, left: 0.3, right: 0.72 },
  { time: 0.0179, left: 0.6, right: 0.35 },
  { time: 0.0259, left: 0.24, right: 0.52 },
  { time: 0.0371, left: 0.41, right: 0.22 },
  { time: 0.0487, left: 0.17, right: 0.37 },
];
const leftGains = early.map(({ left }) => left);
const rightGains = early.map(({ right }) => right);
/** Swing of the modulated lines at full depth, in seconds. */
const deepest = 0.0006;

/**
 * Early reflections and a feedback delay network (see `ReverbNetwork`): the decay of low, middle and
 * high is exact within 5 % at 125 Hz, at 1 kHz, and from 4 kHz on. Left and right go into the room each by itself. Size, modulation and freeze; wet
 * only, the step's mix blends in the dry sound.
 */
export const reverb = defineEffect({
  id: 'reverb',
  label: 'Reverb',
  family: 'Time and space',
  channels: 'pairs',
  purpose: 'Puts the sound into a room, a hall, a cave; only the room comes out, Mix blends in the sound itself.',
  parameters: {
    decay: seconds({ label: 'Decay', min: 0.1, max: 30, default: 1.8 }),
    low: { ...share({ label: 'Low decay', min: 0.2, max: 2, default: 1.1 }), scale: 'log' },
    high: { ...share({ label: 'High decay', min: 0.05, max: 1.5, default: 0.5 }), scale: 'log' },
    size: { ...share({ label: 'Size', min: 0.1, max: 2, default: 0.8 }), scale: 'log' },
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
  picture: ({ decay, low, high, size, freeze }) => {
    const x = logAxis('Hz', 31.5, 16_000);
    const times = [decay * low, decay, decay * high] as const;
    const loss = lineLoss(Math.round(middleLine * size * pictureRate), times, pictureRate);
    const timeAt = (frequency: number): number =>
      freeze ? longestDecay : (-60 * middleLine * size) / Math.min(-1e-6, lossLevel(loss, frequency, pictureRate));
    return {
      title: freeze ? 'Decay by 60 dB: none, the room is frozen' : 'Decay by 60 dB, by frequency',
      x,
      y: logAxis('s', 0.02, longestDecay),
      curves: [curveAlong(x, 120, 'main', timeAt)],
      stems: [decayBands.low, decayBands.middle, decayBands.high].map((at) => ({ role: 'main' as const, at, height: timeAt(at) })),
    };
  },
  latency: () => 0,
  tail: ({ decay, low, high, preDelay, freeze }, sampleRate) =>
    Math.ceil((preDelay + (freeze ? 30 : decay * Math.max(1, low, high)) + 0.2) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const network = new ReverbNetwork(sampleRate, deepest);
    const longest = Math.ceil((longestPreDelay + 0.12) * sampleRate) + maxBlock;
    const inLeft = new DelayTap(longest);
    const inRight = new DelayTap(longest);
    const sides = pairMeans(channels);
    /** How late each early reflection is, in frames. */
    const reflections = early.map(() => new Glide(sizeGlide));
    const late = reflections.map(() => 0);
    const directLeft = new Float32Array(maxBlock);
    const directRight = new Float32Array(maxBlock);
    const left = new Float32Array(maxBlock);
    const right = new Float32Array(maxBlock);
    const earlyLeft = new Float32Array(maxBlock);
    const earlyRight = new Float32Array(maxBlock);
    const turn = new Turn();
    const now = glides(glideFrames, 'early', 'late', 'modulation', 'width', 'input');
    // A pre-delay that jumped would be heard as a chirp.
    const preNow = new Glide(preDelayGlide);
    let last: ParameterValues | undefined;

    /** What comes out of the pre-delay and of the early reflections, of which nothing moves. */
    const readStill = (frames: Frames): void => {
      const pre = preNow.current + 1;
      inLeft.addAt(pre, 1, directLeft, frames);
      inRight.addAt(pre, 1, directRight, frames);
      for (let r = 0; r < early.length; r++) late[r] = pre + reflections[r]!.current;
      inLeft.addTaps(late, leftGains, earlyLeft, frames);
      inRight.addTaps(late, rightGains, earlyRight, frames);
    };
    const readMoving = (frames: Frames): void => {
      for (let i = 0; i < frames; i++) {
        // All of the block has been written already.
        const pre = preNow.next() + frames - i;
        directLeft[i] = inLeft.read(pre);
        directRight[i] = inRight.read(pre);
        // Summed up as where nothing moves, so that it makes no difference where blocks begin.
        for (let r = 0; r < early.length; r += 3) {
          const a = pre + reflections[r]!.next();
          const b = pre + reflections[r + 1]!.next();
          const c = pre + reflections[r + 2]!.next();
          earlyLeft[i]! += inLeft.read(a) * leftGains[r]! + inLeft.read(b) * leftGains[r + 1]! + inLeft.read(c) * leftGains[r + 2]!;
          earlyRight[i]! += inRight.read(a) * rightGains[r]! + inRight.read(b) * rightGains[r + 1]! + inRight.read(c) * rightGains[r + 2]!;
        }
      }
    };
    const mixMoving = (outputs: readonly Float32Array[], frames: Frames): void => {
      for (let i = 0; i < frames; i++) {
        const lateLevel = now.late.next();
        const wide = now.width.next();
        const earlyLevel = now.early.next();
        const leftOut = earlyLeft[i]! * earlyLevel + left[i]! * lateLevel;
        const rightOut = earlyRight[i]! * earlyLevel + right[i]! * lateLevel;
        const middle = (leftOut + rightOut) / 2;
        const side = ((leftOut - rightOut) / 2) * wide;
        for (let c = 0; c < channels; c++) outputs[c]![i] = channels === 1 ? middle : c % 2 ? middle - side : middle + side;
      }
    };
    /** The same for two channels, of which no level moves. */
    const mixSettled = (outputs: readonly Float32Array[], frames: Frames): void => {
      const lateLevel = now.late.current;
      const wide = now.width.current;
      const earlyLevel = now.early.current;
      const [first, second] = [outputs[0]!, outputs[1]!];
      for (let i = 0; i < frames; i++) {
        const leftOut = earlyLeft[i]! * earlyLevel + left[i]! * lateLevel;
        const rightOut = earlyRight[i]! * earlyLevel + right[i]! * lateLevel;
        const middle = (leftOut + rightOut) / 2;
        const side = ((leftOut - rightOut) / 2) * wide;
        first[i] = middle + side;
        second[i] = middle - side;
      }
    };
    return {
      reset: () => {
        last = undefined;
        for (const part of [network, inLeft, inRight, turn, preNow, ...reflections, ...Object.values(now)]) part.reset();
      },
      process(block, values) {
        const { decay, low, high, size, rate, freeze } = values;
        if (values !== last) {
          last = values;
          network.aim({ decay: freeze ? undefined : [decay * low, decay, decay * high], size });
        }
        // In whole frames, so that nothing is read between samples once it stands still.
        preNow.aim(Math.round(values.preDelay * sampleRate));
        let still = !preNow.moving;
        for (let r = 0; r < early.length; r++) {
          reflections[r]!.aim(Math.round(early[r]!.time * size * sampleRate));
          still &&= !reflections[r]!.moving;
        }
        now.early.aim(values.early);
        // About even loudness whatever the decay: the sum of all echoes grows with it.
        now.late.aim(values.late * Math.sqrt(1 / (1 + 0.6 * decay)) * 0.9);
        now.modulation.aim(freeze ? 0 : values.modulation * deepest * sampleRate);
        now.width.aim(values.width);
        now.input.aim(freeze ? 0 : 1);
        const { frames } = block;
        for (let i = 0; i < frames; i++) {
          const open = now.input.next();
          directLeft[i] = sides.left(block.channels, i) * open;
          directRight[i] = sides.right(block.channels, i) * open;
          turn.next(rate, sampleRate);
          network.swing(i, now.modulation.next(), turn.sine, turn.cosine);
        }
        inLeft.writeBlock(frames === maxBlock ? directLeft : directLeft.subarray(0, frames));
        inRight.writeBlock(frames === maxBlock ? directRight : directRight.subarray(0, frames));
        for (const samples of [directLeft, directRight, earlyLeft, earlyRight]) samples.fill(0, 0, frames);
        if (still) readStill(frames);
        else readMoving(frames);
        network.process(directLeft, directRight, left, right, block.frames);
        const settled = !(now.late.moving || now.width.moving || now.early.moving);
        if (settled && channels === 2) mixSettled(block.channels, frames);
        else mixMoving(block.channels, frames);
      },
    };
  },
});
