import { findProperty, isPullable } from '../address';
import { mayPull, moverAddress } from '../mover-address';
import type { Follower, Mover, Project, Rein, Sound, Tide, Walk } from '../schema';
import { propertyName } from './automation-edits';
import { checkPulls, cleanName, defineEdit, EditError, forgetProperty, soundOf, takeId } from './edit';

const mostMovers = 200;

export type MoverKind = Mover['kind'];
export type MoverSettings =
  | Partial<Omit<Tide, 'id' | 'kind'>>
  | Partial<Omit<Rein, 'id' | 'kind'>>
  | Partial<Omit<Follower, 'id' | 'kind'>>
  | Partial<Omit<Walk, 'id' | 'kind'>>;

/** Refuses movers that a sound has no room for. */
export function checkMovers({ movers, name }: Sound, more: number): void {
  if (movers.length + more > mostMovers)
    throw new EditError(`“${name}” has ${movers.length} tides, reins and walks; ${mostMovers} are possible.`);
}

export interface MoverArguments {
  readonly sound: string;
  readonly mover: string;
}

function moverOf(sound: Sound, id: string): Mover {
  const mover = sound.movers.find((candidate) => candidate.id === id);
  if (!mover) throw new EditError(`There is no mover “${id}” in “${sound.name}”.`);
  return mover;
}

const nameOf = ({ sound, mover }: MoverArguments, project: Project): string => moverOf(soundOf(project, sound), mover).name;

function newMover(id: string, kind: MoverKind, name: string): Mover {
  switch (kind) {
    case 'tide': {
      // A gentle swell: up, down and back.
      const points = [
        { at: 0, value: 0, bend: 0 },
        { at: 0.25, value: 1, bend: 0 },
        { at: 0.75, value: -1, bend: 0 },
      ];
      return { id, kind, name, length: 4, unit: 'seconds', phase: 0, smoothing: 0.2, frozen: false, points };
    }
    case 'rein':
      return { id, kind, name, value: 0 };
    case 'follower':
      return { id, kind, name, listens: '', attack: 0.01, release: 0.2, low: -48, high: -12 };
    case 'walk':
      return { id, kind, name, rate: 1, seed: 1 };
  }
}

export const addMover = defineEdit<{ sound: string; kind: MoverKind; name: string }>({
  label: ({ kind, name }) => `Add ${kind} “${name}”`,
  apply: (draft, { sound, kind, name }) => {
    const target = soundOf(draft, sound);
    checkMovers(target, 1);
    target.movers.push(newMover(takeId(draft, kind), kind, cleanName(name)));
  },
});

/** Changes a tide, a rein or a walk; settings that it does not have are left out. */
export const setMover = defineEdit<MoverArguments & { settings: MoverSettings; action?: string }>({
  label: (args, project) => `${args.action ?? 'Set'} “${nameOf(args, project)}”`,
  apply: (draft, { sound, mover, settings }) => {
    const target = moverOf(soundOf(draft, sound), mover);
    const own = (key: string): boolean => Object.hasOwn(target, key) || (target.kind === 'rein' && key === 'bothWays');
    const known = Object.entries(settings).filter(([key, value]) => own(key) && value !== undefined);
    Object.assign(target, Object.fromEntries(known));
    target.name = cleanName(target.name);
    if (target.kind === 'tide') {
      target.length = Math.max(0.02, Math.min(3_600, target.length));
      target.points = target.points
        .map(({ at, value, bend }) => ({ at: Math.max(0, Math.min(1, at)), value: Math.max(-1, Math.min(1, value)), bend }))
        .sort((a, b) => a.at - b.at);
      if (target.points.length === 0) throw new EditError('A tide needs one point at least.');
    }
  },
});

/** Sets along which part of the mover's way a property is pulled, and how straight. */
export const shapePull = defineEdit<MoverArguments & { address: string; shape: Partial<Record<'from' | 'to' | 'bend', number>> }>({
  label: (args, project, catalogue) =>
    `How “${nameOf(args, project)}” pulls ${propertyName(soundOf(project, args.sound), args.address, catalogue)}`,
  apply: (draft, { sound, mover, address, shape: { from, to, bend } }) => {
    const pull = soundOf(draft, sound).pulls.find((candidate) => candidate.mover === mover && candidate.address === address);
    if (!pull) throw new EditError(`“${address}” is not pulled by that.`);
    const unit = (value: number): number => Math.max(0, Math.min(1, value));
    if (from !== undefined) pull.from = unit(from);
    if (to !== undefined) pull.to = unit(to);
    if (bend !== undefined) pull.bend = Math.max(-1, Math.min(1, bend));
  },
});

/** Takes a tide, a rein or a walk away, and everything that it pulls with it. */
export const removeMover = defineEdit<MoverArguments>({
  label: (args, project) => `Remove “${nameOf(args, project)}”`,
  apply: (draft, { sound, mover }) => {
    const target = soundOf(draft, sound);
    const own = moverAddress(moverOf(target, mover));
    target.movers.splice(target.movers.indexOf(moverOf(target, mover)), 1);
    target.pulls = target.pulls.filter((pull) => pull.mover !== mover);
    if (own !== undefined) forgetProperty(target, own);
  },
});

/** Lets a mover pull a property by `depth` (in its offset unit, where the mover is at 1); without a depth it lets go. */
export const setPull = defineEdit<MoverArguments & { address: string; depth: number | undefined }>({
  label: (args, project, catalogue) =>
    `“${nameOf(args, project)}” ${args.depth === undefined ? 'lets go of' : 'pulls'} ${propertyName(soundOf(project, args.sound), args.address, catalogue)}`,
  apply: (draft, { sound, mover, address, depth }, catalogue) => {
    const target = soundOf(draft, sound);
    const { kind, name } = moverOf(target, mover);
    const property = findProperty(target, address, catalogue);
    if (!property || !isPullable(property)) throw new EditError(`“${address}” leads to nothing that can be pulled.`);
    if (!mayPull(kind, address))
      throw new EditError(
        kind === 'follower'
          ? `“${name}” cannot pull that: it follows what is heard, and clips are made before.`
          : `“${name}” cannot pull that: the pace of tides is pulled by reins and walks, that of walks by reins.`,
      );
    const pull = target.pulls.find((candidate) => candidate.mover === mover && candidate.address === address);
    if (depth === undefined) target.pulls = target.pulls.filter((candidate) => candidate !== pull);
    else if (pull) pull.depth = Math.max(-1_000, Math.min(1_000, depth));
    else target.pulls.push({ id: takeId(draft, 'pull'), mover, address, depth: Math.max(-1_000, Math.min(1_000, depth)) });
    checkPulls(target);
  },
});
