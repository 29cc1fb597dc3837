import type { Conduct, GameBehaviour } from './conduct-schema';

/** As deep as behaviours may lie within each other. */
export const deepestBehaviour = 12;

/** The behaviour that one lies within, and that one's, up to its root; ends where it comes round. */
export function ancestorsOf({ behaviours }: Pick<Conduct, 'behaviours'>, behaviour: GameBehaviour): GameBehaviour[] {
  const found: GameBehaviour[] = [];
  for (let at = parentOf(behaviours, behaviour); at && !found.includes(at); at = parentOf(behaviours, at)) found.push(at);
  return found;
}

const parentOf = (behaviours: readonly GameBehaviour[], { parent }: GameBehaviour): GameBehaviour | undefined =>
  parent === undefined ? undefined : behaviours.find(({ id }) => id === parent);

/** Whether a behaviour is part of the end of a Start–Hold–End, where nothing goes on without one. */
export function liesInEnd(conduct: Pick<Conduct, 'behaviours'>, behaviour: GameBehaviour): boolean {
  const line = [behaviour, ...ancestorsOf(conduct, behaviour)];
  return line.some(({ slot }, i) => slot.stage === 'end' && line[i + 1]?.play.kind === 'hold');
}

/** A behaviour and all that lies within it, in the order of the list. */
export function withinBehaviour(conduct: Pick<Conduct, 'behaviours'>, id: string): GameBehaviour[] {
  return conduct.behaviours.filter((each) => each.id === id || ancestorsOf(conduct, each).some((ancestor) => ancestor.id === id));
}

/** Whether a bus comes back to itself by those that it goes into. */
export function goesInCircle(buses: Conduct['buses'], bus: Conduct['buses'][number]): boolean {
  const seen = new Set<string>();
  for (let at: string | undefined = bus.id; at !== undefined; at = buses.find(({ id }) => id === at)?.into) {
    if (seen.has(at)) return true;
    seen.add(at);
  }
  return false;
}

/** What does not fit together in how sounds behave: behaviours in a circle, things that are named and not there. */
export function findConductFault(
  conduct: Conduct,
  sounds: ReadonlySet<string>,
  repeated: (id: string, place: string) => string | undefined,
): string | undefined {
  const { behaviours, parameters, buses, moods, groups, scripts } = conduct;
  for (const [list, what] of [
    [parameters, 'parameters'],
    [buses, 'buses'],
    [moods, 'moods'],
    [groups, 'groups'],
    [behaviours, 'behaviours'],
    [scripts, 'scripts'],
  ] as const)
    for (const [i, { id }] of list.entries()) {
      const fault = repeated(id, `conduct.${what}[${i}]`);
      if (fault) return fault;
    }
  for (const [p, { low, high, start }] of parameters.entries()) {
    if (!(high > low)) return `conduct.parameters[${p}]: its range goes from ${low} to ${high}`;
    if (!(start >= low && start <= high)) return `conduct.parameters[${p}]: it starts at ${start}, outside of its range`;
  }
  const has = (list: readonly { readonly id: string }[], id: string | undefined): boolean =>
    id === undefined || id === '' || list.some((each) => each.id === id);
  for (const [b, { id, duck }] of buses.entries())
    if (duck && (duck.under === id || !has(buses, duck.under)))
      return `conduct.buses[${b}].duck: it cannot go down under the bus “${duck.under}”`;
  for (const [b, bus] of buses.entries()) {
    if (!has(buses, bus.into)) return `conduct.buses[${b}]: there is no bus “${bus.into}” that it could go into`;
    if (goesInCircle(buses, bus)) return `conduct.buses[${b}]: it goes into itself`;
  }
  for (const [m, { levels }] of moods.entries()) {
    const lost = Object.keys(levels).find((bus) => !has(buses, bus));
    if (lost !== undefined) return `conduct.moods[${m}]: there is no bus “${lost}”`;
  }
  const orphan = behaviours.findIndex(({ parent }) => !has(behaviours, parent));
  if (orphan >= 0) return `conduct.behaviours[${orphan}]: there is no behaviour “${behaviours[orphan]!.parent}” that it could lie in`;
  for (const [b, behaviour] of behaviours.entries()) {
    const place = `conduct.behaviours[${b}]`;
    const { play, pulls, bus, mood, group, distance } = behaviour;
    const above = parentOf(behaviours, behaviour);
    if (above?.play.kind === 'one') return `${place}: it lies in “${above.name}”, which plays a sound and holds nothing`;
    const line = ancestorsOf(conduct, behaviour);
    if (line.includes(behaviour) || line.at(-1)?.parent !== undefined) return `${place}: it lies within itself`;
    if (line.length >= deepestBehaviour) return `${place}: it lies more than ${deepestBehaviour} deep`;
    if (play.kind === 'one' && play.sound !== '' && !sounds.has(play.sound)) return `${place}: there is no sound “${play.sound}”`;
    const lost = [...pulls.map(({ parameter }) => parameter), 'parameter' in play ? play.parameter : ''].find((id) => !has(parameters, id));
    if (lost !== undefined) return `${place}: there is no game parameter “${lost}”`;
    if (!has(buses, bus)) return `${place}: there is no bus “${bus}”`;
    if (!has(moods, mood)) return `${place}: there is no mood “${mood}”`;
    if (!has(groups, group)) return `${place}: there is no load group “${group}”`;
    if (distance && !(distance.outer > distance.inner)) return `${place}.distance: its outer end lies within its inner size`;
    if (play.kind === 'sprinkle' && play.longest < play.shortest) return `${place}.play: its longest interval is shorter than its shortest`;
  }
  return undefined;
}
