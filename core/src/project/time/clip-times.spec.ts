import { edited, projectWith } from '../../testing/project';
import { mono, noise } from '../../testing/signals';
import { crossfadePairs, crossfadesOf } from './clip-times';

const extents = (...pairs: [number, number][]) => pairs.map(([start, end]) => ({ start, end }));

describe('crossfades of a layer', () => {
  it('lie where the end of one clip overlaps the beginning of the next', () => {
    expect(crossfadePairs(extents([0, 2], [1.5, 3], [3, 4]))).toEqual([extents([0, 2], [1.5, 3])]);
    expect(crossfadePairs(extents([0, 2], [1, 3], [2.5, 4])).length).toBe(2);
  });

  it('leave out clips within others, and those that begin together', () => {
    expect(crossfadePairs(extents([0, 5], [1, 2], [4, 6]))).toEqual([extents([0, 5], [4, 6])]);
    expect(crossfadePairs(extents([0, 2], [0, 3]))).toEqual([]);
  });

  it('are found whatever the order of the clips, and not where overlaps add up', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(48_000)) });
    const sound = project.sounds[0]!.id;
    const [layer] = project.sounds[0]!.layers;
    const added = edited(project, 'addClip', { sound, layer: layer!.id, source: project.sources[0]!.id, start: 0.75 });
    const clips = [...added.sounds[0]!.layers[0]!.clips].reverse();
    expect(crossfadesOf({ overlaps: 'crossfade', clips })).toEqual([{ from: 0.75, to: 1 }]);
    expect(crossfadesOf({ overlaps: 'sum', clips })).toEqual([]);
  });
});
