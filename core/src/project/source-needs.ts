import type { Seconds, Stretch } from '../units';
import { effectSources } from './chain/references';
import { clipAddress, isPulledOfClip } from './clip-address';
import type { Clip, Sound } from './schema';
import { isStretched } from './time/clip-pace';
import { stretchedNeed } from './time/stretched-part';

/** What somebody needs of a recording. */
export type Need = 'all' | readonly Stretch[];

/** Around what a clip plays so much still shapes its edges, when its speed is changed or it is faded over its ends. */
const margin: Seconds = 0.1;

/** What a render of a sound needs of its recordings, by the ids of their sources: of those in effects all, of others the stretches that clips play. */
export function sourceNeeds(sound: Sound): Map<string, Need> {
  const needs = new Map<string, Stretch[] | 'all'>();
  const pulled = new Set(
    sound.pulls.flatMap(({ address }) => (isPulledOfClip(address) ? [address.slice(0, address.lastIndexOf('/'))] : [])),
  );
  for (const { id, clips } of sound.layers)
    for (const clip of clips) {
      if (clip.source === undefined) continue;
      const known = needs.get(clip.source);
      const needed = neededStretch(clip, isStretched(clip) || pulled.has(clipAddress(id, clip.id)));
      if (known === undefined) needs.set(clip.source, [needed]);
      else if (known !== 'all') known.push(needed);
    }
  for (const id of effectSources(sound)) needs.set(id, 'all');
  return needs;
}

/** What is needed to hear a sound: what its render needs, and its guide. */
export function listeningNeeds(sound: Sound): Map<string, Need> {
  const needs = new Map<string, Need>(sourceNeeds(sound));
  if (sound.guide) needs.set(sound.guide.source, 'all');
  return needs;
}

/** What is heard of a recording, or what a stretch of time looks at. */
function neededStretch(clip: Clip, stretched: boolean): Stretch {
  const played = playedStretch(clip);
  if (!stretched) return played;
  const looked = stretchedNeed(clip);
  return { from: Math.min(played.from, looked.from), to: clip.loop ? played.to : looked.to };
}

/** The stretch of its recording that a clip plays, with what lies beside it. */
export function playedStretch({ offset, length, loop }: Clip): Stretch {
  const from = loop ? Math.min(offset, loop.from - loop.crossfade) : offset;
  const to = loop ? loop.to : offset + length;
  return { from: Math.max(0, from - margin), to: to + margin };
}
