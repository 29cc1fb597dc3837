import { effectCatalogue } from '../effects';
import { projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { parseProject } from './parse';
import { documentVersion } from './schema';

/** A document as version 1 wrote it: without what came later. */
function versionOne(): Record<string, unknown> {
  const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
  const plain = JSON.parse(JSON.stringify(project), (key, value: unknown) =>
    ['tempo', 'clock', 'overlaps', 'reversed', 'locked', 'regions', 'cues'].includes(key) ? undefined : value,
  ) as Record<string, unknown>;
  return { ...plain, version: 1 };
}

describe('documents of older versions', () => {
  it('are brought up to date, and sound as they did', () => {
    const project = parseProject(versionOne(), effectCatalogue);
    expect(project.version).toBe(documentVersion);
    const [layer] = project.sounds[0]!.layers;
    // Overlapping clips were summed then.
    expect(layer!.overlaps).toBe('sum');
    expect(layer!.clips[0]).toMatchObject({ reversed: false, locked: false, start: 0 });
    expect(project.sounds[0]!.tempo.bpm).toBe(120);
  });

  it('are refused with the place when they are damaged', () => {
    expect(() => parseProject({ ...versionOne(), sounds: [{ layers: 3 }] }, effectCatalogue)).toThrow('sounds');
    expect(() => parseProject({ ...versionOne(), version: documentVersion + 1 }, effectCatalogue)).toThrow('reads versions 1 to');
  });
});
