import { amplitudeAt, mono, noise, residual, sine } from '../testing/signals';
import { frameCount } from './audio';
import { getKernels } from '../dsp/compiled/kernels';
import { exactPhases, interpolateExactly, interpolatePlain } from './exact-phases';
import { changeSpeed, convertSampleRate, interpolate, kernelTable, resampledLength } from './resample';

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
const decibels = (ratio: number): number => 20 * Math.log10(ratio);

describe('sample-rate conversion', () => {
  it.each([44_100, 96_000, 88_200, 32_000])('from %i Hz to 48 kHz is flat within 0.05 dB up to 20 kHz', (rate) => {
    for (const frequency of [20, 997, 5_000, 10_000, 15_000, 18_000, 20_000]) {
      if (frequency > 0.45 * rate) continue;
      const converted = convertSampleRate(mono(sine(frequency, 0.5, rate), rate), 48_000).channels[0]!;
      const level = decibels(amplitudeAt(converted, frequency, 48_000, 4_800, 19_200));
      expect(Math.abs(level)).toBeLessThan(0.05);
    }
  });

  it('keeps aliases below -110 dB when the rate is halved', () => {
    for (const frequency of [25_000, 30_000, 40_000, 47_000]) {
      const converted = convertSampleRate(mono(sine(frequency, 0.5, 96_000), 96_000), 48_000).channels[0]!;
      const alias = 48_000 - frequency > 0 ? 48_000 - frequency : frequency - 48_000;
      expect(decibels(amplitudeAt(converted, alias, 48_000, 4_800, 19_200))).toBeLessThan(-110);
    }
  });

  it('keeps images below -110 dB when the rate is raised from 44.1 kHz', () => {
    const converted = convertSampleRate(mono(sine(18_000, 0.5, 44_100), 44_100), 96_000).channels[0]!;
    expect(decibels(amplitudeAt(converted, 44_100 - 18_000, 96_000, 9_600, 38_400))).toBeLessThan(-110);
  });

  it('carries 384 kHz recordings', () => {
    const converted = convertSampleRate(mono(sine(1_000, 0.1, 384_000), 384_000), 48_000);
    expect(frameCount(converted)).toBe(4_800);
    expect(decibels(amplitudeAt(converted.channels[0]!, 1_000, 48_000, 800, 4_000))).toBeCloseTo(0, 2);
  });

  it('is the same compiled and in plain TypeScript, wherever it begins and ends', () => {
    expect(getKernels()).toBeDefined();
    const input = noise(30_000, 4, -6);
    for (const [from, to] of [
      [44_100, 48_000],
      [48_000, 44_100],
      [96_000, 48_000],
      [11_025, 48_000],
    ] as const) {
      const common = gcd(from, to);
      const phases = exactPhases(from / to, to / common);
      for (const start of [0, 7, 29_990]) {
        const length = Math.round(((30_000 - start) * to) / from) + 40;
        const plain = interpolatePlain(input, phases, start, length);
        expect(residual(plain, interpolateExactly(input, phases, start, length))).toBeLessThan(-140);
      }
    }
  });

  it('keeps a single sample', () => {
    expect(frameCount(convertSampleRate(mono(Float32Array.of(0.5), 44_100), 48_000))).toBe(1);
  });

  it('refuses a rate of 0', () => {
    expect(() => convertSampleRate(mono(sine(1, 0.1, 48_000)), 0)).toThrow('not above 0');
  });
});

describe('varispeed', () => {
  it.each([0.5, 0.7071, 0.94387, 1.05946, 1.6818, 2, 4])('at speed %f moves 1 kHz to the right pitch at the right level', (speed) => {
    const changed = changeSpeed(mono(sine(1_000, 1, 48_000)), speed).channels[0]!;
    expect(changed.length).toBe(resampledLength(48_000, speed));
    const middle = Math.floor(changed.length / 2);
    expect(decibels(amplitudeAt(changed, 1_000 * speed, 48_000, middle - 4_000, middle + 4_000))).toBeCloseTo(0, 2);
  });

  it('keeps what lies above Nyquist after a speed-up below -110 dB', () => {
    const changed = changeSpeed(mono(sine(18_000, 1, 48_000)), 1.5).channels[0]!;
    expect(decibels(amplitudeAt(changed, 48_000 - 27_000, 48_000, 4_000, 20_000))).toBeLessThan(-110);
  });

  it('interpolates between kernel phases below -110 dB', () => {
    const speed = 0.9123456;
    const changed = changeSpeed(mono(sine(9_000, 1, 48_000)), speed).channels[0]!;
    const expected = Float32Array.from(changed, (_, i) => Math.sin((2 * Math.PI * 9_000 * speed * i) / 48_000));
    expect(residual(expected, changed, 4_000, 40_000)).toBeLessThan(-110);
  });

  it.each([0.37, 0.9123456, 1.27, 3.1])('gives with the compiled kernel what the reference gives, at speed %f', (speed) => {
    expect(getKernels()).toBeDefined();
    const input = noise(50_000, 6);
    const length = resampledLength(50_000, speed);
    const reference = interpolate(input, kernelTable(speed), speed, 0, length);
    expect(residual(reference, changeSpeed(mono(input), speed).channels[0]!)).toBeLessThan(-125);
  });

  it('plays a part as it sounds within the whole', () => {
    const whole = changeSpeed(mono(noise(8_000)), 2).channels[0]!;
    const part = changeSpeed(mono(noise(8_000)), 2, 2_000, 3_000).channels[0]!;
    expect(residual(whole.subarray(1_000, 2_500), part)).toBeLessThan(-120);
  });
});
