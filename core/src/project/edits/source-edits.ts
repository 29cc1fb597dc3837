import type { Seconds } from '../../units';
import type { Origin, Region, Role, Source } from '../schema';
import { cleanName, defineEdit, EditError, sourceOf, takeId } from './edit';
import { fitLoop } from './clip-edits';
import { alternativeSources, usedSources } from '../chain/references';

/** A source without ids, as an import makes it. */
export type NewSource = Omit<Source, 'id' | 'regions'> & { readonly regions: readonly Omit<Region, 'id'>[] };

/** Takes sources into the project; `made` says that they were made here out of others. */
export const addSources = defineEdit<{ sources: readonly NewSource[]; made?: boolean }>({
  label: ({ sources, made }) =>
    `${made ? 'Make' : 'Import'} ${sources.length === 1 ? `“${sources[0]?.name ?? ''}”` : `${sources.length} sources`}`,
  apply: (draft, { sources }) => {
    for (const source of sources)
      draft.sources.push({
        ...source,
        tags: [...source.tags],
        cues: source.cues.map((cue) => ({ ...cue })),
        regions: source.regions.map((region) => ({ ...region, id: takeId(draft, 'region') })),
        origin: { ...source.origin },
        id: takeId(draft, 'source'),
      });
  },
});

export const renameSource = defineEdit<{ source: string; name: string }>({
  label: ({ name }) => `Rename source to “${name}”`,
  apply: (draft, { source, name }) => {
    sourceOf(draft, source).name = cleanName(name);
  },
});

export const setSourceRole = defineEdit<{ sources: readonly string[]; role: Role | undefined }>({
  label: ({ sources, role }) => `${role ? `Role ${role}` : 'No role'}${sources.length === 1 ? '' : ` for ${sources.length} sources`}`,
  apply: (draft, { sources, role }) => {
    for (const source of sources) {
      const target = sourceOf(draft, source);
      if (role) target.role = role;
      else delete target.role;
    }
  },
});

export const setSourceTags = defineEdit<{ source: string; tags: readonly string[] }>({
  label: () => 'Change tags',
  apply: (draft, { source, tags }) => {
    sourceOf(draft, source).tags = cleanTags(tags);
  },
});

/** Gives tags to several sources and takes others from them; what else they have stays. */
export const tagSources = defineEdit<{ sources: readonly string[]; add: readonly string[]; remove: readonly string[] }>({
  label: ({ sources }) => `Tags of ${sources.length} sources`,
  apply: (draft, { sources, add, remove }) => {
    for (const source of sources) {
      const target = sourceOf(draft, source);
      target.tags = cleanTags([...target.tags.filter((tag) => !remove.includes(tag)), ...add]);
    }
  },
});

/** Each tag once, without the space around it. */
function cleanTags(tags: readonly string[]): string[] {
  return [...new Set(tags.map((tag) => tag.trim().slice(0, 60)).filter(Boolean))].slice(0, 100);
}

export const setSourceNotes = defineEdit<{ source: string; notes: string }>({
  label: () => 'Change notes',
  apply: (draft, { source, notes }) => {
    sourceOf(draft, source).notes = notes.slice(0, 10_000);
  },
});

/** What is known of a source's origin beyond its file: recordist, licence note, date. Empty text takes a note away. */
export const setSourceOrigin = defineEdit<{ source: string; origin: Partial<Pick<Origin, 'recordist' | 'licence' | 'date'>> }>({
  label: () => 'Change origin notes',
  apply: (draft, { source, origin }) => {
    const target = sourceOf(draft, source).origin;
    for (const key of ['recordist', 'licence', 'date'] as const) {
      const value = origin[key];
      if (value === undefined) continue;
      if (value.trim() === '') delete target[key];
      else target[key] = value.trim().slice(0, key === 'licence' ? 1_000 : key === 'date' ? 40 : 200);
    }
  },
});

const shortestRegion: Seconds = 0.005;

/** Adds good parts of a source as named regions, kept in the order of time. */
export const addRegions = defineEdit<{ source: string; regions: readonly Omit<Region, 'id'>[] }>({
  label: ({ regions }) => (regions.length === 1 ? `Region “${regions[0]!.name}”` : `Add ${regions.length} regions`),
  apply: (draft, { source, regions }) => {
    const target = sourceOf(draft, source);
    const end = target.frames / draft.sampleRate;
    if (target.regions.length + regions.length > 5_000) throw new EditError(`“${target.name}” would have more than 5000 regions.`);
    for (const region of regions) {
      const from = Math.max(0, Math.min(end, region.from));
      const to = Math.max(0, Math.min(end, region.to));
      if (to - from < shortestRegion) throw new EditError(`The region “${region.name}” is shorter than 5 ms.`);
      target.regions.push({ id: takeId(draft, 'region'), name: cleanName(region.name), from, to });
    }
    target.regions.sort((a, b) => a.from - b.from);
  },
});

export const setRegion = defineEdit<{ source: string; region: string; change: Partial<Omit<Region, 'id'>> }>({
  label: ({ source, region }, project) => `Change region “${regionOf(sourceOf(project, source), region).name}”`,
  apply: (draft, { source, region: id, change }) => {
    const target = sourceOf(draft, source);
    const region = regionOf(target, id);
    const end = target.frames / draft.sampleRate;
    if (change.name !== undefined) region.name = cleanName(change.name);
    if (change.from !== undefined) region.from = Math.max(0, Math.min(change.from, region.to - shortestRegion));
    if (change.to !== undefined) region.to = Math.min(end, Math.max(change.to, region.from + shortestRegion));
    target.regions.sort((a, b) => a.from - b.from);
  },
});

export const removeRegions = defineEdit<{ source: string; regions: readonly string[] }>({
  label: ({ regions }) => (regions.length === 1 ? 'Remove region' : `Remove ${regions.length} regions`),
  apply: (draft, { source, regions }) => {
    const target = sourceOf(draft, source);
    target.regions = target.regions.filter((region) => !regions.includes(region.id));
  },
});

function regionOf(source: Source, id: string): Region {
  const region = source.regions.find((candidate) => candidate.id === id);
  if (!region) throw new EditError(`There is no region “${id}” in “${source.name}”.`);
  return region;
}

/** Gives a source whose audio is missing, or was recorded anew, other audio. Clips keep their places; what lies beyond the end is silent. */
export const relinkSource = defineEdit<{ source: string; audio: string; frames: number; channels: number; origin: Origin }>({
  label: ({ source }, project) => `Relink “${sourceOf(project, source).name}”`,
  apply: (draft, { source, audio, frames, channels, origin }) => {
    const found = sourceOf(draft, source);
    Object.assign(found, { audio, frames, channels, origin: { ...origin } });
    const end = frames / draft.sampleRate;
    if (found.loop && found.loop.to > end) delete found.loop;
    for (const sound of draft.sounds)
      for (const layer of sound.layers) for (const clip of layer.clips) if (clip.source === source) fitLoop(clip, end);
  },
});

/** Removes sources that no clip, no sibling and no recipe of a print uses. Throws EditError when one is in use. */
export const removeSources = defineEdit<{ sources: readonly string[] }>({
  label: ({ sources }, project) =>
    sources.length === 1 ? `Remove source “${sourceOf(project, sources[0]!).name}”` : `Remove ${sources.length} sources`,
  apply: (draft, { sources }) => {
    for (const source of sources) {
      const found = sourceOf(draft, source);
      const users = draft.sounds.filter((sound) => usedSources(sound).has(source) || alternativeSources(sound).has(source));
      if (users.length > 0)
        throw new EditError(`“${found.name}” is used in ${users.map((sound) => `“${sound.name}”`).join(', ')}; take it away there first.`);
      const prints = draft.sources.filter(
        (other) => !sources.includes(other.id) && other.origin.print?.sources.some(({ id }) => id === source),
      );
      if (prints.length > 0)
        throw new EditError(`“${found.name}” is needed by the recipe of ${prints.map((print) => `“${print.name}”`).join(', ')}.`);
      for (const sound of draft.sounds) if (sound.guide?.source === source) delete sound.guide;
      draft.sources.splice(draft.sources.indexOf(found), 1);
    }
  },
});
