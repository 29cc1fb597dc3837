import { effectCatalogue } from '../catalogue';
import { pulledValue } from '../movers/mover-value';
import { clipAddress, findProperty, isPulledOfClip, pulledClipKeys } from '../project/address';
import { axisOf } from '../project/axis';
import { mayPull } from '../project/mover-address';
import type { Clip, Pull, Sound } from '../project/schema';
import type { Hertz } from '../units';
import { coursesOf } from './automation';

/** Those who listen have heard nothing yet when clips are made. */
const silent = { at: () => 0 };

/**
 * A sound whose clips are as tides, reins and walks pull them: each as these stand at the moment in which it begins, for its whole length. The same
 * object where nobody pulls a clip, and the same layers where nobody pulls theirs.
 */
export function pulledClips(sound: Sound, sampleRate: Hertz): Sound {
  const kinds = new Map(sound.movers.map(({ id, kind }) => [id, kind]));
  const byAddress = new Map<string, Pull[]>();
  for (const pull of sound.pulls) {
    const kind = kinds.get(pull.mover);
    if (!kind || !isPulledOfClip(pull.address) || !mayPull(kind, pull.address)) continue;
    byAddress.set(pull.address, [...(byAddress.get(pull.address) ?? []), pull]);
  }
  if (byAddress.size === 0) return sound;
  const courses = coursesOf(sound, sampleRate, () => silent);
  const pulled = (layer: string, clip: Clip): Clip => {
    const values: Partial<Clip> = {};
    for (const key of pulledClipKeys) {
      const address = `${clipAddress(layer, clip.id)}/${key}`;
      const parameter = byAddress.has(address) ? findProperty(sound, address, effectCatalogue)?.parameter : undefined;
      const axis = parameter && axisOf(parameter);
      if (!axis) continue;
      const pulls = byAddress.get(address)!.map((pull) => ({ ...pull, course: courses.get(pull.mover) ?? silent }));
      values[key] = pulledValue(axis, clip[key], pulls, clip.start);
    }
    return { ...clip, ...values };
  };
  return {
    ...sound,
    layers: sound.layers.map((layer) => {
      const owner = `${clipAddress(layer.id, '')}`;
      return [...byAddress.keys()].some((address) => address.startsWith(owner))
        ? { ...layer, clips: layer.clips.map((clip) => pulled(layer.id, clip)) }
        : layer;
    }),
  };
}
