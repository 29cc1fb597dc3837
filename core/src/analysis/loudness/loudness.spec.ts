import type { Audio } from '../../audio/audio';
import { inMemory } from '../../audio/recording';
import { noise, sine } from '../../testing/signals';
import { channelWeights, LoudnessMeter, measureLoudness } from './loudness';
import { measure, measureRecording } from './measure';

/** Segments of a 1 kHz sine in stereo: [seconds, dBFS]. */
function segments(rate: number, ...parts: [number, number][]): Audio {
  const pieces = parts.map(([seconds, level]) => sine(1_000, seconds, rate, level));
  const whole = new Float32Array(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return { sampleRate: rate, channels: [whole, whole] };
}

describe('loudness on the EBU Tech 3341 signals', () => {
  it.each([44_100, 48_000, 96_000])('case 1: -23 dBFS reads -23 LUFS in M, S and I at %i Hz', (rate) => {
    const measured = measureLoudness(segments(rate, [20, -23]));
    for (const value of [measured.integrated, measured.maxMomentary, measured.maxShortTerm]) expect(Math.abs(value + 23)).toBeLessThan(0.1);
  });

  it('case 2: -33 dBFS reads -33 LUFS', () => {
    expect(Math.abs(measureLoudness(segments(48_000, [20, -33])).integrated + 33)).toBeLessThan(0.1);
  });

  it('case 3: the relative gate leaves quiet ends out', () => {
    expect(Math.abs(measureLoudness(segments(48_000, [10, -36], [60, -23], [10, -36])).integrated + 23)).toBeLessThan(0.1);
  });

  it('case 4: the absolute gate leaves near-silence out', () => {
    expect(Math.abs(measureLoudness(segments(48_000, [10, -72], [10, -36], [60, -23], [10, -36], [10, -72])).integrated + 23)).toBeLessThan(
      0.1,
    );
  });

  it('case 5: a louder middle is averaged by energy', () => {
    expect(Math.abs(measureLoudness(segments(48_000, [20, -26], [20.1, -20], [20, -26])).integrated + 23)).toBeLessThan(0.1);
  });

  it('case 6: 5.0 channels are weighted', () => {
    const levels = [-28, -28, -24, -30, -30];
    const audio = { sampleRate: 48_000, channels: levels.map((level) => sine(1_000, 20, 48_000, level)) };
    expect(Math.abs(measureLoudness(audio).integrated + 23)).toBeLessThan(0.1);
  });

  it('case 9: short-term stays at -23 while the level alternates', () => {
    const parts: [number, number][] = [];
    for (let i = 0; i < 5; i++) parts.push([1.34, -20], [1.66, -30]);
    const audio = segments(48_000, ...parts);
    const meter = new LoudnessMeter(48_000, 2);
    for (let at = 0; at + 4_800 <= audio.channels[0]!.length; at += 4_800) {
      meter.process(audio.channels, at, at + 4_800);
      if (at >= 48_000 * 3) expect(Math.abs(meter.shortTerm + 23)).toBeLessThan(0.1);
    }
  });

  it('case 12: momentary stays at -23 while the level alternates', () => {
    const parts: [number, number][] = [];
    for (let i = 0; i < 25; i++) parts.push([0.18, -20], [0.22, -30]);
    const audio = segments(48_000, ...parts);
    const meter = new LoudnessMeter(48_000, 2);
    for (let at = 0; at + 4_800 <= audio.channels[0]!.length; at += 4_800) {
      meter.process(audio.channels, at, at + 4_800);
      if (at >= 48_000) expect(Math.abs(meter.momentary + 23)).toBeLessThan(0.1);
    }
  });
});

describe('loudness range on the EBU Tech 3342 signals', () => {
  it.each([
    [
      10,
      [
        [20, -20],
        [20, -30],
      ],
    ],
    [
      5,
      [
        [20, -20],
        [20, -15],
      ],
    ],
    [
      20,
      [
        [20, -40],
        [20, -20],
      ],
    ],
    [
      15,
      [
        [20, -50],
        [20, -35],
        [20, -20],
        [20, -35],
        [20, -50],
      ],
    ],
  ] as [number, [number, number][]][])('reads %i LU', (expected, parts) => {
    expect(Math.abs(measureLoudness(segments(48_000, ...parts)).range - expected)).toBeLessThan(1);
  });
});

describe('sounds shorter than 400 ms', () => {
  it('read like the same steady sound at length', () => {
    const short = measureLoudness(segments(48_000, [0.2, -23])).integrated;
    expect(Math.abs(short + 23)).toBeLessThan(0.3);
  });

  it('do not get quieter because silence follows', () => {
    const padded = measureLoudness(segments(48_000, [0.1, -20], [0.2, -200])).integrated;
    expect(Math.abs(padded + 20)).toBeLessThan(0.4);
  });

  it('of nothing are silent', () => {
    expect(measureLoudness({ sampleRate: 48_000, channels: [new Float32Array(100)] }).integrated).toBe(-Infinity);
    expect(measureLoudness({ sampleRate: 48_000, channels: [new Float32Array(96_000)] }).integrated).toBe(-Infinity);
  });
});

it('weights loudspeakers by their direction', () => {
  expect(channelWeights(6)).toEqual([1, 1, 1, 0, 1.41, 1.41]);
  expect(channelWeights(12)).toHaveLength(12);
});

describe('a recording that is read piece by piece', () => {
  it('is measured as if it were held', async () => {
    const audio = { sampleRate: 48_000, channels: [noise(2 ** 23 + 5_000, 3, -18)] };
    let most = 0;
    const recording = inMemory(audio);
    const pieces = { ...recording, read: (from: number, to: number) => ((most = Math.max(most, to - from)), recording.read(from, to)) };
    const measured = await measureRecording(pieces);
    const whole = measure(audio);
    for (const [name, value] of Object.entries(whole)) expect(measured[name as keyof typeof whole]).toBeCloseTo(value, 9);
    expect(most).toBeLessThan(audio.channels[0]!.length);
  });
});
