import type { Unit } from '../../units';
import { applySnapshot, dropForgotten, morphSnapshots, takeBack, takeSnapshot } from '../chain/chain-states';
import { dropStrangeReferences } from '../chain/references';
import type { ChainState, Snapshot } from '../chain/chain-schema';
import { checkRoom } from './chain-edits';
import type { ChainPlace } from './edit';
import { defineEdit, EditError, ownerOf, soundOf } from './edit';

/** Keeps how a chain stands under a letter. */
export const keepState = defineEdit<ChainPlace & { state: ChainState }>({
  label: ({ sound, owner, state }, project) => `Keep “${ownerOf(soundOf(project, sound), owner).name}” as ${state}`,
  apply: (draft, { sound, owner, state }, catalogue) => {
    const target = ownerOf(soundOf(draft, sound), owner);
    target.states = { ...target.states, [state]: takeSnapshot(target.chain, catalogue) };
    dropForgotten(target);
  },
});

function snapshotOf(states: Partial<Record<ChainState, Snapshot>> | undefined, state: ChainState): Snapshot {
  const found = states?.[state];
  if (!found) throw new EditError(`Nothing is kept as ${state} yet.`);
  return found;
}

/** Brings a chain into a state that was kept. */
export const recallState = defineEdit<ChainPlace & { state: ChainState }>({
  label: ({ state }) => `State ${state}`,
  apply: (draft, { sound, owner, state }, catalogue) => {
    const found = soundOf(draft, sound);
    const target = ownerOf(found, owner);
    const snapshot = snapshotOf(target.states, state);
    takeBack(target, [snapshot]);
    checkRoom(draft, { sound, owner }, target.chain);
    applySnapshot(target.chain, snapshot, catalogue);
    dropStrangeReferences(target.chain, found, draft.sources);
  },
});

/** Brings a chain between two states: `share` 0 is the first, 1 the second. */
export const morphStates = defineEdit<ChainPlace & { from: ChainState; to: ChainState; share: Unit }>({
  label: ({ from, to }) => `Morph ${from} → ${to}`,
  apply: (draft, { sound, owner, from, to, share }, catalogue) => {
    const found = soundOf(draft, sound);
    const target = ownerOf(found, owner);
    const ends = [snapshotOf(target.states, from), snapshotOf(target.states, to)] as const;
    takeBack(target, ends);
    checkRoom(draft, { sound, owner }, target.chain);
    const between = morphSnapshots(target.chain, ...ends, share, catalogue);
    applySnapshot(target.chain, between, catalogue);
    dropStrangeReferences(target.chain, found, draft.sources);
  },
});

/** Forgets a state. */
export const forgetState = defineEdit<ChainPlace & { state: ChainState }>({
  label: ({ state }) => `Forget state ${state}`,
  apply: (draft, { sound, owner, state }) => {
    const target = ownerOf(soundOf(draft, sound), owner);
    snapshotOf(target.states, state);
    delete target.states?.[state];
    dropForgotten(target);
  },
});
