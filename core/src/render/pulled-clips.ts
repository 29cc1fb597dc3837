import type { MoverCourse } from '../movers/mover-value';
import { pulledValue } from '../movers/mover-value';
import { clipParameters } from '../project/address';
import { clipAddress, isPulledOfClip, pulledClipKeys } from '../project/clip-address';
import { mayPull } from '../project/mover-address';
import type { Clip, Pull, Sound } from '../project/schema';
import type { Hertz } from '../units';
import { coursesOf } from './automation';

/** Those who listen have heard nothing yet when clips are made. */
const silent: MoverCourse = { at: () => 0 };

/**
 * A sound whose clips are as tides, reins and walks pull them: each as these stand at the moment in which it begins, for its whole length. What
 * nobody pulls is the same object: the sound, its layers, their clips.
 */
export function pulledClips(sound: Sound, sampleRate: Hertz): Sound {
  const pulls = pullsOfClips(sound);
  if (pulls.size === 0) return sound;
  const courses = coursesOf(sound, sampleRate, () => silent);
  const pulled = (clip: Clip, address: string): Clip => {
    const values: Partial<Clip> = {};
    for (const key of pulledClipKeys) {
      const own = pulls.get(`${address}/${key}`)?.map((pull) => ({ ...pull, course: courses.get(pull.mover) ?? silent }));
      if (own) values[key] = pulledValue(clipParameters[key], clip[key], own, clip.start);
    }
    return Object.keys(values).length === 0 ? clip : { ...clip, ...values };
  };
  return {
    ...sound,
    layers: sound.layers.map((layer) => {
      const clips = layer.clips.map((clip) => pulled(clip, clipAddress(layer.id, clip.id)));
      return clips.some((clip, c) => clip !== layer.clips[c]) ? { ...layer, clips } : layer;
    }),
  };
}

/** Who pulls what of clips, by its address. */
function pullsOfClips({ movers, pulls }: Sound): ReadonlyMap<string, readonly Pull[]> {
  const kinds = new Map(movers.map(({ id, kind }) => [id, kind]));
  const byAddress = new Map<string, Pull[]>();
  for (const pull of pulls) {
    const kind = kinds.get(pull.mover);
    if (!kind || !isPulledOfClip(pull.address) || !mayPull(kind, pull.address)) continue;
    byAddress.set(pull.address, [...(byAddress.get(pull.address) ?? []), pull]);
  }
  return byAddress;
}
