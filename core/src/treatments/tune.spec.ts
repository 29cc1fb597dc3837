import fc from 'fast-check';
import type { Audio } from '../audio/audio';
import { pitchAt, trackPart } from '../analysis/pitch-track';
import { sung } from '../testing/signals';
import { plainStretch } from '../project/create';
import { clipNote, heardPitchAt } from './heard-pitch';
import { simplified } from './simplified-curve';
import type { Treatment } from './treatment';
import { makeTreated, showTreated } from './treat-clip';
import type { TuneOptions, TuneTarget, Tuning } from './tune';
import { tuneClip } from './tune';

const rate = 48_000;

const whole = (audio: Audio, more: Partial<Treatment> = {}): Treatment => ({
  offset: 0,
  length: audio.channels[0]!.length / rate,
  speed: 0,
  reversed: false,
  ...plainStretch,
  method: 'tones',
  ...more,
});
const hard: TuneOptions = { amount: 1, follow: true, time: 0, keepVibrato: false };

function tuned(audio: Audio, target: TuneTarget, options: TuneOptions, more: Partial<Treatment> = {}) {
  const clip = whole(audio, more);
  const track = trackPart(audio, 0, audio.channels[0]!.length / rate, 0.01);
  const tuning = tuneClip(clip, (time) => pitchAt(track, time), target, options);
  if ('reason' in tuning) throw new Error(tuning.reason);
  return { tuning, clip: { ...clip, pitch: tuning.pitch, ...(tuning.points.length > 0 && { curves: { pitch: [...tuning.points] } }) } };
}

/** The pitch of what is heard of a clip, in steps of 20 ms, without its ends. */
function heardOf(audio: Audio, clip: Treatment): number[] {
  const made = showTreated(makeTreated(audio, clip), clip);
  const duration = made.channels[0]!.length / rate;
  const track = trackPart(made, 0, duration, 0.02);
  return [...track.notes].slice(6, -6);
}

describe('a clip tuned', () => {
  it('to a note sounds as that note at every moment', () => {
    const audio = sung(1.5, (time) => 56.3 + 0.8 * time);
    const { clip } = tuned(audio, { kind: 'note', note: 57, anyOctave: false }, hard);
    for (const note of heardOf(audio, clip)) expect(Math.abs(note - 57)).toBeLessThan(0.04);
  });

  it('to a note in the nearest octave moves by half an octave at most', () => {
    const audio = sung(0.6, () => 44.6);
    const { tuning } = tuned(audio, { kind: 'note', note: 69, anyOctave: true }, { ...hard, follow: false });
    expect(tuning.pitch).toBeCloseTo(0.4, 2);
    expect(tuning).toMatchObject({ points: [], to: expect.closeTo(45, 2) });
  });

  it('keeps its vibrato and loses its drift', () => {
    // 5.5 Hz and 40 cents to either side, on a tone that sinks by 60 cents.
    const audio = sung(2, (time) => 57.4 - 0.3 * time + 0.4 * Math.sin(2 * Math.PI * 5.5 * time));
    const { clip } = tuned(audio, { kind: 'note', note: 57, anyOctave: false }, { ...hard, keepVibrato: true });
    const heard = heardOf(audio, clip);
    const mean = heard.reduce((sum, note) => sum + note, 0) / heard.length;
    expect(Math.abs(mean - 57)).toBeLessThan(0.03);
    const swing = Math.sqrt((2 * heard.reduce((sum, note) => sum + (note - mean) ** 2, 0)) / heard.length);
    expect(swing).toBeGreaterThan(0.34);
    expect(swing).toBeLessThan(0.43);
    const flat = heardOf(audio, tuned(audio, { kind: 'note', note: 57, anyOctave: false }, hard).clip);
    for (const note of flat) expect(Math.abs(note - 57)).toBeLessThan(0.12);
  });

  it('to a scale moves from one of its notes to the next', () => {
    const audio = sung(2, (time) => 60.2 + 2.5 * time);
    const { clip } = tuned(audio, { kind: 'scale', scale: { root: 0, kind: 'major' } }, hard);
    const heard = heardOf(audio, clip);
    const near = heard.filter((note) => [60, 62, 64, 65].some((step) => Math.abs(note - step) < 0.1));
    expect(near.length / heard.length).toBeGreaterThan(0.85);
    expect(new Set(near.map(Math.round))).toEqual(new Set([60, 62, 64, 65]));
  });

  it('to another sound goes along with it, in its own octave', () => {
    const audio = sung(1.5, () => 50);
    const theirs = (time: number): number => 73 + 2 * time;
    const { clip } = tuned(audio, { kind: 'sound', noteAt: theirs }, hard);
    heardOf(audio, clip).forEach((note, n) => expect(Math.abs(note - (theirs(0.02 * (n + 6)) - 24))).toBeLessThan(0.06));
  });

  it('half way is half as far off', () => {
    const audio = sung(1, () => 57.4);
    const { clip } = tuned(audio, { kind: 'note', note: 57, anyOctave: false }, { ...hard, amount: 0.5 });
    for (const note of heardOf(audio, clip)) expect(note).toBeCloseTo(57.2, 1);
  });

  it('takes its time with what is off beside the whole', () => {
    const audio = sung(2, (time) => (time < 1 ? 57 : 57.8));
    const { tuning } = tuned(audio, { kind: 'note', note: 57, anyOctave: false }, { ...hard, time: 0.4 });
    const at = (place: number): number => tuning.pitch + tuning.points.findLast((point) => point.at <= place)!.value;
    expect(at(1.02)).toBeGreaterThan(-0.2);
    expect(at(1.6)).toBeLessThan(-0.7);
  });

  it('backwards, faster and from a later place is in tune as well', () => {
    const audio = sung(2, (time) => 57 + 0.9 * Math.sin(4 * time));
    const more = { offset: 0.5, length: 1.2, reversed: true, speed: -5 } as const;
    const { clip } = tuned(audio, { kind: 'note', note: 48, anyOctave: false }, hard, more);
    for (const note of heardOf(audio, clip)) expect(Math.abs(note - 48)).toBeLessThan(0.06);
  });

  it('says so where nothing has a pitch', () => {
    let seed = 7;
    const noise = Float32Array.from({ length: rate }, () => ((seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5) * 0.5);
    for (const samples of [noise, new Float32Array(rate), new Float32Array(1)]) {
      const audio = { sampleRate: rate, channels: [samples] };
      const track = trackPart(audio, 0, samples.length / rate, 0.01);
      const target = { kind: 'note', note: 57, anyOctave: true } as const;
      const tuning = tuneClip(whole(audio), (time) => pitchAt(track, time), target, hard);
      expect(tuning).toMatchObject({ reason: expect.stringMatching(/^No pitch to tune/) });
    }
  });

  it('says so where the other has no pitch', () => {
    const audio = sung(0.5, () => 57);
    const track = trackPart(audio, 0, 0.5, 0.01);
    const tuning = tuneClip(whole(audio), (time) => pitchAt(track, time), { kind: 'sound', noteAt: () => undefined }, hard);
    expect(tuning).toMatchObject({ reason: expect.stringMatching(/no pitch at the same time/) });
  });
});

describe('the pitch of a clip', () => {
  it('is that of its source, moved by speed, pitch and their curves', () => {
    const audio = sung(2, (time) => 57 + time);
    const track = trackPart(audio, 0, 2, 0.01);
    const clip = whole(audio, { offset: 0.4, length: 1.2, speed: 12, pitch: -3, reversed: true, curves: { pitch: [{ at: 0, value: 1 }] } });
    const heard = heardPitchAt(clip, (time) => pitchAt(track, time), 0.25);
    // A quarter of a second at double speed, backwards from 1.6 s.
    expect(heard?.note).toBeCloseTo(57 + 1.1 + 12 - 3 + 1, 1);
    expect(heardPitchAt(clip, () => ({ note: 57, confidence: 1 }), 0.7)).toBeUndefined();
  });
});

describe('the pitch of a clip as a whole', () => {
  it('is the middle of what has one', () => {
    const audio = sung(1, (time) => (time < 0.3 ? undefined : 50));
    const track = trackPart(audio, 0, 1, 0.01);
    expect(clipNote(whole(audio, { pitch: 7 }), (time) => pitchAt(track, time))).toBeCloseTo(57, 1);
    expect(clipNote(whole(audio, { length: 0.2 }), (time) => pitchAt(track, time))).toBeUndefined();
  });
});

describe('a simplified curve', () => {
  it('stays as near as it is told, with its ends', () => {
    const anyCurve = fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 2, maxLength: 200 });
    fc.assert(
      fc.property(anyCurve, (values) => {
        const points = values.map((value, at) => ({ at, value }));
        const kept = simplified(points, 0.2, 1_000);
        expect(kept[0]).toEqual(points[0]);
        expect(kept.at(-1)).toEqual(points.at(-1));
        for (const { at, value } of points) {
          const next = kept.findIndex((point) => point.at >= at);
          const [from, to] = [kept[Math.max(0, next - 1)]!, kept[next]!];
          const along = to.at === from.at ? to.value : from.value + ((to.value - from.value) * (at - from.at)) / (to.at - from.at);
          expect(Math.abs(along - value)).toBeLessThanOrEqual(0.2 + 1e-9);
        }
      }),
    );
  });

  it('has no more points than are allowed', () => {
    const points: Tuning['points'] = Array.from({ length: 2_000 }, (_, at) => ({ at, value: at % 2 }));
    expect(simplified(points, 0.001, 900).length).toBeLessThanOrEqual(900);
  });
});
