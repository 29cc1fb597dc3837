import type { Behaviour, ConductData, ConductEvent } from './conduct-data';

/** The recordings that a behaviour can play. */
export function assetsOf({ takes }: Pick<ConductData, 'takes'>, { play }: Pick<Behaviour, 'play'>): string[] {
  const known = play.kind === 'one' ? takes[play.sound] : undefined;
  if (play.kind !== 'one' || !known) return [];
  const list = play.from === 'family' && known.family.length > 0 ? known.family : known.original ? [known.original] : [];
  return list.map(({ asset }) => asset);
}

/** What is in memory together: each load group, and under undefined the roots that are in none. */
export interface GroupLoad {
  readonly group: string | undefined;
  readonly bytes: number;
  readonly assets: readonly string[];
}

/** How many bytes each load group takes: every recording counts once in each group that plays it. */
export function groupLoads(data: Pick<ConductData, 'behaviours' | 'groups' | 'takes'>, bytesOf: (asset: string) => number): GroupLoad[] {
  const byId = new Map(data.behaviours.map((behaviour) => [behaviour.id, behaviour]));
  const rootOf = (behaviour: Behaviour): Behaviour => {
    let root = behaviour;
    for (let above = byId.get(root.parent ?? ''); above; above = byId.get(root.parent ?? '')) root = above;
    return root;
  };
  return [undefined, ...data.groups.map(({ id }) => id)].map((group) => {
    const assets = new Set(data.behaviours.filter((each) => rootOf(each).group === group).flatMap((each) => assetsOf(data, each)));
    return { group, assets: [...assets], bytes: [...assets].reduce((sum, asset) => sum + bytesOf(asset), 0) };
  });
}

/** How soon a recording is heard again. */
export interface Repeats {
  readonly plays: number;
  readonly different: number;
  /** The fewest plays from one to the same again (1: at once), and how many on average; undefined where nothing was repeated. */
  readonly soonest: number | undefined;
  readonly average: number | undefined;
}

/** Counts, over what was played of some behaviours, how soon the same recording comes again. */
export function repeatsOf(events: readonly ConductEvent[], behaviours: ReadonlySet<string>): Repeats {
  const last = new Map<string, number>();
  const gaps: number[] = [];
  let plays = 0;
  for (const event of events) {
    if (event.do !== 'play' || !behaviours.has(event.behaviour)) continue;
    plays++;
    const before = last.get(event.asset);
    if (before !== undefined) gaps.push(plays - before);
    last.set(event.asset, plays);
  }
  const average = gaps.length > 0 ? gaps.reduce((sum, gap) => sum + gap, 0) / gaps.length : undefined;
  return { plays, different: last.size, soonest: gaps.length > 0 ? Math.min(...gaps) : undefined, average };
}
