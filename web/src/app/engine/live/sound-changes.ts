import type { Layer, Sound } from '@tangled-choir/core';
import type { AudioByIdentity } from '@tangled-choir/jobs';
import type { RenderableSound } from '../renderable-sound';

type Pieces = NonNullable<RenderableSound['pieces']>;

const none: AudioByIdentity = new Map();
const noPieces: Pieces = new Map();

/** What changed in a sound since it was last sent: layers that stayed are told by their ids, tables that stayed are left out. */
export interface SoundChanges extends Pick<RenderableSound, 'sampleRate' | 'frozen' | 'guide'> {
  readonly sound: Omit<Sound, 'layers'>;
  readonly layers: readonly (Layer | string)[];
  readonly identities?: ReadonlyMap<string, string>;
  readonly audio?: AudioByIdentity;
  readonly treated?: AudioByIdentity;
  readonly pieces?: Pieces;
}

/** Finds what has to be sent. Edits leave what they do not touch the same object, so that a look at each layer is enough. */
export class SoundPacker {
  private last: RenderableSound | undefined;

  pack({ sound: { layers, ...sound }, identities, audio, treated = none, pieces = noPieces, ...rest }: RenderableSound): SoundChanges {
    const { last } = this;
    const known = new Set(last?.sound.layers);
    this.last = { sound: { ...sound, layers }, identities, audio, treated, pieces, ...rest };
    return {
      ...rest,
      sound,
      layers: layers.map((layer) => (known.has(layer) ? layer.id : layer)),
      ...(!(last && isSame(identities, last.identities)) && { identities }),
      ...(!(last && isSame(audio, last.audio)) && { audio }),
      ...(!isSame(treated, last?.treated ?? none) && { treated }),
      ...(!isSame(pieces, last?.pieces ?? noPieces) && { pieces }),
    };
  }
}

/** Puts a sound together again. Needs all changes of its packer, in their order. */
export class SoundUnpacker {
  private layers: ReadonlyMap<string, Layer> = new Map();
  private identities: ReadonlyMap<string, string> = new Map();
  private audio: AudioByIdentity = none;
  private treated: AudioByIdentity = none;
  private pieces = noPieces;

  unpack({ sound, layers, identities, audio, treated, pieces, ...rest }: SoundChanges): RenderableSound {
    const whole = layers.map((layer) => (typeof layer === 'string' ? this.layers.get(layer)! : layer));
    this.layers = new Map(whole.map((layer) => [layer.id, layer]));
    this.identities = identities ?? this.identities;
    this.audio = audio ?? this.audio;
    this.treated = treated ?? this.treated;
    this.pieces = pieces ?? this.pieces;
    return {
      ...rest,
      sound: { ...sound, layers: whole },
      identities: this.identities,
      audio: this.audio,
      treated: this.treated,
      pieces: this.pieces,
    };
  }
}

function isSame<K, V>(a: ReadonlyMap<K, V>, b: ReadonlyMap<K, V>): boolean {
  if (a.size !== b.size) return false;
  for (const [key, value] of a) if (b.get(key) !== value) return false;
  return true;
}
