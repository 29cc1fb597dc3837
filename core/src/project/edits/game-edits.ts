import type { Conduct, ConductScript } from '../game/conduct-schema';
import type { Project } from '../schema';
import { busDials, compressorDials, roomDials } from '../game/behaviour-dials';
import { goesInCircle } from '../game/conduct-faults';
import { createGameBus } from '../game/create-behaviour';
import { cleanName, defineEdit, EditError, takeId } from './edit';

/** What a game has beside its behaviours. */
export type GamePart = 'parameters' | 'buses' | 'moods' | 'groups';
type PartOf<P extends GamePart> = Conduct[P][number];

const words: Readonly<Record<GamePart, string>> = {
  parameters: 'game parameter',
  buses: 'bus',
  moods: 'mood',
  groups: 'load group',
};
const idKinds: Readonly<Record<GamePart, string>> = { parameters: 'parameter', buses: 'gamebus', moods: 'mood', groups: 'group' };
const most: Readonly<Record<GamePart, number>> = { parameters: 200, buses: 100, moods: 200, groups: 200 };

function partOf<P extends GamePart>(conduct: Conduct, part: P, id: string): PartOf<P> {
  // Each part's list holds its own kind; the compiler cannot follow that through a type parameter.
  const found = (conduct[part] as PartOf<P>[]).find((candidate) => candidate.id === id);
  if (!found) throw new EditError(`There is no ${words[part]} “${id}”.`);
  return found;
}

const nameOf = ({ conduct }: Project, part: GamePart, id: string): string => partOf(conduct, part, id).name;

export const setConduct = defineEdit<{ seed?: number; voices?: number }>({
  label: ({ seed }) => (seed === undefined ? 'Set the number of voices' : 'Another seed for the game'),
  apply: ({ conduct }, { seed, voices }) => {
    if (seed !== undefined && Number.isFinite(seed)) conduct.seed = Math.max(0, Math.min(0xffffffff, Math.round(seed)));
    if (voices !== undefined && Number.isFinite(voices)) conduct.voices = Math.max(1, Math.min(256, Math.round(voices)));
  },
});

export const addGamePart = defineEdit<{ part: GamePart; name: string }>({
  label: ({ part, name }) => `New ${words[part]} “${name}”`,
  apply: (draft, { part, name }) => {
    const { conduct } = draft;
    if (conduct[part].length >= most[part]) throw new EditError(`There are ${most[part]} of these already; more are not possible.`);
    const start = { id: takeId(draft, idKinds[part]), name: cleanName(name) };
    if (part === 'parameters') conduct.parameters.push({ ...start, low: 0, high: 1, start: 0, smoothing: 0.1 });
    else if (part === 'buses') conduct.buses.push(createGameBus(start.id, start.name));
    else if (part === 'moods') conduct.moods.push({ ...start, fade: 1, levels: {} });
    else conduct.groups.push({ ...start, budget: 8 * 1024 * 1024 });
  },
});

export type GamePartChange =
  | { readonly part: 'parameters'; readonly change: Partial<Omit<PartOf<'parameters'>, 'id'>> }
  | { readonly part: 'buses'; readonly change: Partial<Omit<PartOf<'buses'>, 'id'>> }
  | { readonly part: 'moods'; readonly change: Partial<Omit<PartOf<'moods'>, 'id' | 'levels'>> }
  | { readonly part: 'groups'; readonly change: Partial<Omit<PartOf<'groups'>, 'id'>> };

const within = (low: number, high: number, value: number): number => Math.max(low, Math.min(high, Number.isFinite(value) ? value : low));

/** Changes a game parameter, a bus, a mood or a load group; a duck, a room or a way into another bus that is undefined is taken away. */
export const setGamePart = defineEdit<{ id: string } & GamePartChange>({
  label: ({ part, id }, project) => `Set “${nameOf(project, part, id)}”`,
  apply: ({ conduct }, { id, part, change }) => {
    const target = partOf(conduct, part, id);
    Object.assign(target, change);
    target.name = cleanName(target.name);
    if (part === 'parameters') fitParameter(partOf(conduct, part, id));
    if (part === 'buses') {
      const bus = partOf(conduct, part, id);
      bus.gain = within(-96, 24, bus.gain);
      fitChain(conduct, bus);
      if (!bus.duck) delete bus.duck;
      else if (bus.duck.under === id || !conduct.buses.some((other) => other.id === bus.duck?.under))
        throw new EditError(`“${bus.name}” can only go down under another bus.`);
      else
        bus.duck = {
          under: bus.duck.under,
          depth: within(-96, 0, bus.duck.depth),
          attack: within(0, 10, bus.duck.attack),
          release: within(0, 30, bus.duck.release),
        };
    }
    if (part === 'moods') {
      const mood = partOf(conduct, part, id);
      mood.fade = within(0, 120, mood.fade);
    }
    if (part === 'groups') {
      const group = partOf(conduct, part, id);
      group.budget = Math.round(within(1, 2 ** 40, group.budget));
    }
  },
});

function fitChain({ buses }: Conduct, bus: PartOf<'buses'>): void {
  for (const key of ['lowCut', 'highCut'] as const) bus[key] = within(busDials[key].min, busDials[key].max, bus[key]);
  if (!bus.into) delete bus.into;
  else if (!buses.some(({ id }) => id === bus.into) || goesInCircle(buses, bus))
    throw new EditError(`“${bus.name}” can only go into a bus that does not go into it.`);
  const { room } = bus;
  if (!room) delete bus.room;
  else for (const key of ['decay', 'high', 'size', 'share'] as const) room[key] = within(roomDials[key].min, roomDials[key].max, room[key]);
  const { compressor } = bus;
  if (!compressor) delete bus.compressor;
  else
    for (const key of ['threshold', 'ratio', 'attack', 'release', 'gain'] as const)
      compressor[key] = within(compressorDials[key].min, compressorDials[key].max, compressor[key]);
}

function fitParameter(parameter: PartOf<'parameters'>): void {
  parameter.low = within(-1e6, 1e6, parameter.low);
  parameter.high = within(-1e6, 1e6, parameter.high);
  if (!(parameter.high > parameter.low))
    throw new EditError(`“${parameter.name}” must go up: from ${parameter.low} to ${parameter.high} is no range.`);
  parameter.start = within(parameter.low, parameter.high, parameter.start);
  parameter.smoothing = within(0, 60, parameter.smoothing);
}

/** Takes a part away, and everything that named it: curves, choices, levels of moods, moves of scripts. */
export const removeGamePart = defineEdit<{ part: GamePart; id: string }>({
  label: ({ part, id }, project) => `Remove “${nameOf(project, part, id)}”`,
  apply: ({ conduct }, { part, id }) => {
    partOf(conduct, part, id);
    // Whatever its kind, it is one of its list.
    const list: { id: string }[] = conduct[part];
    list.splice(
      list.findIndex((each) => each.id === id),
      1,
    );
    for (const behaviour of conduct.behaviours) {
      behaviour.pulls = behaviour.pulls.filter(({ parameter }) => parameter !== id);
      if ('parameter' in behaviour.play && behaviour.play.parameter === id) behaviour.play.parameter = '';
      for (const key of ['bus', 'mood', 'group'] as const) if (behaviour[key] === id) delete behaviour[key];
    }
    for (const bus of conduct.buses) {
      if (bus.duck?.under === id) delete bus.duck;
      if (bus.into === id) delete bus.into;
    }
    for (const mood of conduct.moods) delete mood.levels[id];
    const isGone = (move: ConductScript['moves'][number]['move']): boolean =>
      ('parameter' in move && move.parameter === id) || ('mood' in move && move.mood === id);
    for (const script of conduct.scripts) script.moves = script.moves.filter(({ move }) => !isGone(move));
  },
});

/** What a mood adds to a bus; 0 leaves it as it is. */
export const setMoodLevel = defineEdit<{ mood: string; bus: string; level: number }>({
  label: ({ mood }, project) => `Set “${nameOf(project, 'moods', mood)}”`,
  apply: ({ conduct }, { mood, bus, level }) => {
    const { levels } = partOf(conduct, 'moods', mood);
    partOf(conduct, 'buses', bus);
    const fitted = within(-96, 24, level);
    if (fitted === 0) delete levels[bus];
    else levels[bus] = fitted;
  },
});

type KeptMove = ConductScript['moves'][number]['move'];
type KeptWalk = Extract<KeptMove, { do: 'walk' }>;
type WalkPlaces = readonly { readonly x: number; readonly y: number }[];

/** A move with its time, whose places may belong to somebody else. */
export interface GivenMove {
  readonly at: number;
  readonly move: Exclude<KeptMove, KeptWalk> | (Omit<KeptWalk, 'points'> & { readonly points: WalkPlaces });
}

/** Keeps what was done in the simulator, to be played again. */
export const addScript = defineEdit<{ name: string; seconds: number; moves: readonly GivenMove[] }>({
  label: ({ name }) => `Keep script “${name}”`,
  apply: (draft, { name, seconds, moves }) => {
    const { scripts } = draft.conduct;
    if (scripts.length >= 200) throw new EditError('There are 200 scripts already; more are not possible.');
    if (moves.length > 100_000) throw new EditError(`The script has ${moves.length} moves; at most 100,000 are kept.`);
    scripts.push({
      id: takeId(draft, 'script'),
      name: cleanName(name),
      seconds: within(0.1, 3_600, seconds),
      moves: moves.map(({ at, move }) => ({ at, move: move.do === 'walk' ? { ...move, points: [...move.points] } : move })),
    });
  },
});

export const removeScript = defineEdit<{ script: string }>({
  label: ({ script }, { conduct }) => `Remove script “${conduct.scripts.find(({ id }) => id === script)?.name ?? script}”`,
  apply: ({ conduct }, { script }) => {
    const at = conduct.scripts.findIndex(({ id }) => id === script);
    if (at < 0) throw new EditError(`There is no script “${script}”.`);
    conduct.scripts.splice(at, 1);
  },
});
