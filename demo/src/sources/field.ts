import type { Random, Seconds } from '@tangled-choir/core';
import {
  addAt,
  between,
  betweenLog,
  buffer,
  comeRound,
  drift,
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

export function ridgeWind(): Float32Array[] {
  const random = randomFor('wind');
  const gust = drift(random, 9, 0.7, 0.45);
  const sides = [0, 1].map(() => {
    const flutter = drift(random, 9, 5, 0.2);
    const air = shape(
      filter(pinkNoise(random, 8), 'low', (time) => 420 * gust(time) ** 2 * flutter(time), 12),
      (time) => gust(time),
    );
    const whistle = shape(
      filter(whiteNoise(random, 8), 'band', (time) => 620 * gust(time) * (0.95 + 0.05 * flutter(time)), 14),
      (time) => 0.5 * gust(time) ** 2,
    );
    const hiss = shape(
      filter(whiteNoise(random, 8), 'band', (time) => 2_400 * gust(time), 0.9),
      (time) => 0.05 * gust(time) ** 3,
    );
    addAt(air, whistle, 0, 1.4);
    addAt(air, hiss, 0);
    return filter(air, 'high', 45, 12);
  });
  return finish(sides, -9);
}

/** Wind whose end goes on at its beginning. */
export function windLoop(): Float32Array[] {
  return ridgeWind().map((side) => comeRound(side, 1));
}

/** A boot in cold snow: grains that break under rising load, in one or two pushes. */
function snowStep(
  name: string,
  pushes: readonly (readonly [at: Seconds, length: Seconds, weight: number])[],
  seconds: Seconds,
): Float32Array {
  const random = randomFor(name);
  const samples = buffer(seconds);
  for (const [at, length, weight] of pushes) {
    const push = buffer(length);
    // Grains give way in clusters: a crunch is uneven, a hiss is not.
    const lumps = drift(random, length, 38, 1);
    const cluster = (time: Seconds): number => Math.max(0, lumps(time)) ** 2.5 / 3;
    const load = (time: Seconds): number => Math.sin(Math.PI * Math.min(1, time / length) ** 0.7) ** 1.6;
    scatter(
      push,
      random,
      (time) => (30 + 520 * cluster(time)) * load(time),
      () => shape(filter(whiteNoise(random, 0.008), 'band', betweenLog(random, 500, 5_200), 1.6), strike(0.0004, 0.006)),
      (time) => load(time),
    );
    addAt(
      push,
      shape(filter(whiteNoise(random, length), 'band', 1_100, 0.7), (time) => 0.12 * load(time)),
      0,
    );
    addAt(samples, push, at, weight);
    addAt(samples, shape(filter(pinkNoise(random, 0.12), 'low', 170, 12), strike(0.006, 0.09)), at, 0.45 * weight);
  }
  return filter(samples, 'high', 35, 12);
}

export const snowStepA = (): Float32Array[] =>
  finish(
    [
      snowStep(
        'step a',
        [
          [0.005, 0.13, 1],
          [0.16, 0.17, 0.7],
        ],
        0.48,
      ),
    ],
    -4,
  );
export const snowStepB = (): Float32Array[] =>
  finish(
    [
      snowStep(
        'step b',
        [
          [0.005, 0.11, 1],
          [0.14, 0.2, 0.8],
        ],
        0.46,
      ),
    ],
    -4,
  );
export const snowPress = (): Float32Array[] => finish([snowStep('press', [[0.01, 0.24, 1]], 0.34)], -6);

/** Fine grains that fall back into the print. */
export function snowGrain(): Float32Array[] {
  const random = randomFor('grain');
  const samples = buffer(0.5);
  scatter(
    samples,
    random,
    (time) => 260 * Math.exp(-time * 6),
    () => shape(filter(whiteNoise(random, 0.006), 'band', betweenLog(random, 3_500, 10_000), 2.5), strike(0.0003, 0.004)),
    (time) => Math.exp(-time * 3),
  );
  return finish([samples], -10);
}

/** A rope under load: it sticks and slips, ever faster, into a wooden frame. */
export function ropeCreak(): Float32Array[] {
  const random = randomFor('rope');
  const slips = buffer(1.9);
  let time = 0.05;
  while (time < 1.7) {
    const tension = Math.sin((Math.PI * time) / 1.8);
    addAt(slips, shape(whiteNoise(random, 0.004), strike(0.0002, 0.002)), time, 0.4 + 0.6 * tension);
    time += (1 / (26 + 90 * tension)) * between(random, 0.85, 1.15);
  }
  const samples = filter(slips.slice(), 'band', 880, 5);
  addAt(samples, filter(slips.slice(), 'band', 1_730, 8), 0, 0.8);
  addAt(samples, filter(slips.slice(), 'band', 2_900, 4), 0, 0.4);
  addAt(samples, filter(slips.slice(), 'band', 320, 3), 0, 0.7);
  return finish([shape(samples, (t) => Math.min(1, t * 8))], -7);
}

/** A large body falling away: air that sweeps down past the listener. */
export function fallSweep(): Float32Array[] {
  const random = randomFor('sweep');
  const rise = (time: Seconds): number => Math.exp(-(((time - 0.95) / 0.42) ** 2));
  const sides = [0, 1].map((side) => {
    const samples = shape(
      filter(pinkNoise(random, 1.9), 'band', (time) => 2_300 * Math.pow(0.16, time / 1.9) * (side ? 0.96 : 1.04), 1.3),
      (time) => rise(time),
    );
    addAt(
      samples,
      shape(
        filter(whiteNoise(random, 1.9), 'band', (time) => 5_200 * Math.pow(0.3, time / 1.9), 2),
        (time) => 0.3 * rise(time + 0.1),
      ),
      0,
    );
    return samples;
  });
  return finish(sides, -6);
}

/** An unattended recorder at the camp: light wind, mains hum, three clicks and somebody coughing. For repair. */
export function campRecording(): Float32Array[] {
  const random = randomFor('camp');
  const gust = drift(random, 7, 0.9, 0.4);
  const samples = shape(
    filter(pinkNoise(random, 6), 'low', (time) => 700 * gust(time), 12),
    (time) => 0.5 * gust(time),
  );
  for (const [harmonic, level] of [
    [1, 0.1],
    [2, 0.045],
    [3, 0.06],
    [5, 0.03],
    [7, 0.012],
  ] as const)
    for (let i = 0; i < samples.length; i++) samples[i]! += level * Math.sin((2 * Math.PI * 50 * harmonic * i) / 48_000 + harmonic);
  for (const at of [1.21, 2.94, 4.4]) addAt(samples, Float32Array.of(0.9, -0.7, 0.45, -0.2, 0.08), at, 0.9);
  for (const [at, length, level] of [
    [3.4, 0.22, 1],
    [3.72, 0.16, 0.6],
  ] as const) {
    const breath = shape(whiteNoise(random, length), strike(0.012, length * 0.9));
    addAt(samples, filter(breath.slice(), 'band', 620, 3), at, 1.6 * level);
    addAt(samples, filter(breath.slice(), 'band', 1_350, 4), at, 1.1 * level);
    addAt(samples, filter(breath, 'band', 2_700, 3), at, 0.6 * level);
  }
  addAt(samples, modes(0.4, iceBody(random, 4, 300, 1_200, 0.15), random), 5.1, 0.06);
  return finish([samples], -6);
}

/** A voice out of a hand radio, made of pulses and formants: the tune of a sentence without its words. */
export function radioLine(): Float32Array[] {
  const random = randomFor('radio');
  const vowels: readonly (readonly [number, number, number])[] = [
    [730, 1_090, 2_440],
    [270, 2_290, 3_010],
    [530, 1_840, 2_480],
    [570, 840, 2_410],
    [300, 870, 2_240],
    [660, 1_720, 2_410],
  ];
  const voice = buffer(3.2);
  let at = 0.32;
  for (let syllable = 0; syllable < 13 && at < 2.75; syllable++) {
    const length = between(random, 0.1, 0.24);
    addAt(
      voice,
      syllableOf(random, vowels[Math.floor(random.next() * vowels.length)]!, length, 126 - 2.2 * syllable + between(random, -10, 14)),
      at,
      between(random, 0.7, 1),
    );
    // Consonants: breath of noise before most vowels.
    if (random.next() < 0.7)
      addAt(
        voice,
        shape(filter(whiteNoise(random, 0.06), 'band', betweenLog(random, 1_800, 3_400), 1.5), strike(0.01, 0.05)),
        at - 0.05,
        0.35,
      );
    at += length + (syllable % 5 === 4 ? 0.2 : between(random, 0.015, 0.06));
  }
  addAt(voice, whiteNoise(random, 2.9), 0.12, 0.025);
  // The carrier opens and closes with a burst.
  for (const edge of [0.12, 3.02]) addAt(voice, shape(whiteNoise(random, 0.09), strike(0.001, 0.09)), edge, 0.5);
  saturate(voice, 3);
  filter(voice, 'high', 420, 24);
  filter(voice, 'low', 3_000, 24);
  return finish([voice], -6);
}

function syllableOf(random: Random, formants: readonly [number, number, number], length: Seconds, pitch: number): Float32Array {
  const pulses = buffer(length);
  let phase = 0;
  for (let i = 0; i < pulses.length; i++) {
    const time = i / 48_000;
    phase += (pitch * (1 + 0.05 * Math.sin(time * 17) - 0.12 * (time / length))) / 48_000;
    // A rounded pulse once per period, with a little breath.
    const place = phase - Math.floor(phase);
    pulses[i] = Math.max(0, Math.sin(Math.PI * Math.min(1, place * 3.2))) ** 2 - 0.25 + 0.04 * (2 * random.next() - 1);
  }
  // What the lips radiate is the change of the flow, which brightens the voice by 6 dB per octave.
  for (let i = pulses.length - 1; i > 0; i--) pulses[i] = (pulses[i]! - pulses[i - 1]!) * 12;
  const sum = buffer(length);
  formants.forEach((formant, index) => addAt(sum, filter(pulses.slice(), 'band', formant, 7 + index * 2), 0, [1, 0.9, 0.6][index]));
  return shape(sum, (time) => Math.min(1, time / 0.025, (length - time) / 0.04));
}
