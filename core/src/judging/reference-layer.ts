import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Block } from '../dsp/block';
import { createBlock } from '../dsp/block';
import type { LayoutId } from '../audio/layout';
import { channelsOf, toLayout } from '../audio/layout';
import { soundEnd } from '../project/time/clip-times';
import type { Layer, Project, Sound } from '../project/schema';
import type { LayerListener } from '../render/sound-graph';
import type { Frames } from '../units';

/** Id of the layer that stands for the reference while seats are measured. */
export const referenceLayerId = 'reference';

/**
 * A sound with its reference as one more layer, repeated to the end, so that room has to be left for it all along. The sound itself when
 * it has none. For measuring only: nothing of it is ever rendered.
 */
export function withReference(sound: Sound, { sources, sampleRate }: Pick<Project, 'sources' | 'sampleRate'>): Sound {
  const source = sources.find(({ id }) => id === sound.reference);
  if (!source) return sound;
  const seconds = source.frames / sampleRate;
  const layer: Layer = {
    id: referenceLayerId,
    name: source.name,
    role: 'Body',
    gain: 0,
    pan: 0,
    muted: false,
    // Where others are heard alone, it is heard with them.
    soloed: sound.soloing && [...sound.layers, ...sound.buses].some(({ soloed }) => soloed),
    sends: [],
    overlaps: 'sum',
    chain: [],
    clips: [
      {
        id: 'reference-clip',
        source: source.id,
        start: 0,
        offset: 0,
        length: Math.max(seconds, soundEnd(sound)),
        gain: 0,
        speed: 0,
        stretch: 1,
        pitch: 0,
        reversed: false,
        loop: { from: 0, to: seconds, crossfade: 0 },
        fadeIn: { length: 0, shape: 'linear' },
        fadeOut: { length: 0, shape: 'linear' },
        locked: false,
      },
    ],
  };
  return { ...sound, layers: [...sound.layers, layer] };
}

/** Lets a listener hear the reference beside layers that play, repeated as in `withReference`; nobody else hears it. */
export class ReferencePlayer {
  private readonly block: Block;
  private readonly audio: Audio;

  constructor(audio: Audio, layout: LayoutId) {
    this.audio = toLayout(audio, layout);
    this.block = createBlock(channelsOf(layout));
  }

  /** What lies at `position` on the time axis, at most a block of it. */
  play(listener: LayerListener, position: Frames, frames: Frames): void {
    const { block, audio } = this;
    const length = frameCount(audio);
    if (length === 0) return;
    block.frames = frames;
    for (let c = 0; c < block.channels.length; c++) {
      const from = audio.channels[c]!;
      const into = block.channels[c]!;
      for (let i = 0, at = Math.max(0, position) % length; i < frames; i++) {
        into[i] = from[at]!;
        if (++at === length) at = 0;
      }
    }
    listener.hear(referenceLayerId, block);
  }
}
