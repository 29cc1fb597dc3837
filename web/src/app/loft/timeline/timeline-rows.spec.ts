import type { Project } from '@tangled-choir/core';
import { applyEdit, createProject, editNamed, effectCatalogue, startHistory } from '@tangled-choir/core';
import type { EditArguments, EditName } from '@tangled-choir/core';
import { busHeight, guideHeight, timelineRows } from './timeline-rows';

const make = <N extends EditName>(project: Project, name: N, args: EditArguments<N>): Project =>
  applyEdit(startHistory(project), editNamed(name), args, effectCatalogue).project;

/** Three layers, the last two of them grouped, a shared bus, and a lane for the gain of the first layer and of the sound. */
function example() {
  let project = make(createProject('p', 'Halda'), 'addSources', {
    sources: ['Crack', 'Boom', 'Wind'].map((name) => ({
      kind: 'recording' as const,
      name,
      audio: '0'.repeat(64),
      frames: 48_000,
      channels: 1,
      tags: [],
      notes: '',
      regions: [],
      cues: [],
      origin: { file: `${name}.wav`, sampleRate: 48_000, encoding: '24 bit' },
    })),
  });
  project = make(project, 'addSound', { name: 'Slab' });
  const sound = project.sounds[0]!.id;
  for (const source of project.sources) project = make(project, 'addLayer', { sound, source: source.id, start: 0 });
  const [crack, boom, wind] = project.sounds[0]!.layers.map(({ id }) => id) as [string, string, string];
  project = make(project, 'groupLayers', { sound, layers: [boom, wind], name: 'Low' });
  project = make(project, 'addSharedBus', { sound, name: 'Cavern' });
  project = make(project, 'addAutomation', { sound, address: `layer/${crack}/gain` });
  project = make(project, 'addAutomation', { sound, address: 'sound/gain' });
  return { sound: project.sounds[0]!, crack, group: project.sounds[0]!.buses[0]!.id };
}

/** Every lane has a height of its own. */
const heightOf = (id: string, kind: string): number => (kind === 'layer' ? 50 : 80) + id.length;

const named = (rows: ReturnType<typeof timelineRows>): string[] =>
  rows.map((row) =>
    row.kind === 'layer' ? row.layer.name : row.kind === 'bus' ? row.bus.name : row.kind === 'lane' ? row.lane.address : row.kind,
  );

describe('the rows of the timeline', () => {
  it('are layers, each group above its own, then shared buses and the whole sound', () => {
    const { sound } = example();
    expect(named(timelineRows(sound, new Set(), new Set(), heightOf))).toEqual(['Crack', 'Low', 'Boom', 'Wind', 'Cavern', 'whole']);
  });

  it('hide the layers of a folded group, and show lanes under what they move where they are open', () => {
    const { sound, crack, group } = example();
    const rows = timelineRows(sound, new Set([`layer/${crack}`, 'sound']), new Set([group]), heightOf);
    expect(named(rows)).toEqual(['Crack', `layer/${crack}/gain`, 'Low', 'Cavern', 'whole', 'sound/gain']);
  });

  it('lie below each other without gaps', () => {
    const { sound: plain, crack } = example();
    const sound = { ...plain, guide: { source: 'source-1', start: 0, gain: 0, on: true, repeats: false } };
    const rows = timelineRows(sound, new Set([`layer/${crack}`]), new Set(), heightOf);
    expect(rows[0]!.kind).toBe('guide');
    let top = 0;
    for (const row of rows) {
      expect(row.top).toBe(top);
      const fixed = row.kind === 'guide' ? guideHeight : busHeight;
      const own =
        row.kind === 'layer' ? heightOf(row.layer.id, 'layer') : row.kind === 'lane' ? heightOf(row.lane.id, 'automation') : fixed;
      expect(row.height).toBe(own);
      top += row.height;
    }
  });
});
