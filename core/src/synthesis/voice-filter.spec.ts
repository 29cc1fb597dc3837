import { amplitudeAt } from '../testing/signals';
import { VoiceFilter, voiceFilterKinds } from './voice-filter';

const sampleRate = 48_000;

/** Level of a quiet sine behind a filter that stands still. */
function response(kind: (typeof voiceFilterKinds)[number], cutoff: number, resonance: number, frequency: number): number {
  const filter = new VoiceFilter(kind, sampleRate);
  filter.aim(cutoff, resonance, 1, 0);
  const samples = Float64Array.from({ length: 24_000 }, (_, i) => 0.01 * Math.sin((2 * Math.PI * frequency * i) / sampleRate));
  for (let at = 0; at < samples.length; at += 64) filter.process(samples, at, Math.min(samples.length, at + 64));
  return amplitudeAt(Float32Array.from(samples), frequency, sampleRate, 12_000, 24_000) / 0.01;
}

/** Where an analogue filter with this cut-off would be, when it is bent onto the axis of a digital one. */
const bent = (frequency: number, cutoff: number): number =>
  Math.tan((Math.PI * frequency) / sampleRate) / Math.tan((Math.PI * cutoff) / sampleRate);

describe('the filter of a part', () => {
  it('is a ladder of four poles: 1 / ((1 + s)⁴ + k)', () => {
    for (const resonance of [0, 0.5, 0.9])
      for (const frequency of [100, 1_000, 1_500, 6_000]) {
        const w = bent(frequency, 1_500);
        const k = 4 * 0.995 * resonance;
        // (1 + jw)⁴ = 1 − 6w² + w⁴ + j (4w − 4w³)
        const expected = 1 / Math.hypot(1 - 6 * w ** 2 + w ** 4 + k, 4 * w - 4 * w ** 3);
        expect(Math.abs(20 * Math.log10(response('ladder', 1_500, resonance, frequency) / expected))).toBeLessThan(0.05);
      }
  });

  it('is a section of two poles otherwise', () => {
    for (const resonance of [0, 0.6]) {
      const k = Math.SQRT2 * (0.02 / Math.SQRT2) ** resonance;
      for (const frequency of [200, 1_000, 5_000]) {
        const w = bent(frequency, 1_000);
        const below = Math.hypot(1 - w * w, k * w);
        const shapes = { 'low-pass': 1, 'high-pass': w * w, 'band-pass': k * w, notch: Math.abs(1 - w * w) };
        for (const kind of ['low-pass', 'high-pass', 'band-pass', 'notch'] as const)
          expect(response(kind, 1_000, resonance, frequency)).toBeCloseTo(shapes[kind] / below, 3);
      }
    }
  });

  it('stays bounded at its ends, however it is moved and driven', () => {
    for (const kind of voiceFilterKinds) {
      const filter = new VoiceFilter(kind, sampleRate);
      const samples = Float64Array.from({ length: 48_000 }, (_, i) => ((i * 7_919) % 200) / 100 - 1);
      for (let at = 0; at < samples.length; at += 64) {
        filter.aim(at % 128 ? 20 : 20_000, 1, at % 192 ? 64 : 1, 64);
        filter.process(samples, at, at + 64 > samples.length ? samples.length : at + 64);
      }
      expect({ kind, bounded: samples.every((sample) => Math.abs(sample) < 60) }).toEqual({ kind, bounded: true });
    }
  });
});
