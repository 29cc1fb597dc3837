import type { Seconds } from '../units';
import { semitonesToRatio } from '../units';
import type { Clip, Layer, Sound } from './schema';

/** How long a clip sounds: its content played at its speed. */
export function clipDuration(clip: Pick<Clip, 'length' | 'speed'>): Seconds {
  return clip.length / semitonesToRatio(clip.speed);
}

/** Where a clip ends on the time axis. */
export function clipEnd(clip: Pick<Clip, 'start' | 'length' | 'speed'>): Seconds {
  return clip.start + clipDuration(clip);
}

type Placed = Pick<Clip, 'start' | 'offset' | 'length' | 'speed' | 'reversed'>;

/** Where a moment of the source is heard on the time axis, if the clip shows it. */
export function sourceToAxis(clip: Placed, sourceTime: Seconds): Seconds {
  const into = clip.reversed ? clip.offset + clip.length - sourceTime : sourceTime - clip.offset;
  return clip.start + into / semitonesToRatio(clip.speed);
}

/** Which moment of the source is heard at `time`; the first time round in a loop. */
export function axisToSource(clip: Placed, time: Seconds): Seconds {
  const into = (time - clip.start) * semitonesToRatio(clip.speed);
  return clip.reversed ? clip.offset + clip.length - into : clip.offset + into;
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
