import type { Decibels } from '../../units';
import type { Sibling, Sound, Sway } from '../schema';
import { copySound, FreshNames } from './copies';
import { checkSways, defineEdit, EditError, soundOf, takeId } from './edit';
import { settleSways } from './sways';

type SiblingDraws = Readonly<NonNullable<Sibling['draws']>>;

/** Where a sibling keeps a level of its own. */
const soundGain = 'sound/gain';

/** `Omit` over each member of a union. */
type WithoutId<S> = S extends unknown ? Omit<S, 'id'> : never;
export type NewSway = WithoutId<Sway>;

/** Adds a sway, or replaces the one at the same address. */
export const setSway = defineEdit<{ sound: string; sway: NewSway; label: string }>({
  label: ({ label }) => label,
  apply: (draft, { sound, sway }) => {
    const target = soundOf(draft, sound);
    const { sways } = target.family;
    const index = sways.findIndex((candidate) => candidate.address === sway.address);
    const known = sways[index];
    if (!known) sways.push({ ...sway, id: takeId(draft, 'sway') });
    else sways[index] = { ...(known.like !== undefined && { like: known.like }), ...sway, id: known.id };
    checkSways(target);
  },
});

/** Replaces every sway that is not locked; used by the ready strengths. */
export const setSways = defineEdit<{ sound: string; sways: readonly NewSway[]; label: string }>({
  label: ({ label }) => label,
  apply: (draft, { sound, sways }) => {
    const target = soundOf(draft, sound);
    const { family } = target;
    const locked = family.sways.filter((sway) => sway.locked);
    const taken = new Set(locked.map((sway) => sway.address));
    const added = sways.filter((sway) => !taken.has(sway.address)).map((sway) => ({ ...sway, id: takeId(draft, 'sway') }));
    family.sways = [...locked, ...added];
    settleSways(target);
    checkSways(target);
  },
});

export const removeSway = defineEdit<{ sound: string; sway: string }>({
  label: () => 'Remove sway',
  apply: (draft, { sound, sway }) => {
    const { family } = soundOf(draft, sound);
    const index = family.sways.findIndex((candidate) => candidate.id === sway);
    if (index < 0) throw new EditError(`There is no sway “${sway}”.`);
    family.sways.splice(index, 1);
    settleSways(soundOf(draft, sound));
  },
});

/** Another seed or another size; siblings that are kept stay. */
export const setFamily = defineEdit<{ sound: string; seed?: number; size?: number }>({
  label: ({ seed, size }) => (size !== undefined ? `Family of ${size}` : `Seed ${seed ?? ''}`),
  apply: (draft, { sound, seed, size }) => {
    const { family } = soundOf(draft, sound);
    if (seed !== undefined) family.seed = seed >>> 0;
    if (size === undefined) return;
    if (!(size >= 0 && size <= 1_000)) throw new EditError(`A family has 0 to 1000 siblings, not ${size}.`);
    family.siblings.length = Math.min(family.siblings.length, size);
    while (family.siblings.length < size) family.siblings.push({ roll: 0, state: 'open' });
  },
});

/** Keeps, drops or reopens a sibling. A kept one remembers its draws. */
export const judgeSibling = defineEdit<{
  sound: string;
  index: number;
  state: 'open' | 'kept' | 'dropped';
  draws?: SiblingDraws;
}>({
  label: ({ index, state }) => `${state === 'kept' ? 'Keep' : state === 'dropped' ? 'Drop' : 'Reopen'} sibling ${index + 1}`,
  apply: (draft, { sound, index, state, draws }) => {
    const { siblings } = soundOf(draft, sound).family;
    const sibling = siblings[index];
    if (!sibling) throw new EditError(`There is no sibling ${index + 1}.`);
    siblings[index] = { roll: sibling.roll, state, ...(state === 'kept' && draws && { draws: { ...draws } }) };
  },
});

/** Keeps every sibling that nobody has judged yet; each remembers its draws. */
export const keepOpen = defineEdit<{ sound: string; draws: readonly SiblingDraws[] }>({
  label: () => 'Keep all siblings',
  apply: (draft, { sound, draws }) => {
    const { siblings } = soundOf(draft, sound).family;
    siblings.forEach((sibling, i) => {
      if (sibling.state === 'open') siblings[i] = { roll: sibling.roll, state: 'kept', draws: { ...draws[i] } };
    });
  },
});

/** Rolls one sibling again, or every one that is not kept. */
export const rollAgain = defineEdit<{ sound: string; index?: number }>({
  label: ({ index }) => (index === undefined ? 'Re-roll the rest' : `Re-roll sibling ${index + 1}`),
  apply: (draft, { sound, index }) => {
    const { siblings } = soundOf(draft, sound).family;
    siblings.forEach((sibling, i) => {
      if (index === undefined ? sibling.state !== 'kept' : i === index) siblings[i] = { roll: sibling.roll + 1, state: 'open' };
    });
  },
});

/** Keeps some siblings with their draws; others that were kept are open again, those that are dropped stay so. */
export const keepBest = defineEdit<{ sound: string; kept: readonly { index: number; draws: SiblingDraws }[] }>({
  label: ({ kept }) => `Keep the best ${kept.length}`,
  apply: (draft, { sound, kept }) => {
    const { siblings } = soundOf(draft, sound).family;
    const chosen = new Map(kept.map(({ index, draws }) => [index, draws]));
    for (const index of chosen.keys()) if (!siblings[index]) throw new EditError(`There is no sibling ${index + 1}.`);
    siblings.forEach(({ roll, state }, index) => {
      const draws = chosen.get(index);
      if (draws) siblings[index] = { roll, state: 'kept', draws: { ...draws } };
      else if (state === 'kept') siblings[index] = { roll, state: 'open' };
    });
  },
});

/** Raises or lowers kept siblings: the gain of the whole sound is among what they drew. */
export const levelSiblings = defineEdit<{ sound: string; changes: readonly { index: number; gain: Decibels }[] }>({
  label: () => 'Even out the siblings',
  apply: (draft, { sound, changes }) => {
    const { siblings } = soundOf(draft, sound).family;
    for (const { index, gain } of changes) {
      const draws = siblings[index]?.draws;
      if (!draws) throw new EditError(`Sibling ${index + 1} is not kept; only kept ones have a level of their own.`);
      const own = draws[soundGain];
      draws[soundGain] = (typeof own === 'number' ? own : 0) + gain;
    }
  },
});

/** Makes a sibling a sound of its own; `realised` is the sound with that sibling's draws taken. */
export const siblingToSound = defineEdit<{ sound: string; index: number; realised: Sound }>({
  label: ({ sound, index }, project) => `A sound of sibling ${index + 1} of “${soundOf(project, sound).name}”`,
  apply: (draft, { sound, index, realised }) => {
    const { name, family } = soundOf(draft, sound);
    if (!family.siblings[index]) throw new EditError(`“${name}” has no sibling ${index + 1}.`);
    const copy = copySound(realised, `${name} ${index + 1}`, new FreshNames((kind) => takeId(draft, kind)));
    draft.sounds.splice(draft.sounds.findIndex(({ id }) => id === sound) + 1, 0, copy);
  },
});
