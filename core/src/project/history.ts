import type { Patch } from 'immer';
import { applyPatches, enablePatches, produceWithPatches } from 'immer';
import type { Edit } from './edits';
import { EditError } from './edits/edit';
import type { EffectCatalogue } from './parameters';
import { keyOrder } from './chain/references';
import type { Project } from './schema';

enablePatches();

/** One undo step: its name and the patches both ways. */
export interface HistoryStep {
  readonly label: string;
  readonly forward: readonly Patch[];
  readonly backward: readonly Patch[];
  /** Steps of one gesture (a drag, a turned dial) become one. */
  readonly gesture?: string;
  /** Where it was made, in the words of whoever made it: the view that was open. */
  readonly where?: string;
}

/** A project with what was done to it and what was undone. */
export interface History {
  readonly project: Project;
  readonly past: readonly HistoryStep[];
  readonly future: readonly HistoryStep[];
}

const longestPast = 500;

export function startHistory(project: Project): History {
  return { project, past: [], future: [] };
}

/**
 * Makes an edit. With the `gesture` of the latest step it joins that step, so that one drag is one undo. An edit that changes
 * nothing leaves no step. Throws EditError when the edit cannot be made; the history is then unchanged.
 */
export function applyEdit<A>(
  history: History,
  edit: Edit<A>,
  args: A,
  catalogue: EffectCatalogue,
  gesture?: string,
  where?: string,
): History {
  const label = edit.label(args, history.project, catalogue);
  const [project, forward, backward] = produceWithPatches(history.project, (draft: Project) => edit.apply(draft, args, catalogue));
  if (forward.length === 0) return history;
  checkKeys(history.project, project);
  const last = history.past.at(-1);
  if (gesture !== undefined && last?.gesture === gesture) {
    const joined: HistoryStep = { ...last, ...joinPatches(last, { forward, backward }) };
    return { project, past: [...history.past.slice(0, -1), joined], future: [] };
  }
  const step: HistoryStep = { label, forward, backward, ...(gesture !== undefined && { gesture }), ...(where !== undefined && { where }) };
  return { project, past: [...history.past, step].slice(-longestPast), future: [] };
}

/** Whatever an edit does, layers must not need each other in a circle: nobody could be computed first. */
function checkKeys(before: Project, after: Project): void {
  for (const sound of after.sounds) {
    const former = before.sounds.find(({ id }) => id === sound.id);
    if (sound === former || keyOrder(sound)) continue;
    if (!former || keyOrder(former)) throw new EditError('Layers cannot be keys of each other, or follow each other, in a circle.');
  }
}

type Patches = Pick<HistoryStep, 'forward' | 'backward'>;

/** Patches of two steps in a row. Where both only replace values, one patch per place is enough: a long drag stays small. */
function joinPatches(first: Patches, second: Patches): Patches {
  const forward = [...first.forward, ...second.forward];
  const backward = [...second.backward, ...first.backward];
  const onlyReplaces = [...forward, ...backward].every((patch) => patch.op === 'replace' && patch.path.at(-1) !== 'length');
  if (!onlyReplaces) return { forward, backward };
  return { forward: lastPerPlace(forward), backward: lastPerPlace(backward) };
}

function lastPerPlace(patches: readonly Patch[]): Patch[] {
  const byPlace = new Map<string, Patch>();
  for (const patch of patches) byPlace.set(patch.path.join('/'), patch);
  const kept = [...byPlace.values()];
  // A replaced parent makes patches below it depend on their order; keep them all then.
  const nested = kept.some((a) =>
    kept.some((b) => a !== b && b.path.length > a.path.length && a.path.every((part, i) => part === b.path[i])),
  );
  return nested ? [...patches] : kept;
}

export function undo(history: History): History {
  const step = history.past.at(-1);
  if (!step) return history;
  return { project: applyPatches(history.project, [...step.backward]), past: history.past.slice(0, -1), future: [step, ...history.future] };
}

export function redo(history: History): History {
  const [step, ...future] = history.future;
  if (!step) return history;
  return { project: applyPatches(history.project, [...step.forward]), past: [...history.past, step], future };
}

/** The sounds that differ between two states of a project and are in both, by id. */
export function changedSounds(before: Project, after: Project): string[] {
  if (before.sounds === after.sounds) return [];
  const former = new Map(before.sounds.map((sound) => [sound.id, sound]));
  return after.sounds.filter((sound) => former.has(sound.id) && former.get(sound.id) !== sound).map(({ id }) => id);
}
