import { pitchAt, trackPart, trackRecording } from './pitch-track';
import { sung } from '../testing/signals';
import type { Recording } from '../audio/recording';
import { inMemory } from '../audio/recording';

const rate = 48_000;

describe('the pitch of a part of a recording', () => {
  it('follows a glide', () => {
    const glide = (time: number): number => 57 + 5 * time;
    const track = trackPart(sung(2, glide), 0, 2, 0.01);
    for (let time = 0.1; time < 1.9; time += 0.037) expect(Math.abs(pitchAt(track, time).note! - glide(time))).toBeLessThan(0.05);
  });

  it('is the same whether all or a part is looked at', async () => {
    const audio = sung(2, (time) => 60 + Math.sin(9 * time));
    const whole = trackPart(audio, 0, 2, 0.01);
    const part = trackPart(audio, 0.5, 1.2, 0.01);
    expect(part.notes).toEqual(whole.notes.slice(50, 120));
    // Read where it lies, no more than that takes.
    let read = 0;
    const recording = inMemory(audio);
    const counted: Recording = { ...recording, read: (from, to) => ((read += to - from), recording.read(from, to)) };
    expect(await trackRecording(counted, 0.5, 1.2, 0.01)).toEqual(part);
    expect(read).toBeLessThan(0.85 * rate);
  });

  it('is nothing in silence and in noise', () => {
    let seed = 1;
    const noise = Float32Array.from({ length: rate }, () => ((seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5) * 0.5);
    const track = trackPart({ sampleRate: rate, channels: [noise] }, 0, 1, 0.01);
    expect([...track.notes].filter((note) => !Number.isNaN(note)).length).toBeLessThan(3);
    const silence = trackPart({ sampleRate: rate, channels: [new Float32Array(rate)] }, 0, 1, 0.01);
    expect(silence.notes.every(Number.isNaN)).toBe(true);
    expect(pitchAt(silence, 0.5)).toEqual({ note: undefined, confidence: 0 });
  });

  it('leaps where the sound leaps', () => {
    const track = trackPart(
      sung(1, (time) => (time < 0.5 ? 57 : 64)),
      0,
      1,
      0.01,
    );
    expect(pitchAt(track, 0.3).note).toBeCloseTo(57, 1);
    expect(pitchAt(track, 0.7).note).toBeCloseTo(64, 1);
    for (let time = 0.4; time < 0.6; time += 0.003) {
      const { note } = pitchAt(track, time);
      if (note !== undefined) expect(Math.min(Math.abs(note - 57), Math.abs(note - 64))).toBeLessThan(0.6);
    }
  });

  it('puts frames that slip by an octave where the others are', () => {
    // For 20 ms the odd partials vanish: what repeats there repeats an octave higher.
    const audio = sung(1, () => 57);
    const octave = sung(1, () => 69).channels[0]!;
    audio.channels[0]!.set(octave.subarray(24_000, 27_000), 24_000);
    const track = trackPart(audio, 0, 1, 0.01);
    for (const note of track.notes) if (!Number.isNaN(note)) expect(Math.abs(note - 57)).toBeLessThan(1);
  });

  it('reaches to the ends of recordings of any length', () => {
    expect(
      pitchAt(
        trackPart(
          sung(0.2, () => 69),
          0,
          0.2,
          0.01,
        ),
        0,
      ).note,
    ).toBeCloseTo(69, 1);
    expect(trackPart({ sampleRate: rate, channels: [new Float32Array(1)] }, 0, 1 / rate, 0.01).notes).toHaveLength(1);
  });
});
