import type { Seconds } from '../../units';
import type { Clip, Layer, Sound } from '../schema';
import type { Paced } from './clip-pace';
import { contentAtTime, timeOfContent } from './clip-pace';

/** How long a clip sounds: its content played at its speed. */
export function clipDuration(clip: Paced): Seconds {
  return timeOfContent(clip, clip.length);
}

/** Where a clip ends on the time axis. */
export function clipEnd(clip: Placed): Seconds {
  return clip.start + clipDuration(clip);
}

type Placed = Paced & Pick<Clip, 'start'>;

/** Where a moment of the source is heard on the time axis, if the clip shows it. */
export function sourceToAxis(clip: Placed, sourceTime: Seconds): Seconds {
  const into = clip.reversed ? clip.offset + clip.length - sourceTime : sourceTime - clip.offset;
  return clip.start + timeOfContent(clip, into);
}

/** Which moment of the source is heard at `time`; the first time round in a loop. */
export function axisToSource(clip: Placed, time: Seconds): Seconds {
  const into = contentAtTime(clip, time - clip.start);
  return clip.reversed ? clip.offset + clip.length - into : clip.offset + into;
}

/** Where in its source a clip is `into` seconds of its content, in the order of playing; its loop leads back again and again. */
export function contentPlace(clip: Paced & Pick<Clip, 'loop'>, into: Seconds): Seconds {
  const at = clip.offset + (clip.reversed ? clip.length - into : into);
  const { loop } = clip;
  return loop && loop.to > loop.from && at >= loop.to ? loop.from + ((at - loop.to) % (loop.to - loop.from)) : at;
}

/** Where the clip's sync point lies on the time axis; its start when it has none. */
export function syncTime(clip: Placed & Pick<Clip, 'sync'>): Seconds {
  return clip.sync ? sourceToAxis(clip, clip.sync.at) : clip.start;
}

/** Where the last clip of a layer ends; 0 without clips. */
export function layerEnd(layer: Layer): Seconds {
  return layer.clips.reduce((end, clip) => Math.max(end, clipEnd(clip)), 0);
}

/** Where the last clip of a sound ends; 0 without clips. Tails of effects come on top. */
export function soundEnd(sound: Sound): Seconds {
  return sound.layers.reduce((end, layer) => Math.max(end, layerEnd(layer)), 0);
}

/** All clips of a sound with these ids, in the order of the layers. */
export function clipsOf(sound: Sound, ids: ReadonlySet<string>): { clip: Clip; layer: Layer }[] {
  return sound.layers.flatMap((layer) => layer.clips.filter((clip) => ids.has(clip.id)).map((clip) => ({ clip, layer })));
}

/** What lies on a layer from one moment to another. */
interface Extent {
  readonly start: number;
  readonly end: number;
}

/**
 * Which of the clips of a layer crossfade into which: those where the end of one overlaps the beginning of the next. A clip that lies
 * within another does not; it is added to it.
 * @param clips in the order of their starts
 */
export function crossfadePairs<T extends Extent>(clips: readonly T[]): [before: T, next: T][] {
  const pairs: [T, T][] = [];
  let before = clips[0];
  for (const clip of clips.slice(1)) {
    if (!before || clip.end <= before.end) continue;
    if (before.end > clip.start && clip.start > before.start) pairs.push([before, clip]);
    before = clip;
  }
  return pairs;
}

/** The stretches of time in which clips of a layer crossfade. */
export function crossfadesOf(layer: Pick<Layer, 'clips' | 'overlaps'>): { readonly from: Seconds; readonly to: Seconds }[] {
  if (layer.overlaps !== 'crossfade') return [];
  const extents = layer.clips.map((clip) => ({ start: clip.start, end: clipEnd(clip) })).sort((a, b) => a.start - b.start);
  return crossfadePairs(extents).map(([before, next]) => ({ from: next.start, to: before.end }));
}
