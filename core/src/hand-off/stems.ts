import { safeFileName } from '../formats/file-name';
import { withoutSolos } from '../project/listening';
import type { Sound, StemMode } from '../project/schema';
import { audibleLayers } from '../render/sound-graph';

/** A part of a sound that is heard by itself. */
export interface Stem {
  /** Makes a file name of its own, also where file systems ignore case. */
  readonly name: string;
  /** The sound with everything else muted. */
  readonly sound: Sound;
}

/**
 * One stem for each layer that is heard, or for each group with its layers and each layer outside: together they sum up to the sound as long as
 * nothing behind them bends it.
 */
export function stemsOf(heard: Sound, mode: StemMode): Stem[] {
  if (mode === 'none') return [];
  const sound = withoutSolos(heard);
  const audible = audibleLayers(sound);
  const taken = new Set<string>();
  const parts = new Map<string, { readonly name: string; readonly layers: Set<string> }>();
  for (const { id, name, group } of sound.layers) {
    if (!audible.has(id)) continue;
    const bus = mode === 'groups' ? sound.buses.find((candidate) => candidate.id === group) : undefined;
    const key = bus?.id ?? id;
    const part = parts.get(key) ?? { name: unique(bus?.name ?? name, taken), layers: new Set() };
    parts.set(key, part);
    part.layers.add(id);
  }
  return [...parts.values()].map(({ name, layers }) => ({
    name,
    sound: { ...sound, layers: sound.layers.map((layer) => (layers.has(layer.id) ? layer : { ...layer, muted: true })) },
  }));
}

function unique(name: string, taken: Set<string>): string {
  let free = name;
  for (let n = 2; taken.has(safeFileName(free).toLowerCase()); n++) free = `${name} ${n}`;
  taken.add(safeFileName(free).toLowerCase());
  return free;
}
