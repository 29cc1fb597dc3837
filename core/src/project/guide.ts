import { plainStretch } from './create';
import { soundEnd } from './time/clip-times';
import type { Layer, Project, Sound } from './schema';
import type { Seconds } from '../units';

/** Id of the layer that stands for the guide while seats are measured. */
export const guideLayerId = 'guide';

/** Where a guide ends on the time axis; 0 when there is none, it is off or it goes on and on. */
export function guideEnd({ guide }: Pick<Sound, 'guide'>, { sources, sampleRate }: Pick<Project, 'sources' | 'sampleRate'>): Seconds {
  const source = guide?.on && !guide.repeats ? sources.find(({ id }) => id === guide.source) : undefined;
  return guide && source ? Math.max(0, guide.start + source.frames / sampleRate) : 0;
}

/** Where the picture of a sound ends on the time axis; 0 without one. */
export function pictureEnd({ picture }: Pick<Sound, 'picture'>): Seconds {
  return picture ? Math.max(0, picture.offset + picture.seconds) : 0;
}

/**
 * A sound with its guide as one more layer, so that room has to be left for it where it is heard. The sound itself when it has none, or none
 * that is on. For measuring only: nothing of it is ever rendered.
 */
export function withGuide(sound: Sound, { sources, sampleRate }: Pick<Project, 'sources' | 'sampleRate'>): Sound {
  const { guide } = sound;
  const source = guide?.on ? sources.find(({ id }) => id === guide.source) : undefined;
  if (!guide || !source) return sound;
  const seconds = source.frames / sampleRate;
  const start = Math.max(0, guide.start);
  const passed = Math.max(0, -guide.start);
  const offset = guide.repeats ? passed % seconds : passed;
  const length = guide.repeats ? Math.max(seconds, soundEnd(sound) - start) : seconds - offset;
  if (length <= 0) return sound;
  const layer: Layer = {
    id: guideLayerId,
    name: source.name,
    role: 'Body',
    gain: guide.gain,
    pan: 0,
    muted: false,
    // Where others are heard alone, it is heard with them.
    soloed: sound.soloing && [...sound.layers, ...sound.buses].some(({ soloed }) => soloed),
    sends: [],
    overlaps: 'sum',
    chain: [],
    clips: [
      {
        id: 'guide-clip',
        source: source.id,
        start,
        offset,
        length,
        gain: 0,
        speed: 0,
        ...plainStretch,
        reversed: false,
        ...(guide.repeats && { loop: { from: 0, to: seconds, crossfade: 0 } }),
        fadeIn: { length: 0, shape: 'linear' },
        fadeOut: { length: 0, shape: 'linear' },
        locked: false,
      },
    ],
  };
  return { ...sound, layers: [...sound.layers, layer] };
}
