import { edited, projectWith } from '../../testing/project';
import { mono, noise } from '../../testing/signals';
import { clipEnd, syncTime } from '../time/clip-times';
import type { Clip, Project } from '../schema';

const rate = 48_000;
const recordings = { Crack: mono(noise(rate)), Short: mono(noise(0.3 * rate)), Long: mono(noise(3 * rate)) };
const { project } = projectWith(recordings);
const sound = project.sounds[0]!.id;
const [crack] = project.sounds[0]!.layers;
const clip = crack!.clips[0]!.id;
const [, short, long] = project.sources.map(({ id }) => id) as [string, string, string];
const clipOf = (from: Project): Clip => from.sounds[0]!.layers[0]!.clips[0]!;
const replace = (from: Project, source: string, attack?: number): Clip =>
  clipOf(edited(from, 'replaceRecording', { sound, clips: [clip], source, ...(attack !== undefined && { attack }) }));

describe('replacing the recording of a clip', () => {
  let treated = edited(project, 'moveClips', { sound, to: [{ clip, start: 2 }] });
  treated = edited(treated, 'setValues', {
    sound,
    values: { [`layer/${crack!.id}/clip/${clip}/speed`]: -3, [`layer/${crack!.id}/clip/${clip}/gain`]: -4 },
    label: 'Treat',
  });
  treated = edited(treated, 'fadeClips', { sound, clips: [clip], side: 'out', length: 0.1 });

  it('keeps where it is, its speed, its level and its fades, and shows all of the new one', () => {
    const after = replace(treated, long);
    expect(after).toMatchObject({ source: long, start: 2, speed: -3, gain: -4, offset: 0, length: 3, fadeOut: { length: 0.1 } });
    expect(replace(treated, short)).toMatchObject({ source: short, start: 2, length: 0.3 });
  });

  it('keeps a part as long as it was, as far as the new one reaches', () => {
    const trimmed = edited(project, 'trimClips', { sound, side: 'end', to: [{ clip, time: 0.6 }] });
    expect(replace(trimmed, long).length).toBeCloseTo(0.6, 6);
    expect(replace(trimmed, short).length).toBeCloseTo(0.3, 6);
  });

  it('lands where it landed, by the attack of the new one', () => {
    let landing = edited(project, 'moveClips', { sound, to: [{ clip, start: 1 }] });
    landing = edited(landing, 'setSyncPoints', { sound, to: [{ clip, sync: { at: 0.25, kind: 'transient' } }] });
    for (const attack of [0.05, 0.25, 1.4]) {
      const after = replace(landing, long, attack);
      expect(syncTime(after)).toBeCloseTo(1.25, 9);
      expect(after.sync).toEqual({ at: attack, kind: 'transient' });
      expect(clipEnd(after)).toBeGreaterThan(1.25);
    }
  });

  it('refuses a locked clip', () => {
    const locked = edited(project, 'lockClips', { sound, clips: [clip], locked: true });
    expect(() => replace(locked, long)).toThrow('is locked');
  });
});
