import { behaviourDials, distanceDials, lowestDrawn, playDials, pulledDials, slotDials } from '../game/behaviour-dials';
import { ancestorsOf, deepestBehaviour, withinBehaviour } from '../game/conduct-faults';
import type { BehaviourPlay, Conduct, GameBehaviour } from '../game/conduct-schema';
import { createBehaviour, startingPlay } from '../game/create-behaviour';
import type { NumberParameter } from '../parameters';
import { fitValue } from '../parameters';
import type { Project } from '../schema';
import { cleanName, defineEdit, EditError, soundOf, takeId } from './edit';

const mostBehaviours = 2_000;

export function behaviourOf({ conduct }: Pick<Project, 'conduct'>, id: string): GameBehaviour {
  const behaviour = conduct.behaviours.find((candidate) => candidate.id === id);
  if (!behaviour) throw new EditError(`There is no behaviour “${id}”.`);
  return behaviour;
}

function checkRoom({ behaviours }: Conduct, more: number): void {
  if (behaviours.length + more > mostBehaviours)
    throw new EditError(`There would be ${behaviours.length + more} behaviours; at most ${mostBehaviours} are possible.`);
}

/** Refuses a parent that can hold nothing, or that would lie too deep. */
function checkParent({ conduct }: Project, parent: string | undefined, height: number): void {
  if (parent === undefined) return;
  const above = behaviourOf({ conduct }, parent);
  if (above.play.kind === 'one') throw new EditError(`“${above.name}” plays a sound and can hold no other behaviour.`);
  if (ancestorsOf(conduct, above).length + 1 + height > deepestBehaviour)
    throw new EditError(`Behaviours may lie at most ${deepestBehaviour} deep within each other.`);
}

/** How deep the behaviours within one lie, itself counted. */
function heightOf(conduct: Conduct, id: string): number {
  const depth = (behaviour: GameBehaviour): number => ancestorsOf(conduct, behaviour).findIndex((ancestor) => ancestor.id === id) + 2;
  return Math.max(
    1,
    ...withinBehaviour(conduct, id)
      .filter((each) => each.id !== id)
      .map(depth),
  );
}

export const addBehaviour = defineEdit<{ kind: BehaviourPlay['kind']; name: string; parent?: string; sound?: string }>({
  label: ({ name }) => `New behaviour “${name}”`,
  apply: (draft, { kind, name, parent, sound }) => {
    checkRoom(draft.conduct, 1);
    checkParent(draft, parent, 1);
    const play = startingPlay(kind);
    if (play.kind === 'one' && sound !== undefined) {
      const { id, family } = soundOf(draft, sound);
      play.sound = id;
      play.from = family.siblings.length > 0 ? 'family' : 'original';
    }
    const behaviour = createBehaviour(takeId(draft, 'behaviour'), cleanName(name), play);
    if (parent !== undefined) {
      behaviour.parent = parent;
      // The first children of a Start–Hold–End are its stages, in their order.
      const { play: above } = behaviourOf(draft, parent);
      const before = draft.conduct.behaviours.filter((each) => each.parent === parent).length;
      if (above.kind === 'hold') {
        behaviour.slot.stage = (['start', 'hold', 'end'] as const)[Math.min(2, before)]!;
        if (play.kind === 'one') play.loops = behaviour.slot.stage === 'hold';
      }
      if (above.kind === 'blend' && play.kind === 'one') play.loops = true;
    }
    draft.conduct.behaviours.push(behaviour);
  },
});

export type BehaviourChange = Partial<Omit<GameBehaviour, 'id' | 'parent' | 'pulls'>>;

const fit = (dial: NumberParameter, value: number): number => {
  const fitted = fitValue(dial, value);
  return typeof fitted === 'number' ? fitted : dial.default;
};

/** Brings the numbers of a record that have a dial into its range. */
function fitNumbers(dials: Readonly<Record<string, NumberParameter>>, record: object): void {
  for (const [key, value] of Object.entries(record)) {
    const dial = dials[key];
    if (dial && typeof value === 'number') Object.assign(record, { [key]: fit(dial, value) });
  }
}

/** Changes what a behaviour has of its own; what is undefined is taken away. Numbers are brought into their ranges. */
export const setBehaviour = defineEdit<{ behaviour: string; change: BehaviourChange; label: string }>({
  label: ({ label, behaviour }, project) => `${label} of “${behaviourOf(project, behaviour).name}”`,
  apply: (draft, { behaviour, change }) => {
    const target = behaviourOf(draft, behaviour);
    const { conduct } = draft;
    if (change.play?.kind === 'one' && conduct.behaviours.some(({ parent }) => parent === behaviour))
      throw new EditError(`“${target.name}” holds other behaviours, so it cannot play a sound itself. Take them out first.`);
    const playedBefore = target.play;
    // The pieces are the caller's; what is fitted must be its own.
    Object.assign(target, structuredCopy(change));
    for (const key of ['bus', 'mood', 'group', 'distance', 'place'] as const)
      if (key in change && change[key] === undefined) delete target[key];
    target.name = cleanName(target.name);
    fitNumbers(behaviourDials, target);
    fitNumbers(playDials, target.play);
    fitNumbers(slotDials, target.slot);
    target.slot.curve = target.slot.curve
      .map(({ at, value }) => ({ at: Math.max(0, Math.min(1, at)), value: Math.max(0, Math.min(1, value)) }))
      .sort((a, b) => a.at - b.at);
    const { distance, play } = target;
    if (distance) {
      fitNumbers(distanceDials, distance);
      distance.curve = distance.curve
        .map(({ at, value }) => ({ at: Math.min(1, Math.max(0, at)), value: Math.min(0, Math.max(lowestDrawn, value)) }))
        .sort((a, b) => a.at - b.at)
        .slice(0, 100);
      distance.outer = Math.max(distance.outer, distance.inner * 1.01);
    }
    // The limit that was not touched gives way to the other.
    if (play.kind === 'sprinkle' && play.longest < play.shortest) {
      const shortened = playedBefore.kind === 'sprinkle' && playedBefore.longest !== play.longest;
      if (shortened) play.shortest = play.longest;
      else play.longest = play.shortest;
    }
    if (target.place) {
      const within = (metres: number): number => Math.max(-10_000, Math.min(10_000, metres));
      target.place = { x: within(target.place.x), y: within(target.place.y) };
    }
    checkReferences(draft, target);
  },
});

function checkReferences({ conduct, sounds }: Project, { play, bus, mood, group }: GameBehaviour): void {
  const has = (list: readonly { readonly id: string }[], id: string | undefined): boolean =>
    id === undefined || id === '' || list.some((each) => each.id === id);
  if (play.kind === 'one' && !has(sounds, play.sound)) throw new EditError(`There is no sound “${play.sound}”.`);
  if ('parameter' in play && !has(conduct.parameters, play.parameter))
    throw new EditError(`There is no game parameter “${play.parameter}”.`);
  if (!has(conduct.buses, bus)) throw new EditError(`There is no bus “${bus}”.`);
  if (!has(conduct.moods, mood)) throw new EditError(`There is no mood “${mood}”.`);
  if (!has(conduct.groups, group)) throw new EditError(`There is no load group “${group}”.`);
}

function structuredCopy<T>(data: T): T {
  if (Array.isArray(data)) return data.map((each: unknown) => structuredCopy(each)) as T;
  if (typeof data !== 'object' || data === null) return data;
  return Object.fromEntries(Object.entries(data).map(([key, value]) => [key, structuredCopy<unknown>(value)])) as T;
}

/** Puts a behaviour with all that lies within it into another, or among the roots: at a place among those that lie there. */
export const moveBehaviour = defineEdit<{ behaviour: string; parent?: string; index: number }>({
  label: ({ behaviour }, project) => `Move “${behaviourOf(project, behaviour).name}”`,
  apply: (draft, { behaviour, parent, index }) => {
    const { conduct } = draft;
    const target = behaviourOf(draft, behaviour);
    if (parent !== undefined && withinBehaviour(conduct, behaviour).some(({ id }) => id === parent))
      throw new EditError(`“${target.name}” cannot lie within itself.`);
    checkParent(draft, parent, heightOf(conduct, behaviour));
    if (parent === undefined) delete target.parent;
    else target.parent = parent;
    const others = conduct.behaviours.filter((each) => each !== target && each.id !== behaviour);
    const there = others.filter((each) => each.parent === parent);
    const next = there[Math.max(0, Math.round(index))];
    const at = next ? others.findIndex(({ id }) => id === next.id) : others.length;
    conduct.behaviours.splice(
      conduct.behaviours.findIndex(({ id }) => id === behaviour),
      1,
    );
    conduct.behaviours.splice(at, 0, target);
  },
});

/** Copies a behaviour with all that lies within it. */
export const duplicateBehaviour = defineEdit<{ behaviour: string }>({
  label: ({ behaviour }, project) => `Duplicate “${behaviourOf(project, behaviour).name}”`,
  apply: (draft, { behaviour }) => {
    const { conduct } = draft;
    const originals = withinBehaviour(conduct, behaviour);
    checkRoom(conduct, originals.length);
    const ids = new Map(originals.map(({ id }) => [id, takeId(draft, 'behaviour')]));
    const copies = originals.map((original) => {
      const copy = structuredCopy(original);
      copy.id = ids.get(original.id)!;
      const parent = original.id === behaviour ? original.parent : ids.get(original.parent ?? '');
      if (parent !== undefined) copy.parent = parent;
      return copy;
    });
    const last = Math.max(...originals.map((original) => conduct.behaviours.indexOf(original)));
    conduct.behaviours.splice(last + 1, 0, ...copies);
    const copied = copies.find(({ id }) => id === ids.get(behaviour))!;
    copied.name = cleanName(`${copied.name} copy`.slice(0, 300));
  },
});

/** Takes a behaviour away with all that lies within it, and with what scripts do to it. */
export const removeBehaviour = defineEdit<{ behaviour: string }>({
  label: ({ behaviour }, project) => `Remove “${behaviourOf(project, behaviour).name}”`,
  apply: ({ conduct }, { behaviour }) => {
    behaviourOf({ conduct }, behaviour);
    const gone = new Set(withinBehaviour(conduct, behaviour).map(({ id }) => id));
    conduct.behaviours = conduct.behaviours.filter(({ id }) => !gone.has(id));
    for (const script of conduct.scripts)
      script.moves = script.moves.filter(({ move }) => !('behaviour' in move && gone.has(move.behaviour)));
  },
});

/** Draws how a game parameter pulls a property of a behaviour; without points it pulls no longer. */
export const setGamePull = defineEdit<{
  behaviour: string;
  parameter: string;
  property: keyof typeof pulledDials;
  points: readonly { readonly at: number; readonly value: number }[];
}>({
  label: ({ behaviour, property }, project) => `Pull ${pulledDials[property].label} of “${behaviourOf(project, behaviour).name}”`,
  apply: (draft, { behaviour, parameter, property, points }) => {
    const target = behaviourOf(draft, behaviour);
    const range = draft.conduct.parameters.find(({ id }) => id === parameter);
    if (!range) throw new EditError(`There is no game parameter “${parameter}”.`);
    const at = target.pulls.findIndex((pull) => pull.parameter === parameter && pull.property === property);
    const fitted = points
      .map((point) => ({ at: Math.max(range.low, Math.min(range.high, point.at)), value: fit(pulledDials[property], point.value) }))
      .sort((a, b) => a.at - b.at)
      .slice(0, 100);
    if (fitted.length === 0) {
      if (at >= 0) target.pulls.splice(at, 1);
    } else if (at >= 0) target.pulls[at]!.points = fitted;
    else if (target.pulls.length < 100) target.pulls.push({ parameter, property, points: fitted });
    else throw new EditError(`“${target.name}” is pulled by 100 curves already.`);
  },
});
