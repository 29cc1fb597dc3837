import { createSound } from '../create';
import type { HandOff, Layer, Role, Sound, Source } from '../schema';
import { cleanName, defineEdit, EditError, soundOf, sourceOf, takeId } from './edit';

export const renameProject = defineEdit<{ name: string }>({
  label: () => 'Rename project',
  apply: (draft, { name }) => {
    draft.name = cleanName(name);
  },
});

export const addSound = defineEdit<{ name: string }>({
  label: ({ name }) => `New sound “${name}”`,
  apply: (draft, { name }) => {
    draft.sounds.push(structuredCloneOfSound(createSound(takeId(draft, 'sound'), cleanName(name))));
  },
});

/** Constants shared between sounds must not be shared inside a draft. */
function structuredCloneOfSound(sound: Sound): Sound {
  return {
    ...sound,
    layers: [],
    chain: [],
    marks: [],
    tempo: { ...sound.tempo },
    clock: { ...sound.clock },
    family: { ...sound.family, sways: [], siblings: [] },
  };
}

export const renameSound = defineEdit<{ sound: string; name: string }>({
  label: ({ name }) => `Rename sound to “${name}”`,
  apply: (draft, { sound, name }) => {
    soundOf(draft, sound).name = cleanName(name);
  },
});

export const removeSound = defineEdit<{ sound: string }>({
  label: ({ sound }, project) => `Remove sound “${soundOf(project, sound).name}”`,
  apply: (draft, { sound }) => {
    draft.sounds.splice(draft.sounds.indexOf(soundOf(draft, sound)), 1);
  },
});

export type NewSource = Omit<Source, 'id'>;

export const addSources = defineEdit<{ sources: readonly NewSource[] }>({
  label: ({ sources }) => (sources.length === 1 ? `Import “${sources[0]?.name ?? ''}”` : `Import ${sources.length} sources`),
  apply: (draft, { sources }) => {
    for (const source of sources)
      draft.sources.push({ ...source, tags: [...source.tags], origin: { ...source.origin }, id: takeId(draft, 'source') });
  },
});

export const renameSource = defineEdit<{ source: string; name: string }>({
  label: ({ name }) => `Rename source to “${name}”`,
  apply: (draft, { source, name }) => {
    sourceOf(draft, source).name = cleanName(name);
  },
});

export const setSourceRole = defineEdit<{ source: string; role: Role | undefined }>({
  label: ({ role }) => (role ? `Role ${role}` : 'No role'),
  apply: (draft, { source, role }) => {
    const found = sourceOf(draft, source);
    if (role) found.role = role;
    else delete found.role;
  },
});

export const setSourceTags = defineEdit<{ source: string; tags: readonly string[] }>({
  label: () => 'Change tags',
  apply: (draft, { source, tags }) => {
    const clean = tags.map((tag) => tag.trim().slice(0, 60)).filter(Boolean);
    sourceOf(draft, source).tags = [...new Set(clean)].slice(0, 100);
  },
});

export const setSourceNotes = defineEdit<{ source: string; notes: string }>({
  label: () => 'Change notes',
  apply: (draft, { source, notes }) => {
    sourceOf(draft, source).notes = notes.slice(0, 10_000);
  },
});

/** Removes a source that no clip uses. */
export const removeSource = defineEdit<{ source: string }>({
  label: ({ source }, project) => `Remove source “${sourceOf(project, source).name}”`,
  apply: (draft, { source }) => {
    const found = sourceOf(draft, source);
    const users = draft.sounds.filter((sound) => sound.layers.some((layer: Layer) => layer.clips.some((clip) => clip.source === source)));
    if (users.length > 0)
      throw new EditError(
        `“${found.name}” is used in ${users.map((sound) => `“${sound.name}”`).join(', ')}; remove its clips there first.`,
      );
    draft.sources.splice(draft.sources.indexOf(found), 1);
  },
});

export const setHandOff = defineEdit<{ settings: Partial<HandOff> }>({
  label: () => 'Change hand-off settings',
  apply: (draft, { settings }) => {
    Object.assign(draft.handOff, settings);
  },
});
