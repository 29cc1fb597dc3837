import type { Seconds } from '../units';
import { semitonesToRatio } from '../units';
import type { Clip, Layer, Sound } from './schema';

/** How long a clip sounds: its content played at its speed. */
export function clipDuration(clip: Pick<Clip, 'length' | 'speed'>): Seconds {
  return clip.length / semitonesToRatio(clip.speed);
}

/** Where a clip ends on the time axis. */
export function clipEnd(clip: Clip): Seconds {
  return clip.start + clipDuration(clip);
}

/** Where the last clip of a layer ends; 0 without clips. */
export function layerEnd(layer: Layer): Seconds {
  return layer.clips.reduce((end, clip) => Math.max(end, clipEnd(clip)), 0);
}

/** Where the last clip of a sound ends; 0 without clips. Tails of effects come on top. */
export function soundEnd(sound: Sound): Seconds {
  return sound.layers.reduce((end, layer) => Math.max(end, layerEnd(layer)), 0);
}
