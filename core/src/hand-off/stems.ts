import { safeFileName } from '../formats/file-name';
import type { Sound } from '../project/schema';
import { audibleLayers } from '../render/sound-graph';
import { withoutSolos } from '../project/listening';

/**
 * One sound for each layer that is heard, with all others muted: together they sum up to the sound as long as nothing behind the layers bends it.
 * Each has a name that makes a file name of its own, also where file systems ignore case.
 */
export function stemsOf(heard: Sound): Sound[] {
  const sound = withoutSolos(heard);
  const audible = audibleLayers(sound);
  const taken = new Set<string>();
  return sound.layers
    .filter(({ id }) => audible.has(id))
    .map((layer) => ({
      ...sound,
      name: unique(`${sound.name} ${layer.name}`, taken),
      layers: sound.layers.map((other) => (other.id === layer.id ? other : { ...other, muted: true })),
    }));
}

function unique(name: string, taken: Set<string>): string {
  let free = name;
  for (let n = 2; taken.has(safeFileName(free).toLowerCase()); n++) free = `${name} ${n}`;
  taken.add(safeFileName(free).toLowerCase());
  return free;
}
