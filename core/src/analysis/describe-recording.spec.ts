import type { Audio } from '../audio/audio';
import { inMemory } from '../audio/recording';
import { Cancelled } from '../cancelled';
import { noise } from '../testing/signals';
import { describeCharacter } from './character';
import { describeRecording } from './describe-recording';
import { measure } from './loudness/measure';

const sampleRate = 8_000;

/** 300 s of wind in stereo, with a silence across one border between stretches, and a click on the other. */
function wind(): Audio {
  const frames = 300 * sampleRate;
  const left = noise(frames, 1, -30);
  const right = noise(frames, 2, -36);
  for (const channel of [left, right]) channel.fill(0, 117 * sampleRate, 126 * sampleRate);
  left[240 * sampleRate + 3] = 0.9;
  left[10 * sampleRate] = 0.9;
  return { sampleRate, channels: [left, right] };
}

describe('describing a recording that is too long to be held', () => {
  const audio = wind();
  let read = 0;
  const recording = inMemory(audio);
  const counted = {
    ...recording,
    read: (from: number, to: number) => {
      read = Math.max(read, to - from);
      return recording.read(from, to);
    },
  };

  it('measures what the whole would, without holding it', async () => {
    const { measured, character } = await describeRecording(counted);
    expect(read).toBeLessThanOrEqual(128 * sampleRate);
    const whole = measure(audio);
    expect(measured.frames).toBe(whole.frames);
    for (const key of ['integratedLufs', 'maxMomentaryLufs', 'loudnessRangeLu', 'truePeakDbtp', 'samplePeakDbfs', 'rmsDbfs'] as const)
      expect(measured[key]).toBeCloseTo(whole[key], 9);
    const { defects, ...rest } = describeCharacter(audio);
    expect(character).toMatchObject({ ...rest, correlation: expect.closeTo(rest.correlation, 9), leansLeft: expect.closeTo(6, 0) });
    expect(defects.map(({ kind }) => kind)).toEqual(['click', 'long silence', 'click']);
    expect(character.defects.map(({ kind, from, to }) => [kind, from.toFixed(2), to.toFixed(2)])).toEqual([
      ['click', '10.00', '10.00'],
      ['long silence', '117.00', '126.00'],
      ['click', '240.00', '240.00'],
    ]);
    expect(character.defects[1]!.detail).toBe('9.0 s of silence');
  });

  it('is the same as measuring at once where that is short', async () => {
    const short = { sampleRate, channels: [noise(4_000, 3)] };
    expect(await describeRecording(inMemory(short))).toEqual({ measured: measure(short), character: describeCharacter(short) });
  });

  it('stops when it is told to', async () => {
    await expect(describeRecording(recording, () => false)).rejects.toThrow(Cancelled);
  });
});
