import type { Seconds } from '@tangled-choir/core';
import { addAt, buffer, comeRound, drift, filter, finish, randomFor, saturate, shape, strike, whiteNoise } from '../synthesis';

const topSpeed = 46;

/** A core drill: a motor with its gear teeth, and the bit grinding in ice. `speed` runs from 0 to 1. */
function drill(name: string, seconds: Seconds, speed: (time: Seconds) => number, grind: (time: Seconds) => number): Float32Array {
  const random = randomFor(name);
  const wobble = drift(random, seconds, 3, 0.012);
  const load = drift(random, seconds, 9, 0.25);
  const samples = buffer(seconds);
  let turn = 0;
  for (let i = 0; i < samples.length; i++) {
    const time = i / 48_000;
    const now = speed(time);
    turn += (topSpeed * now * wobble(time)) / 48_000;
    let sum = 0;
    // Orders of the shaft, of the two poles and of 13 gear teeth.
    for (const [order, level] of [
      [1, 0.3],
      [2, 0.55],
      [3, 0.18],
      [4, 0.3],
      [6, 0.2],
      [13, 0.34],
      [26, 0.2],
      [39, 0.1],
      [52, 0.05],
    ] as const)
      sum += level * Math.sin(2 * Math.PI * turn * order + order * order);
    samples[i] = sum * Math.sqrt(now) * (0.8 + 0.2 * load(time));
  }
  const chips = shape(
    filter(whiteNoise(random, seconds), 'band', (time) => 1_200 + 1_500 * speed(time), 0.9),
    (time) => 1.5 * grind(time) * load(time) ** 2,
  );
  // Each turn of the bit scrapes once.
  let phase = 0;
  for (let i = 0; i < chips.length; i++) {
    phase += (topSpeed * 0.25 * speed(i / 48_000)) / 48_000;
    chips[i]! *= 0.55 + 0.45 * Math.sin(2 * Math.PI * phase);
  }
  addAt(samples, chips, 0);
  filter(samples, 'bell', 340, 1.5, 6);
  filter(samples, 'bell', 1_150, 2.5, 5);
  return saturate(samples, 1.3);
}

export function drillStart(): Float32Array[] {
  const random = randomFor('drill switch');
  const speed = (time: Seconds): number => Math.min(1, 1 - Math.exp(-Math.max(0, time - 0.08) * 2.3));
  const samples = drill('drill start', 2.4, speed, (time) => Math.max(0, (time - 1.3) / 1.1) ** 2 * 0.5);
  addAt(samples, shape(whiteNoise(random, 0.03), strike(0.0003, 0.015)), 0.02, 0.6);
  return finish([samples], -8);
}

export function drillRun(): Float32Array[] {
  return finish(
    [
      drill(
        'drill run',
        4,
        () => 1,
        () => 0.5,
      ),
    ],
    -8,
  );
}

/** A drill that runs on and on. */
export function drillLoop(): Float32Array[] {
  return drillRun().map((samples) => comeRound(samples, 0.5));
}

export function drillStop(): Float32Array[] {
  const speed = (time: Seconds): number =>
    Math.exp(-Math.max(0, time - 0.1) * 2.4) * (time > 1.75 ? Math.max(0, 1 - (time - 1.75) * 5) : 1);
  return finish([drill('drill stop', 2, speed, (time) => 0.5 * Math.exp(-time * 5))], -8);
}

/** The beacon on the mast: two tones with a relay's click. Meant to be plain. */
export function beacon(): Float32Array[] {
  const random = randomFor('beacon');
  const samples = buffer(1);
  for (const [at, pitch] of [
    [0.01, 1_244.5],
    [0.26, 932.3],
  ] as const) {
    const tone = buffer(0.2);
    for (let i = 0; i < tone.length; i++) {
      const time = i / 48_000;
      const envelope = Math.min(1, time / 0.006, (0.2 - time) / 0.05);
      tone[i] =
        envelope *
        (Math.sin(2 * Math.PI * pitch * time) + 0.25 * Math.sin(6 * Math.PI * pitch * time) + 0.08 * Math.sin(10 * Math.PI * pitch * time));
    }
    addAt(samples, tone, at, 0.7);
    addAt(samples, shape(filter(whiteNoise(random, 0.01), 'high', 2_000, 12), strike(0.0002, 0.004)), at - 0.008, 0.5);
  }
  // The mast rings a little.
  const wet = filter(samples.slice(), 'band', 1_040, 18);
  addAt(samples, wet, 0.021, 0.5);
  return finish([samples], -10);
}
