import { ArrangeBench } from '../../testing/arrange-bench';
import { mono, noise } from '../../testing/signals';
import { sourceToAxis } from '../time/clip-times';

describe('pins on a mark', () => {
  const pinned = () => {
    const at = new ArrangeBench(mono(noise(2 * 48_000)));
    at.do('moveClips', { to: [{ clip: at.clip.id, start: 1 }] });
    at.do('addMarks', { marks: [{ name: 'Slab lets go', time: 1.8 }] });
    at.do('setPins', {
      clip: at.clip.id,
      pins: [
        { at: 0.5, time: 0.8 },
        { at: 1.5, time: 2 },
      ],
    });
    const mark = at.project.sounds[0]!.marks[0]!.id;
    return { at, move: (time: number) => at.do('setMark', { mark, change: { time } }) };
  };

  it('move with it, and what lies around them stretches', () => {
    const { at, move } = pinned();
    move(2.3);
    expect(sourceToAxis(at.clip, 0.5)).toBeCloseTo(2.3, 9);
    expect(sourceToAxis(at.clip, 1.5)).toBeCloseTo(3, 9);
    move(1.4);
    expect(sourceToAxis(at.clip, 0.5)).toBeCloseTo(1.4, 9);
  });

  it('go no farther than the pins beside them', () => {
    const { at, move } = pinned();
    move(9);
    expect(at.clip.pins!.map(({ time }) => time)).toEqual([1.999, 2]);
  });

  it('stay where they lie beside the mark, or the clip is locked', () => {
    const beside = pinned();
    beside.at.do('setMark', { mark: beside.at.project.sounds[0]!.marks[0]!.id, change: { name: 'Other' } });
    beside.at.do('setPins', { clip: beside.at.clip.id, pins: [{ at: 0.5, time: 0.81 }] });
    beside.move(3);
    expect(beside.at.clip.pins).toEqual([{ at: 0.5, time: 0.81 }]);
    const locked = pinned();
    locked.at.do('lockClips', { clips: [locked.at.clip.id], locked: true });
    locked.move(3);
    expect(locked.at.clip.pins![0]!.time).toBe(0.8);
  });
});
