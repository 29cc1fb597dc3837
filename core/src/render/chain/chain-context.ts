import type { Audio } from '../../audio/audio';
import type { Block } from '../../dsp/block';
import type { Reference } from '../../project/chain/references';
import type { Frames, Hertz } from '../../units';

/** The sounds of layers and groups that effects can take as keys. */
export interface Keys {
  /** Fills a block with what a layer or a group gives from `time` on. */
  read(key: Reference, time: Frames, into: Block): void;
}

/** What a chain works in. */
export interface ChainContext {
  readonly sampleRate: Hertz;
  readonly channels: number;
  readonly keys?: Keys;
  /** A recording by the id of its source. */
  readonly source?: (id: string) => Audio | undefined;
  /** True where nobody listens meanwhile. */
  readonly offline?: boolean;
}
