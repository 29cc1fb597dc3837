import { createSound } from '../create';
import type { Sound } from '../schema';
import { cleanName, defineEdit, soundOf, takeId } from './edit';

export const renameProject = defineEdit<{ name: string }>({
  label: () => 'Rename project',
  apply: (draft, { name }) => {
    draft.name = cleanName(name);
  },
});

export const addSound = defineEdit<{ name: string }>({
  label: ({ name }) => `New sound “${name}”`,
  apply: (draft, { name }) => {
    draft.sounds.push(emptyLike(createSound(takeId(draft, 'sound'), cleanName(name))));
  },
});

/** A sound with the same settings and without content. What sounds share as constants must not be shared inside a draft. */
export function emptyLike(sound: Sound): Sound {
  return {
    ...sound,
    layers: [],
    buses: [],
    chain: [],
    automation: [],
    movers: [],
    pulls: [],
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
    for (const { play } of draft.conduct.behaviours) if (play.kind === 'one' && play.sound === sound) play.sound = '';
    for (const delivery of draft.deliveries) delivery.sounds = delivery.sounds?.filter((id) => id !== sound);
  },
});
