import { trackPart, pitchAt } from '../../analysis/pitch-track';
import type { Effect } from '../effect';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, noise, residual, sine } from '../../testing/signals';
import { resolveValues } from '../../project/parameters';
import { formantShifter } from './formant-shifter';
import { pitchShifter } from './pitch-shifter';

const rate = 48_000;
/** Any values may be given to it. */
const asEffect = (effect: Effect): Effect => effect;
const decibels = (ratio: number): number => 20 * Math.log10(ratio);
const ratioOf = (semitones: number): number => 2 ** (semitones / 12);
const rms = (samples: Float32Array): number => Math.sqrt(samples.reduce((sum, sample) => sum + sample ** 2, 0) / samples.length);

/** Partials of 110 Hz around a resonance at 1 kHz. */
function vowel(duration: number): Float32Array {
  const samples = new Float32Array(duration * rate);
  for (let partial = 1; partial * 110 < 5_000; partial++) {
    const level = 0.2 / (1 + ((partial * 110 - 1_000) / 130) ** 2);
    for (let i = 0; i < samples.length; i++) samples[i]! += level * Math.sin((2 * Math.PI * 110 * partial * i) / rate + partial ** 2);
  }
  return samples;
}

/** The middle of the energy of the partials of a fundamental. */
function centre(samples: Float32Array, fundamental: number): number {
  let sum = 0;
  let weighed = 0;
  for (let f = fundamental; f < 6_000; f += fundamental) {
    const power = amplitudeAt(samples, f, rate, 24_000) ** 2;
    sum += power;
    weighed += power * f;
  }
  return weighed / sum;
}

/** What is in a tone beside the tone itself, in dB of it, with its ends faded. */
function spuriousLevel(samples: Float32Array, frequency: number): number {
  const window = (i: number): number => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / samples.length);
  const turn = (2 * Math.PI * frequency) / rate;
  let [cosines, sines, weights] = [0, 0, 0];
  samples.forEach((sample, i) => {
    cosines += 2 * window(i) * sample * Math.cos(turn * i);
    sines += 2 * window(i) * sample * Math.sin(turn * i);
    weights += window(i);
  });
  let rest = 0;
  samples.forEach((sample, i) => {
    const tone = (cosines * Math.cos(turn * i) + sines * Math.sin(turn * i)) / weights;
    rest += (window(i) * (sample - tone)) ** 2;
  });
  return 10 * Math.log10(rest / samples.length / (((cosines / weights) ** 2 + (sines / weights) ** 2) * 0.1875));
}

describe('the pitch shifter', () => {
  it.each(['best', 'quick'])('in its mode “%s” gives back what it gets where pitch is not moved, as late as it says', (mode) => {
    const input = noise(20_000, 3, -6);
    const lag = asEffect(pitchShifter).latency(resolveValues(pitchShifter.parameters, { mode }), rate);
    const [output] = runEffect(pitchShifter, [input], { values: { mode } });
    const expected = input.subarray(4_000, input.length - lag);
    expect(residual(expected, output!.subarray(lag + 4_000))).toBeLessThan(-100);
  });

  it('lags by less than 15 ms in its quick mode', () => {
    expect(asEffect(pitchShifter).latency(resolveValues(pitchShifter.parameters, { mode: 'quick' }), rate)).toBeLessThan(0.015 * rate);
  });

  it.each([-36, -24, -12, -5, -0.5, 0.5, 7, 12, 24, 36])('in its best mode moves a tone by %p st, within 0.2 cents and 0.3 dB', (pitch) => {
    const frequency = pitch > 20 ? 220 : 990;
    const [output] = runEffect(pitchShifter, [sine(frequency, 2, rate, -12)], { values: { pitch } });
    const steady = output!.subarray(rate);
    const wanted = frequency * ratioOf(pitch);
    // Phase at two places half a second apart tells the frequency.
    const phaseAt = (from: number): number => {
      let re = 0;
      let im = 0;
      for (let i = 0; i < 20_000; i++) {
        const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / 20_000);
        re += window * steady[from + i]! * Math.cos((2 * Math.PI * wanted * (from + i)) / rate);
        im -= window * steady[from + i]! * Math.sin((2 * Math.PI * wanted * (from + i)) / rate);
      }
      return Math.atan2(im, re);
    };
    let turned = (phaseAt(24_000) - phaseAt(0)) / (2 * Math.PI);
    turned -= Math.round(turned);
    const cents = 1_200 * Math.log2(1 + turned / 0.5 / wanted);
    expect(Math.abs(cents)).toBeLessThan(0.2);
    expect(Math.abs(decibels(rms(steady) / (10 ** (-12 / 20) / Math.SQRT2)))).toBeLessThan(0.3);
    expect(spuriousLevel(steady, wanted)).toBeLessThan(-60);
  });

  it.each([-36, -12, -3, 4, 12, 36])('in its quick mode moves a tone by %p st', (pitch) => {
    const frequency = pitch > 20 ? 220 : 990;
    const [output] = runEffect(pitchShifter, [sine(frequency, 1, rate, -12)], { values: { pitch, mode: 'quick' } });
    const steady = output!.subarray(12_000);
    const wanted = frequency * ratioOf(pitch);
    expect(amplitudeAt(steady, wanted, rate, 0) / 10 ** (-12 / 20)).toBeGreaterThan(0.7);
    expect(Math.abs(decibels(rms(steady) / (10 ** (-12 / 20) / Math.SQRT2)))).toBeLessThan(1);
  });

  it.each(['best', 'quick'])('in its mode “%s” folds nothing back', (mode) => {
    const [output] = runEffect(pitchShifter, [sine(15_000, 0.6, rate, -6)], { values: { pitch: 12, mode } });
    expect(decibels(rms(output!.subarray(14_400)) / 10 ** (-6 / 20))).toBeLessThan(-60);
  });

  it('keeps what lies between channels', () => {
    const left = sine(700, 1.5, rate, -12);
    const right = left.map((sample) => 0.5 * sample);
    const [a, b] = runEffect(pitchShifter, [left, right], { values: { pitch: -7 } });
    for (let i = rate; i < 1.4 * rate; i++) expect(Math.abs(b![i]! - 0.5 * a![i]!)).toBeLessThan(1e-4);
  });

  it('keeps formants, or moves them by themselves', () => {
    const input = vowel(1.5);
    const fundamental = 110 * ratioOf(7);
    const along = runEffect(pitchShifter, [input], { values: { pitch: 7 } })[0]!;
    const kept = runEffect(pitchShifter, [input], { values: { pitch: 7, keepFormants: true } })[0]!;
    const lower = runEffect(pitchShifter, [input], { values: { pitch: 7, keepFormants: true, formant: -5 } })[0]!;
    const moved = (samples: Float32Array): number => 12 * Math.log2(centre(samples, fundamental) / centre(input, 110));
    expect(Math.abs(moved(along) - 7)).toBeLessThan(0.6);
    expect(Math.abs(moved(kept))).toBeLessThan(1);
    expect(Math.abs(moved(lower) + 5)).toBeLessThan(1.2);
  });

  it.each(['best', 'quick'])('in its mode “%s” goes along with pitch that glides', (mode) => {
    const input = new Float32Array(2 * rate);
    for (let p = 1; p <= 6; p++) sine(150 * p, 2, rate, -18 - 20 * Math.log10(p)).forEach((sample, i) => (input[i]! += sample));
    const [output] = runEffect(pitchShifter, [input], { values: { pitch: 0, mode }, change: { at: rate, values: { pitch: -9 } } });
    const track = trackPart({ sampleRate: rate, channels: [output!] }, 0, 2, 0.01);
    const wanted = 69 + 12 * Math.log2(150 / 440);
    expect(Math.abs(pitchAt(track, 0.9).note! - wanted)).toBeLessThan(0.1);
    expect(Math.abs(pitchAt(track, 1.7).note! - wanted + 9)).toBeLessThan(0.1);
  });
});

describe('the formant shifter', () => {
  it('moves what resonates and leaves the pitch', () => {
    const input = vowel(1.5);
    for (const formant of [-7, 7]) {
      const output = runEffect(formantShifter, [input], { values: { formant, voice: 110 } })[0]!;
      expect(Math.abs(12 * Math.log2(centre(output, 110) / centre(input, 110)) - formant)).toBeLessThan(1.5);
      const note = pitchAt(trackPart({ sampleRate: rate, channels: [output] }, 0, 1.5, 0.01), 1).note!;
      expect(Math.abs(note - (69 + 12 * Math.log2(110 / 440)))).toBeLessThan(0.05);
    }
  });

  it('gives back what it gets where nothing is moved', () => {
    const input = noise(12_000, 5, -6);
    const [output] = runEffect(formantShifter, [input]);
    expect(residual(input.subarray(2_048, 12_000 - 2_048), output!.subarray(4_096))).toBeLessThan(-100);
  });
});
