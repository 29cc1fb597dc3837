import { DelayTap } from '../../dsp/delay-tap';
import { OnePole } from '../../dsp/filters/simple-filters';
import { glides } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { choice, hertz, share } from '../../project/parameters';
import type { Frames, Hertz, Ratio, Seconds } from '../../units';
import { gainToDecibels } from '../../units';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const glideFrames: Frames = 1_024;
/** Where the sound is, is worked out after so many frames; between, everything goes in straight lines. */
const stride: Frames = 16;
const headRadius = 0.0875;
const speedOfSound = 343;
/** The later ear hears a source at the side by so much later (Kuhn 1977, for low frequencies). */
const latest: Seconds = (3 * headRadius) / speedOfSound;
/** Where the head begins to shade (Brown & Duda 1998). */
const shadeFrom: Hertz = speedOfSound / (Math.PI * headRadius);
/** What is left of the highs of a sound from behind. */
const behind: Ratio = 0.5;
/** Both ears are as late as this while the sound is in front, so that one of them can be earlier. */
const middleOf = (sampleRate: Hertz): Frames => Math.ceil((latest / 2) * sampleRate) + 1;
const ears = ['left', 'right'] as const;
type Ear = (typeof ears)[number];
const sideOf = (ear: Ear): number => (ear === 'right' ? 1 : -1);

interface Depths {
  readonly level: Ratio;
  readonly shade: Ratio;
}

/** Gain of an ear for a source at an angle (in radians, clockwise from the front); both together have the same power from anywhere. */
function levelAt(angle: number, ear: Ear, level: Ratio): Ratio {
  const place = (Math.PI / 4) * (1 + level * Math.sin(angle) * sideOf(ear));
  return Math.SQRT2 * Math.sin(place);
}

/**
 * What an ear hears of the highs of a source at an angle, as a factor: twice as much at its own side, a tenth at the far one (Brown & Duda 1998, with
 * their angle of 150° for the darkest place), and less from behind, which the outer ear shades.
 */
function highsAt(angle: number, ear: Ear, shade: Ratio): Ratio {
  const turn = angle - (sideOf(ear) * Math.PI) / 2;
  const away = Math.abs(turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI)));
  const shadow = 1.05 + 0.95 * Math.cos(away * 1.2);
  return (1 + shade * (shadow - 1)) * (1 - shade * (1 - behind) * (0.5 - 0.5 * Math.cos(angle)));
}

/** Turns both sides of a sound around the head: level, time and shade of the ears move together, as they do around a person. */
export const rotation = defineEffect({
  id: 'rotation',
  label: 'Rotation',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Turns the sound around the head: from ear to ear by level, delay and shade together, darker behind.',
  parameters: {
    rate: hertz({ label: 'Rounds', min: 0.01, max: 20, default: 0.4 }),
    way: choice('Way', ['clockwise', 'anticlockwise'], 'clockwise'),
    angle: share({ label: 'Turned on by', min: -1, max: 1, default: 0 }),
    apart: share({ label: 'Sides apart', default: 0.25 }),
    level: share({ label: 'Level', default: 0.7 }),
    delay: share({ label: 'Delay', default: 1 }),
    shade: share({ label: 'Shade', default: 1 }),
  },
  presets: [
    { name: 'Circling drone', values: { rate: 0.08, apart: 0.1 } },
    { name: 'Rotor', values: { rate: 7, level: 0.8, apart: 0 } },
    { name: 'Only its shade', values: { rate: 0.5, level: 0, delay: 0 } },
    { name: 'Swarm', values: { rate: 1.7, way: 'anticlockwise', apart: 0.8 } },
  ],
  picture: ({ level, shade, way }) => {
    const x = linearAxis('', 0, 360);
    const ear = (which: Ear) => (degrees: number) => {
      const angle = ((way === 'clockwise' ? 1 : -1) * degrees * Math.PI) / 180;
      return Math.max(-36, gainToDecibels(levelAt(angle, which, level) * highsAt(angle, which, shade)));
    };
    return {
      title: 'Highs at the left and the right ear over one round, in degrees',
      x,
      y: linearAxis('dB', -36, 12),
      curves: [curveAlong(x, 180, 'other side', ear('left')), curveAlong(x, 180, 'main', ear('right'))],
    };
  },
  latency: (_, sampleRate) => middleOf(sampleRate),
  tail: (_, sampleRate) => 2 * middleOf(sampleRate) + Math.ceil(0.005 * sampleRate),
  create: ({ sampleRate, channels }) => {
    // A single channel has no other ear.
    const paired = channels - (channels % 2);
    const middle = middleOf(sampleRate);
    const lines = Array.from({ length: channels }, () => new DelayTap(2 * middle + stride + 4));
    const phase = new Phase();
    const now = glides(glideFrames, 'rate', 'angle', 'apart', 'level', 'delay', 'shade');
    // Two sources for each of two ears: gain, delay and highs, and what they go on by with each frame.
    const places = new Float64Array(12);
    const steps = new Float64Array(12);
    const shades = Array.from({ length: 2 * channels }, () => new OnePole());
    for (const shade of shades) shade.tune(shadeFrom, sampleRate);
    let due = 0;
    let fresh = true;
    const goOn = (): void => {
      const place = phase.next(now.rate.advance(stride) * stride, sampleRate) + now.angle.advance(stride);
      const apart = now.apart.advance(stride);
      const depths: Depths = { level: now.level.advance(stride), shade: now.shade.advance(stride) };
      const delay = now.delay.advance(stride) * latest * sampleRate;
      for (let source = 0; source < 2; source++) {
        const angle = 2 * Math.PI * place + (source === 0 ? -1 : 1) * apart * (Math.PI / 2);
        for (let e = 0; e < 2; e++) {
          const ear = ears[e]!;
          const at = 3 * (2 * source + e);
          aim(at, 0.5 * levelAt(angle, ear, depths.level));
          aim(at + 1, middle - (sideOf(ear) * delay * Math.sin(angle)) / 2);
          aim(at + 2, highsAt(angle, ear, depths.shade));
        }
      }
      fresh = false;
      due = stride;
    };
    const aim = (at: number, target: number): void => {
      if (fresh) places[at] = target;
      steps[at] = (target - places[at]!) / stride;
    };
    const heardBy = ears.map(() => new Float64Array(stride));
    /** Adds up what an ear hears of both sides of a pair in the latest `frames` frames, which its lines have already. */
    const hear = (pair: number, ear: number, frames: Frames): void => {
      const into = heardBy[ear]!.fill(0);
      for (let source = 0; source < 2; source++) {
        const at = 3 * (2 * source + ear);
        const line = lines[pair + source]!;
        const shadow = shades[2 * (pair + source) + ear]!;
        let gain = places[at]!;
        let delay = places[at + 1]!;
        let highs = places[at + 2]!;
        const [gainStep, delayStep, highsStep] = [steps[at]!, steps[at + 1]!, steps[at + 2]!];
        for (let i = 0; i < frames; i++) {
          const heard = line.read(delay + frames - 1 - i);
          const low = shadow.low(heard);
          into[i]! += (low + (heard - low) * highs) * gain;
          gain += gainStep;
          delay += delayStep;
          highs += highsStep;
        }
      }
    };
    return {
      reset: () => {
        due = 0;
        fresh = true;
        for (const part of [...lines, ...shades, phase, ...Object.values(now)]) part.reset();
      },
      process(block, { rate, way, angle, apart, level, delay, shade }) {
        // Turning round goes through standing still.
        now.rate.aim(way === 'clockwise' ? rate : -rate);
        now.angle.aim(angle);
        now.apart.aim(apart);
        now.level.aim(level);
        now.delay.aim(delay);
        now.shade.aim(shade);
        for (let from = 0; from < block.frames;) {
          if (due === 0) goOn();
          const frames = Math.min(due, block.frames - from);
          due -= frames;
          for (let c = 0; c < channels; c++) for (let i = 0; i < frames; i++) lines[c]!.write(block.channels[c]![from + i]!);
          for (let c = 0; c < paired; c += 2) {
            for (let ear = 0; ear < 2; ear++) hear(c, ear, frames);
            for (let ear = 0; ear < 2; ear++) for (let i = 0; i < frames; i++) block.channels[c + ear]![from + i] = heardBy[ear]![i]!;
          }
          if (paired < channels)
            for (let i = 0; i < frames; i++) block.channels[paired]![from + i] = lines[paired]!.at(middle + frames - 1 - i);
          for (let n = 0; n < places.length; n++) places[n]! += steps[n]! * frames;
          from += frames;
        }
      },
    };
  },
});
