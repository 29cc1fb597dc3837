import type { Random, Seconds } from '@tangled-choir/core';
import {
  addAt,
  between,
  betweenLog,
  buffer,
  drift,
  echoes,
  filter,
  finish,
  iceBody,
  modes,
  pinkNoise,
  randomFor,
  saturate,
  scatter,
  shape,
  strike,
  whiteNoise,
} from '../synthesis';

/** A crack in ice: a snap of noise, then a plate that rings, its high partials arriving first. */
function crack(random: Random, seconds: Seconds, low: number, high: number, decay: Seconds, bend: number): Float32Array {
  const samples = buffer(seconds);
  addAt(samples, filter(shape(whiteNoise(random, 0.05), strike(0.0003, 0.02)), 'high', low, 12), 0, 1.2);
  addAt(samples, modes(seconds, iceBody(random, 16, low, high, decay, bend), random), 0, 0.22);
  addAt(samples, modes(seconds, iceBody(random, 4, low / 5, low / 2, decay * 0.8), random), 0.001, 0.3);
  // Small fractures follow the main one ever more rarely.
  scatter(
    samples,
    random,
    (time) => 60 * Math.exp(-time * 7),
    () => shape(filter(whiteNoise(random, 0.02), 'band', betweenLog(random, low, high), 2), strike(0.0005, 0.012)),
    (time) => 0.5 * Math.exp(-time * 4),
  );
  return samples;
}

export function smallCrack(): Float32Array[] {
  return finish([crack(randomFor('small crack'), 0.6, 1_900, 9_500, 0.16, 1.25)], -3);
}

export function mediumCrack(): Float32Array[] {
  const random = randomFor('medium crack');
  return finish([echoes(crack(random, 0.7, 900, 7_000, 0.3, 1.5), random, 0.6, 0.9, 0.12)], -2);
}

/** A crack that runs over the lake: heard through the ice, high frequencies far ahead of the low ones. */
export function longCrack(): Float32Array[] {
  const random = randomFor('long crack');
  const sides = [0, 1].map(() => {
    const samples = buffer(1.5);
    for (let n = 0; n < 5; n++) {
      const at = n * between(random, 0.05, 0.16);
      const chirp = buffer(0.5);
      let phase = 0;
      for (let i = 0; i < chirp.length; i++) {
        const time = i / 48_000;
        phase += (2 * Math.PI * (260 + 5_200 * Math.exp(-time * between(random, 27.9, 28.1)))) / 48_000;
        chirp[i] = Math.sin(phase) * Math.min(1, time * 900) * Math.exp(-time * 11);
      }
      addAt(samples, chirp, at, 0.4 * Math.exp(-n * 0.4));
      addAt(samples, crack(random, 0.7, 600, 8_000, 0.35, 1.7), at, 0.8 * Math.exp(-n * 0.5));
    }
    return echoes(samples, random, 0.7, 1.1, 0.14);
  });
  return finish(sides, -2);
}

export function slabImpact(): Float32Array[] {
  const random = randomFor('slab impact');
  const sides = [0, 1].map(() => {
    const samples = buffer(2);
    addAt(samples, modes(2, iceBody(random, 14, 55, 420, 0.9, 1.35), random), 0, 0.4);
    addAt(samples, filter(shape(whiteNoise(random, 0.5), strike(0.001, 0.22)), 'low', 1_800, 12), 0, 1.1);
    addAt(samples, filter(shape(whiteNoise(random, 0.12), strike(0.0005, 0.06)), 'band', 3_200, 0.8), 0.002, 0.7);
    scatter(
      samples,
      random,
      (time) => 90 * Math.exp(-time * 3),
      () => shape(filter(whiteNoise(random, 0.05), 'band', betweenLog(random, 300, 4_000), 1.5), strike(0.001, 0.04)),
      (time) => 0.35 * Math.exp(-time * 2.5),
    );
    return echoes(saturate(samples, 1.4), random, 0.5, 0.8, 0.06);
  });
  return finish(sides, -1.5);
}

export function subBoom(): Float32Array[] {
  const random = randomFor('sub boom');
  const samples = buffer(3);
  let phase = 0;
  const wobble = drift(random, 3, 6, 0.03);
  for (let i = 0; i < samples.length; i++) {
    const time = i / 48_000;
    phase += (2 * Math.PI * (31 + 52 * Math.exp(-time * 5)) * wobble(time)) / 48_000;
    samples[i] = Math.sin(phase) * strike(0.006, 2.6)(time);
  }
  const rumble = shape(filter(pinkNoise(random, 3), 'low', 110, 24), strike(0.02, 2));
  addAt(samples, rumble, 0, 0.8);
  return finish([saturate(samples, 2.2)], -2);
}

export function icePebbles(): Float32Array[] {
  const random = randomFor('pebbles');
  const sides = [buffer(2.6), buffer(2.6)];
  scatter(
    buffer(2.6).fill(1),
    random,
    (time) => (time < 0.15 ? 30 : 75 * Math.exp(-time * 1.3)),
    (time) => {
      const low = betweenLog(random, 1_500, 5_500);
      const pebble = modes(0.12, iceBody(random, 5, low, low * 2.8, 0.05, 1.08), random);
      addAt(pebble, shape(filter(whiteNoise(random, 0.01), 'high', low, 12), strike(0.0002, 0.006)), 0, 0.8);
      const side = random.next();
      const gain = between(random, 0.15, 1) ** 1.6 * Math.exp(-time * 0.5);
      addAt(sides[0]!, pebble, time, gain * Math.cos((side * Math.PI) / 2));
      addAt(sides[1]!, pebble, time + between(random, 0, 0.0006), gain * Math.sin((side * Math.PI) / 2));
      // What is heard was written to both sides above.
      return new Float32Array(0);
    },
    () => 1,
  );
  return finish(sides, -5);
}

/** High plates that ring on: the glitter above a fall of ice, or an aurora made audible. */
export function iceShimmer(): Float32Array[] {
  const random = randomFor('shimmer');
  const sides = [0, 1].map(() => {
    const samples = buffer(3.6);
    for (let n = 0; n < 26; n++) {
      const low = betweenLog(random, 2_400, 9_000);
      addAt(
        samples,
        modes(
          2,
          [
            { frequency: low, decay: between(random, 0.6, 1.8), gain: 0.5 },
            { frequency: low * 1.0031, decay: 1.4, gain: 0.35 },
            { frequency: low * 2.41, decay: 0.5, gain: 0.2 },
          ],
          random,
        ),
        between(random, 0, 1.5),
        between(random, 0.1, 0.5),
      );
    }
    addAt(
      samples,
      shape(filter(whiteNoise(random, 3), 'band', 7_500, 1.2), (time) => Math.min(1, time * 4) * Math.exp(-time * 1.6)),
      0,
      0.3,
    );
    return samples;
  });
  return finish(sides, -8);
}

/** A crust that tears: grains that come faster and brighter until it gives way. */
export function crustTearing(): Float32Array[] {
  const random = randomFor('tearing');
  const sides = [0, 1].map(() => {
    const samples = buffer(1.7);
    scatter(
      samples,
      random,
      (time) => 40 + 420 * (time / 1.5) ** 2,
      (time) => shape(filter(whiteNoise(random, 0.014), 'band', betweenLog(random, 500, 1_500 + 3_500 * time), 1.4), strike(0.0005, 0.01)),
      (time) => 0.25 + 0.75 * (time / 1.5) ** 2,
    );
    addAt(
      samples,
      shape(
        filter(pinkNoise(random, 1.7), 'band', (time) => 300 + 900 * time, 0.8),
        (time) => 0.7 * (time / 1.6) ** 2,
      ),
      0,
    );
    return shape(samples, (time) => (time < 1.55 ? 1 : Math.exp(-(time - 1.55) * 60)));
  });
  return finish(sides, -4);
}

export function waterRise(): Float32Array[] {
  const random = randomFor('water');
  const sides = [0, 1].map(() => {
    const swell = (time: number): number => Math.min(1, (time / 0.9) ** 1.6) * Math.exp(-Math.max(0, time - 1.1) * 1.5);
    const samples = shape(
      filter(pinkNoise(random, 3.4), 'low', (time) => 500 + 2_400 * swell(time), 12),
      (time) => swell(time) * 1.6,
    );
    // Bubbles: short tones that rise as the bubble shrinks (Minnaert).
    scatter(
      samples,
      random,
      (time) => 160 * swell(time),
      () => {
        const bubble = buffer(0.06);
        const start = betweenLog(random, 320, 1_900);
        let phase = 0;
        for (let i = 0; i < bubble.length; i++) {
          const time = i / 48_000;
          phase += (2 * Math.PI * start * (1 + time * 8)) / 48_000;
          bubble[i] = Math.sin(phase) * strike(0.003, 0.05)(time);
        }
        return bubble;
      },
      (time) => 0.35 * swell(time),
    );
    return samples;
  });
  return finish(sides, -6);
}
