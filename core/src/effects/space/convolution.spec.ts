import { fadingNoise, loudestGain, shapeResponse } from './impulse-response';
import { LongConvolution, longResponse } from '../../dsp/convolution/long-convolution';
import { partitionFrames } from '../../dsp/convolution/partitioned-convolution';
import type { Audio } from '../../audio/audio';
import { applyChain } from '../../render/chain/apply-chain';
import { chainTail, stepLatency } from '../../render/chain/chain-measures';
import { runEffect } from '../../testing/run-effect';
import { largest, mono, noise, residual, sine, stereo } from '../../testing/signals';
import { convolution } from './convolution';

const rate = 48_000;
const whole = { from: 0, to: 1, stretch: 1, reversed: false, fadeIn: 0, fadeOut: 0, tilt: 0 };
const energy = (taps: Float64Array): number => taps.reduce((sum, tap) => sum + tap * tap, 0);

/** The sum of a convolution as its definition has it, at some frames. */
function direct(input: Float32Array, taps: ArrayLike<number>, at: number): number {
  let sum = 0;
  for (let k = 0; k < taps.length && k <= at; k++) sum += taps[k]! * (input[at - k] ?? 0);
  return sum;
}

describe('convolution in partitions of several sizes', () => {
  it('is within -120 dB of the definition, for short and long responses', () => {
    for (const length of [1, 3_840, 3_841, 20_000, 60_000]) {
      const taps = Float64Array.from(noise(length, 7, -20));
      const input = noise(6_000, 8, -6);
      const running = new LongConvolution(longResponse(taps));
      const output = Float32Array.from({ length: length + 6_400 }, (_, i) => running.next(input[i] ?? 0));
      const places = Array.from({ length: 400 }, (_, i) => Math.floor((i / 400) * (length + 6_000)));
      const expected = Float32Array.from(places, (at) => direct(input, taps, at));
      const actual = Float32Array.from(places, (at) => output[at + partitionFrames]!);
      expect(residual(expected, actual)).toBeLessThan(-120);
    }
  });
});

describe('responses', () => {
  const recording = mono(noise(9_600, 2, -6));

  it('have an energy of 1 whatever is done to them', () => {
    for (const shape of [{}, { stretch: 2 }, { from: 0.2, to: 0.5 }, { fadeIn: 0.3, fadeOut: 0.5 }, { tilt: -3 }])
      for (const taps of shapeResponse(recording, { ...whole, ...shape })) expect(energy(taps)).toBeCloseTo(1, 9);
  });

  it('are as long as range and stretch say, and run backwards', () => {
    expect(shapeResponse(recording, { ...whole, from: 0.25, to: 0.75 })[0]).toHaveLength(4_800);
    expect(shapeResponse(recording, { ...whole, stretch: 2 })[0]!.length / 19_200).toBeCloseTo(1, 2);
    const [forward] = shapeResponse(recording, whole);
    const [backward] = shapeResponse(recording, { ...whole, reversed: true });
    expect(residual(Float32Array.from(forward!), Float32Array.from(backward!).reverse())).toBeLessThan(-140);
  });

  it('tilt by so many dB per octave', () => {
    const click = new Float32Array(4_096);
    click[0] = 1;
    const [taps] = shapeResponse(mono(click), { ...whole, tilt: -3 });
    const gain = (frequency: number): number => {
      let [re, im] = [0, 0];
      taps!.forEach((tap, i) => {
        re += tap * Math.cos((2 * Math.PI * frequency * i) / rate);
        im += tap * Math.sin((2 * Math.PI * frequency * i) / rate);
      });
      return 20 * Math.log10(Math.hypot(re, im));
    };
    for (const octave of [250, 1_000, 4_000]) expect(gain(octave) - gain(2 * octave)).toBeCloseTo(3, 0);
  });
});

describe('convolution effect', () => {
  it('gives the recording back for a single sample', () => {
    const response = stereo(noise(6_000, 5, -10));
    const click = new Float32Array(9_000);
    click[0] = 1;
    const [left] = runEffect(convolution, [click, click], { values: { level: 0, fadeOut: 0 }, context: { recordings: { response } } });
    const scale = Math.sqrt(response.channels[0]!.reduce((sum, sample) => sum + sample * sample, 0));
    const expected = response.channels[0]!.map((sample) => sample / scale);
    expect(residual(expected, left!.subarray(partitionFrames))).toBeLessThan(-120);
  });

  it('rings as long as the part of the recording that it takes', () => {
    const parameters = { response: 'source/a', to: 0.5, stretch: 2, preDelay: 0.1 };
    const step = { id: 'a', effect: 'convolution', enabled: true, mix: 1, parameters };
    const ringing = (source?: Audio): number => chainTail([step], { sampleRate: rate, source: () => source }) / rate;
    expect(ringing(mono(new Float32Array(3 * rate)))).toBeGreaterThanOrEqual(3.1);
    expect(ringing(mono(new Float32Array(3 * rate)))).toBeLessThan(3.5);
    expect(ringing(mono(new Float32Array(90 * rate)))).toBeLessThan(20.5);
    // Noise of less than a second stands in for what is missing.
    expect(ringing()).toBeLessThan(1.3);
  });

  it('waits for its pre-delay', () => {
    const click = new Float32Array(9_000);
    click[0] = 1;
    const source = mono(new Float32Array([1]));
    const [output] = runEffect(convolution, [click], {
      values: { level: 0, preDelay: 0.05, fadeOut: 0 },
      context: { recordings: { response: source } },
    });
    expect(output!.indexOf(Math.max(...output!))).toBe(2_400 + partitionFrames);
  });

  it.each([[256], [2_400], [12_000], [48_000]])('comes round every %i frames, to the frame, live and offline', (preDelay) => {
    const click = new Float32Array(3 * preDelay + 6_000);
    click[0] = 1;
    const source = mono(new Float32Array([1]));
    for (const [offline, lag] of [
      [false, partitionFrames],
      [true, 4_096],
    ] as const) {
      const [output] = runEffect(convolution, [click], {
        values: { level: 0, preDelay: preDelay / rate, feedback: 0.5, fadeOut: 0 },
        context: { recordings: { response: source }, offline },
        blocks: [700, 64, 333],
      });
      const heard = [...output!].flatMap((sample, n) => (Math.abs(sample) > 1e-3 ? [n] : []));
      const expected = [1, 2, 3].map((round) => round * preDelay + lag).filter((at) => at < output!.length);
      expect(heard.filter((at) => at <= 3 * preDelay + lag)).toEqual(expected);
      expected.forEach((at, round) => expect(output![at]).toBeCloseTo(0.5 ** round, 4));
    }
  });

  it('never grows with feedback, not even where the response rings', () => {
    const source = mono(sine(440, 0.3, rate, -3));
    const input = new Float32Array(60_000);
    input.set(sine(440, 0.2, rate, -6));
    const [output] = runEffect(convolution, [input], {
      values: { feedback: 0.95, level: 0 },
      context: { recordings: { response: source } },
    });
    const level = (from: number): number =>
      Math.sqrt(output!.subarray(from, from + 9_600).reduce((sum, sample) => sum + sample * sample, 0));
    expect(level(50_000)).toBeLessThan(level(24_000));
  });

  it('gives where nobody listens what it gives live, only later, also once feedback begins', () => {
    const input = noise(60_000, 5, -12);
    input.fill(0, 20_000);
    const source = mono(Float32Array.from(noise(30_000, 6, -6), (tap, i) => tap * Math.exp(-i / 8_000)));
    const step = { id: 'step-1', effect: 'convolution', enabled: true, mix: 1, parameters: {} };
    const behind = stepLatency(step, { sampleRate: rate, offline: true }) - stepLatency(step, { sampleRate: rate });
    expect(behind).toBeGreaterThan(0);
    const run = (offline: boolean, feedback: number, at?: number): Float32Array =>
      runEffect(convolution, [input], {
        values: { feedback, preDelay: 0.01 },
        context: { recordings: { response: source }, offline },
        blocks: [1_000, 64, 333],
        ...(at !== undefined && { change: { at, values: { feedback: 0.6 } } }),
      })[0]!;
    for (const { feedback, at } of [{ feedback: 0 }, { feedback: 0.5 }, { feedback: 0, at: 15_000 }]) {
      const live = run(false, feedback, at).subarray(0, 60_000 - behind);
      expect(residual(live, run(true, feedback, at).subarray(behind))).toBeLessThan(-100);
    }
  });

  it('has something to work with while no source is chosen: noise that falls by 60 dB, different on both sides', () => {
    const { channels } = fadingNoise(0.5, rate);
    const level = (samples: Float32Array, from: number): number =>
      Math.sqrt(samples.subarray(from, from + 2_400).reduce((sum, x) => sum + x * x, 0) / 2_400);
    expect(20 * Math.log10(level(channels[0]!, 21_600) / level(channels[0]!, 0))).toBeCloseTo(-54, 0);
    expect(residual(channels[0]!, channels[1]!)).toBeGreaterThan(0);
    expect(loudestGain(Float64Array.of(0.5, 0.5))).toBeCloseTo(1, 9);
  });
});

describe('channels of the response', () => {
  const taps = (seed: number): Float32Array => noise(2_000, seed, -12);
  const input = [noise(6_000, 21, -12), noise(6_000, 22, -12)] as const;
  const values = { fadeOut: 0, level: 0 };
  const run = (channels: readonly Float32Array[], response: Audio, sampleRate = rate): Float32Array[] =>
    runEffect(convolution, channels, { values, sampleRate, blocks: [700, 130], context: { recordings: { response } } });
  /** What convolving with a response of an energy of 1 gives at some frames behind its lag, by the definition. */
  const expected = (ways: readonly (readonly [Float32Array, Float64Array])[], at: readonly number[]): Float32Array =>
    Float32Array.from(at, (place) => ways.reduce((sum, [from, way]) => sum + direct(from, way, place), 0));
  const places = Array.from({ length: 200 }, (_, i) => 20 * i + 7);
  const heard = (output: Float32Array): Float32Array => Float32Array.from(places, (at) => output[at + partitionFrames]!);

  it('of four lead from each side to each', () => {
    const response: Audio = { sampleRate: rate, channels: [taps(1), taps(2), taps(3), taps(4)] };
    const [ll, lr, rl, rr] = shapeResponse(response, whole) as [Float64Array, Float64Array, Float64Array, Float64Array];
    expect(energy(ll) + energy(lr) + energy(rl) + energy(rr)).toBeCloseTo(2, 9);
    const [left, right] = run(input, response) as [Float32Array, Float32Array];
    const leftWays = [
      [input[0], ll],
      [input[1], rl],
    ] as const;
    const rightWays = [
      [input[0], lr],
      [input[1], rr],
    ] as const;
    expect(residual(expected(leftWays, places), heard(left))).toBeLessThan(-100);
    expect(residual(expected(rightWays, places), heard(right))).toBeLessThan(-100);
  });

  it('of four hold the loop below runaway', () => {
    const response: Audio = { sampleRate: rate, channels: [taps(1), taps(2), taps(3), taps(4)] };
    const long = [0, 1].map((side) => {
      const samples = new Float32Array(4 * rate);
      samples.set(input[side]!);
      return samples;
    });
    const output = runEffect(convolution, long, { values: { ...values, feedback: 0.95 }, context: { recordings: { response } } });
    for (const side of output) {
      const loudest = (from: number, to: number): number => largest(from, to, (i) => Math.abs(side[i]!));
      expect(loudest(3 * rate, 4 * rate)).toBeLessThan(loudest(0, rate));
    }
  });

  it('are converted to the rate of the sound', () => {
    const tone = (sampleRate: number): Audio => ({ sampleRate, channels: [sine(1_000, 0.05, sampleRate, -6)] });
    const click = new Float32Array(6_000);
    click[0] = 1;
    const [own] = run([click], tone(rate));
    const [converted] = run([click], tone(96_000));
    expect(residual(own!.subarray(600, 2_400), converted!.subarray(600, 2_400))).toBeLessThan(-50);
  });

  it('turn a mono recording into a pair', () => {
    const response: Audio = { sampleRate: rate, channels: [taps(1), taps(2)] };
    const step = { id: 'step-1', effect: 'convolution', enabled: true, mix: 1, parameters: { response: 'source/one' } };
    const result = applyChain(mono(input[0]), [step], { tail: true, source: () => response });
    expect(result.channels).toHaveLength(2);
    expect(result.channels[0]).not.toEqual(result.channels[1]);
    const gain = { id: 'step-2', effect: 'compressor', enabled: true, mix: 1, parameters: {} };
    expect(applyChain(mono(input[0]), [gain], { tail: false }).channels).toHaveLength(1);
  });
});
