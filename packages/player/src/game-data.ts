import type { ConductData } from '@tangled-choir/core/conduct';

/** `conduct.json` as it lies beside its recordings. */
export interface GameData extends ConductData {
  readonly format: 'tangled-choir-conduct';
  /** Version 2 had no compressors. */
  readonly version: 2 | 3;
  readonly files: Readonly<Record<string, { readonly file: string; readonly bytes: number }>>;
}

/** Reads the text of a `conduct.json`. Throws Error that says what it is instead. */
export function readGameData(text: string, address: string): GameData {
  const data = JSON.parse(text) as Partial<GameData> | null;
  if (data?.format !== 'tangled-choir-conduct')
    throw new Error(`${address} is no conduct.json: its format is ${JSON.stringify(data?.format)}.`);
  if (data.version !== 2 && data.version !== 3)
    throw new Error(`${address} has version ${JSON.stringify(data.version)}; this player reads up to 3.`);
  for (const key of ['sampleRate', 'parameters', 'buses', 'behaviours', 'takes', 'files', 'groups'] as const)
    if (data[key] === undefined) throw new Error(`${address} has no “${key}”.`);
  // The application writes nothing else into this format, and a schema would be larger than the player.
  return data as GameData;
}

/** The assets of a load group, or of all behaviours in none where it is undefined. */
export function assetsOfGroup(data: GameData, group: string | undefined): string[] {
  const byId = new Map(data.behaviours.map((behaviour) => [behaviour.id, behaviour]));
  const found = new Set<string>();
  for (const behaviour of data.behaviours) {
    let root = behaviour;
    for (let above = byId.get(root.parent ?? ''); above; above = byId.get(root.parent ?? '')) root = above;
    const { play } = behaviour;
    if (root.group !== group || play.kind !== 'one') continue;
    const takes = data.takes[play.sound];
    const list = play.from === 'family' && takes?.family.length ? takes.family : takes?.original ? [takes.original] : [];
    for (const { asset } of list) found.add(asset);
  }
  return [...found];
}
