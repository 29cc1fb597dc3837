import type { Audio } from '../audio/audio';
import type { Recording } from '../audio/recording';
import { inMemory, partOfRecording } from '../audio/recording';
import { Cancelled } from '../cancelled';
import { createRandom } from '../dsp/random';
import { mono, noise, sine } from '../testing/signals';
import { repeatLoop, repeatSeam } from './listen';
import { measureLoopTracks, readLoopTracks } from './loop-tracks';
import { proposeLoops, suitingCrossfade } from './propose-loops';
import { inspectSeam, makeSeamlessLoop } from './seamless-loop';

const rate = 48_000;

/** A tone whose pitch and level follow curves over time. */
function curved(seconds: number, pitch: (time: number) => number, level: (time: number) => number = () => -12): Float32Array {
  let phase = 0;
  return Float32Array.from({ length: seconds * rate }, (_, i) => {
    phase += (2 * Math.PI * pitch(i / rate)) / rate;
    return 10 ** (level(i / rate) / 20) * Math.sin(phase);
  });
}

describe('loop tracks', () => {
  it('follow level, pitch and colour of a tone', () => {
    const tracks = measureLoopTracks(
      mono(
        curved(
          3,
          (time) => 300 + 50 * time,
          (time) => -20 + 4 * time,
        ),
      ),
    );
    for (const [n, level] of tracks.levels.entries()) {
      const time = tracks.first + n * tracks.hop;
      // A sine lies 3 dB below its peak.
      expect(level).toBeCloseTo(-23.01 + 4 * time, 0);
      if (!Number.isNaN(tracks.pitches[n]!)) expect(tracks.pitches[n]!).toBeCloseTo(300 + 50 * time, -0.5);
      expect(Math.abs(12 * Math.log2(tracks.colours[n]! / (300 + 50 * time)))).toBeLessThan(0.6);
    }
    expect([...tracks.pitches].filter((pitch) => !Number.isNaN(pitch)).length).toBeGreaterThan(tracks.pitches.length * 0.9);
  });

  it('have no pitch in noise and at most 1200 points', () => {
    const tracks = measureLoopTracks(mono(noise(40 * rate, 3, -20)));
    expect(tracks.levels.length).toBeLessThanOrEqual(1_200);
    expect([...tracks.pitches].filter((pitch) => !Number.isNaN(pitch)).length).toBeLessThan(tracks.pitches.length * 0.05);
  });
});

describe('proposing loops', () => {
  it('finds the steady part of a machine that spins up, runs and stops', async () => {
    const pitch = (time: number): number => (time < 2 ? 60 + 30 * time : time < 6 ? 120 : 120 - 20 * (time - 6));
    const level = (time: number): number => (time < 2 ? -30 + 9 * time : time < 6 ? -12 : -12 - 6 * (time - 6));
    const audio = mono(curved(8, pitch, level));
    const [best] = await proposeLoops(inMemory(audio), measureLoopTracks(audio), { shortest: 1, longest: 6, count: 5 });
    expect(best!.from).toBeGreaterThan(1.85);
    expect(best!.to).toBeLessThan(6.15);
    expect(best!.to - best!.from).toBeGreaterThan(2.5);
    expect(best!.level).toBeLessThan(0.3);
    expect(best!.pitch).toBeLessThan(0.1);
    expect(best!.agreement).toBeGreaterThan(0.99);
    expect(best!.crossfade).toBeLessThan(0.05);
  });

  it('ranks by cost, keeps to the wished lengths and does not propose the same twice', async () => {
    const audio = mono(noise(12 * rate, 8, -18));
    const proposals = await proposeLoops(inMemory(audio), measureLoopTracks(audio), { shortest: 2, longest: 5, count: 6 });
    expect(proposals.length).toBeGreaterThan(3);
    for (const [n, proposal] of proposals.entries()) {
      expect(proposal.to - proposal.from).toBeGreaterThan(1.95);
      expect(proposal.to - proposal.from).toBeLessThan(5.05);
      expect(proposal.to).toBeLessThanOrEqual(12);
      const before = proposals[n - 1];
      if (before?.seamless === proposal.seamless) expect(proposal.cost).toBeGreaterThanOrEqual(before.cost);
      if (before) expect(Number(before.seamless)).toBeGreaterThanOrEqual(Number(proposal.seamless));
      for (const other of proposals.slice(0, n))
        expect(Math.abs(other.from - proposal.from) + Math.abs(other.to - proposal.to)).toBeGreaterThan(0.3);
    }
  });

  it('gives noise a long crossfade and equal waves a short one', () => {
    expect(suitingCrossfade(1, 4)).toBeCloseTo(0.02);
    expect(suitingCrossfade(0, 4)).toBeCloseTo(1);
    expect(suitingCrossfade(-0.3, 1)).toBeCloseTo(0.25);
    expect(suitingCrossfade(0.5, 4)).toBeCloseTo(0.51);
  });
});

describe('a seamless loop', () => {
  it('begins where its end goes on in the original', () => {
    const samples = noise(3 * rate, 4, -12);
    const { audio, join } = makeSeamlessLoop(mono(samples), { from: 0.5, to: 2.5, crossfade: 0.2 });
    const loop = audio.channels[0]!;
    const start = samples.indexOf(loop[0]!);
    expect(samples[start - 1]).toBe(loop.at(-1));
    // Outside the join every sample is one of the original, in order.
    expect([...loop.subarray(0, join.from)]).toEqual([...samples.subarray(start, start + join.from)]);
    expect(join.to - join.from).toBe(0.2 * rate);
    expect(Math.abs(loop.length - 1.8 * rate)).toBeLessThanOrEqual(0.025 * rate);
  });

  it.each([0.02, 0.1, 0.4])('of a tone stays that tone, with a crossfade of %s s', (crossfade) => {
    const loop = makeSeamlessLoop(mono(sine(233.3, 4, rate, -6)), { from: 0.31, to: 3.17, crossfade });
    const samples = loop.audio.channels[0]!;
    // Around the return and everywhere else: never faster than the tone itself, never quieter than 0.2 dB below it.
    const steps = samples.map((sample, i) => Math.abs(sample - samples.at(i - 1)!));
    const fastest = 10 ** (-6 / 20) * 2 * Math.sin((Math.PI * 233.3) / rate);
    expect(steps.reduce((a, b) => Math.max(a, b))).toBeLessThan(fastest * 1.03);
    const peaks = Array.from({ length: Math.floor(samples.length / 480) }, (_, n) =>
      samples.subarray(n * 480, n * 480 + 480).reduce((peak, sample) => Math.max(peak, Math.abs(sample)), 0),
    );
    expect(Math.min(...peaks)).toBeGreaterThan(10 ** (-6.2 / 20));
    expect(inspectSeam(loop).seamless).toBe(true);
  });

  it('of noise keeps its level through the join', () => {
    const random = createRandom(6);
    const hiss = Float32Array.from({ length: 8 * rate }, () => {
      // A sum of uniform numbers is nearly normal, as the samples of wind are.
      let sum = 0;
      for (let n = 0; n < 8; n++) sum += random.next() - 0.5;
      return 0.1 * sum;
    });
    const report = inspectSeam(makeSeamlessLoop(mono(hiss), { from: 0, to: 8, crossfade: 1 }));
    expect(report.level.seam).toBeLessThan(0.5);
    expect(report.seamless).toBe(true);
  });

  it('does not call it seamless where the two ends differ in level, colour or pitch', () => {
    const random = createRandom(2);
    let low = 0;
    const darkening = Float32Array.from({ length: 6 * rate }, (_, i) => {
      const share = i / (6 * rate);
      low += (2 * random.next() - 1 - low) * (0.9 - 0.85 * share);
      return 0.3 * low;
    });
    const whole = { from: 0, to: 6, crossfade: 0.1 };
    expect(inspectSeam(makeSeamlessLoop(mono(darkening), whole)).seamless).toBe(false);
    expect(inspectSeam(makeSeamlessLoop(mono(curved(6, (time) => 200 + 10 * time)), whole)).seamless).toBe(false);
    expect(
      inspectSeam(
        makeSeamlessLoop(
          mono(
            curved(
              6,
              () => 200,
              (time) => -30 + 3 * time,
            ),
          ),
          whole,
        ),
      ).seamless,
    ).toBe(false);
  });

  it('refuses a part without sound', () => {
    expect(() => makeSeamlessLoop(mono(noise(100)), { from: 0, to: 0, crossfade: 0.1 })).toThrow(RangeError);
  });
});

describe('a long recording', () => {
  /** Ten minutes in which only the minute from 300 s on is even. */
  const long = {
    sampleRate: 8_000,
    channels: [
      noise(600 * 8_000, 9, -20).map((sample, i) => {
        const time = i / 8_000;
        return time >= 300 && time < 360 ? sample : sample * (0.55 + 0.45 * Math.sin(time / 3));
      }),
    ],
  } satisfies Audio;
  const read: number[] = [];
  const whole = inMemory(long);
  const recording: Recording = {
    ...whole,
    read: (from, to) => {
      read.push(to - from);
      return whole.read(from, to);
    },
  };

  it('is searched by windows, and only what is proposed is read', async () => {
    const tracks = await readLoopTracks(recording);
    expect(tracks).toEqual(measureLoopTracks(long));
    expect(Math.max(...read)).toBe(4_096);
    const [best] = await proposeLoops(recording, tracks, { shortest: 20, longest: 50, count: 3 });
    expect(Math.max(...read)).toBeLessThanOrEqual(50.1 * 8_000);
    expect(best!.from).toBeGreaterThan(295);
    expect(best!.to).toBeLessThan(365);
  });

  it('of a part gives times of that part', async () => {
    const part = partOfRecording(recording, 300 * 8_000, 360 * 8_000);
    const { channels } = await part.read(0, part.frames);
    expect(await readLoopTracks(part)).toEqual(measureLoopTracks({ sampleRate: 8_000, channels }));
  });

  it('can be left', async () => {
    await expect(readLoopTracks(recording, (share) => share < 0.1)).rejects.toThrow(Cancelled);
  });
});

describe('awkward recordings', () => {
  it.each([1, 7, 100])('of %s samples have no loop, and break nothing', async (frames) => {
    const audio = mono(noise(frames, 1, -20));
    const tracks = measureLoopTracks(audio);
    expect(tracks.levels.every((level) => Number.isFinite(level))).toBe(true);
    expect(await proposeLoops(inMemory(audio), tracks, { shortest: 1, longest: 1, count: 6 })).toEqual([]);
  });

  it('of silence stay where they are cut', () => {
    const { audio } = makeSeamlessLoop(mono(new Float32Array(rate)), { from: 0.1, to: 0.9, crossfade: 0.1 });
    expect(audio.channels[0]!.length).toBe(0.7 * rate);
  });
});

describe('listening to a loop', () => {
  const loop = {
    audio: mono(
      Float32Array.from({ length: 1_000 }, (_, i) => i),
      1_000,
    ),
    join: { from: 400, to: 500 },
  };

  it('goes round and round', () => {
    const heard = repeatLoop(loop, 2.5).channels[0]!;
    expect(heard.length).toBe(2_500);
    for (const i of [0, 999, 1_000, 1_234, 2_499]) expect(heard[i]).toBe(i % 1_000);
  });

  it('of one that is longer plays what surrounds its return', () => {
    const heard = repeatLoop(loop, 0.2).channels[0]!;
    expect([...heard.subarray(98, 103)]).toEqual([998, 999, 0, 1, 2]);
    expect(heard.length).toBe(200);
  });

  it('plays the seam with the same margin on both sides, each round faded', () => {
    const heard = repeatSeam(loop, 0.05, 1).channels[0]!;
    // 100 ms of join and 50 ms on both sides, five times for a second.
    expect(heard.length).toBe(1_000);
    expect(heard[100]).toBe(450);
    expect(heard[300]).toBe(450);
    expect(heard[0]).toBeLessThan(350);
  });
});
