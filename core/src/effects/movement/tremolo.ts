import { Glide } from '../../dsp/glide';
import { modulationShapes, Phase, shapeAt } from '../../dsp/oscillator';
import { smoothing } from '../../dsp/filters/simple-filters';
import { choice, hertz, share } from '../../project/parameters';
import type { Ratio, Unit } from '../../units';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const glideFrames = 512;
/** Takes the edges off steps, so that they do not click. */
const edgeTime = 0.0015;

/**
 * Level at a place of the round. Where both sides move together, it goes in a straight line; where they are half a round apart, by its root, so that the power of both together stays the
 * same as the sound goes across.
 */
function levelAt(shape: string, place: number, depth: Unit, apart: Unit): Ratio {
  const straight = 1 - depth * (0.5 - 0.5 * shapeAt(shape, place - Math.floor(place)));
  if (apart === 0) return straight;
  return apart === 1 ? Math.sqrt(straight) : straight ** (1 - apart / 2);
}

/** Moves the level up and down; with the sides half a period apart, the sound swings from left to right at constant power. */
export const tremolo = defineEffect({
  id: 'tremolo',
  label: 'Tremolo',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Makes the level pulse, or the sound swing between left and right.',
  parameters: {
    rate: hertz({ label: 'Rate', min: 0.02, max: 60, default: 5 }),
    depth: share({ label: 'Depth', default: 0.7 }),
    shape: choice('Shape', modulationShapes, 'sine'),
    apart: share({ label: 'Sides apart', default: 0 }),
  },
  presets: [
    { name: 'Beacon', values: { rate: 1.2, shape: 'square', depth: 1 } },
    { name: 'Swing across', values: { rate: 0.3, apart: 1, depth: 0.9 } },
    { name: 'Flutter', values: { rate: 22, depth: 0.5, shape: 'triangle' } },
  ],
  picture: ({ rate, depth, shape, apart }) => {
    const x = linearAxis('s', 0, 1 / rate);
    const side = (n: number) =>
      curveAlong(x, 240, n === 0 ? 'main' : 'other side', (time) => {
        return levelAt(shape, time * rate + n * 0.5 * apart, depth, apart);
      });
    return { title: 'Level over one round: left, right', x, y: linearAxis('', 0, 1.1), curves: [side(1), side(0)] };
  },
  latency: () => 0,
  tail: () => 0,
  create: ({ sampleRate, channels }) => {
    const phase = new Phase();
    const rateNow = new Glide(glideFrames);
    const depthNow = new Glide(glideFrames);
    const apartNow = new Glide(glideFrames);
    const gains = new Float64Array(channels);
    const keep = smoothing(edgeTime, sampleRate);
    let fresh = true;
    return {
      reset: () => {
        fresh = true;
        for (const part of [phase, rateNow, depthNow, apartNow]) part.reset();
      },
      process(block, { rate, depth, shape, apart }) {
        rateNow.aim(rate);
        depthNow.aim(depth);
        apartNow.aim(apart);
        for (let i = 0; i < block.frames; i++) {
          const place = phase.next(rateNow.next(), sampleRate);
          const amount = depthNow.next();
          const away = apartNow.next();
          for (let c = 0; c < channels; c++) {
            const wanted = levelAt(shape, place + (c % 2) * 0.5 * away, amount, channels > 1 ? away : 0);
            gains[c] = fresh ? wanted : wanted + (gains[c]! - wanted) * keep;
            block.channels[c]![i]! *= gains[c]!;
          }
          fresh = false;
        }
      },
    };
  },
});
