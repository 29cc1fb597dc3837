import { Follower as LevelFollower, frameLevel } from '../dsp/filters/simple-filters';
import type { Block } from '../dsp/block';
import { createBlock } from '../dsp/block';
import { readReference } from '../project/chain/references';
import type { Follower } from '../project/schema';
import type { Decibels, Frames, Hertz, Unit } from '../units';
import type { KeyStore } from './key-store';

/** Frames between two looks at a level. */
const hop: Frames = 32;
const quietest: Decibels = -160;

/** How far a follower has gone at a level. */
export function followerValue({ low, high }: Pick<Follower, 'low' | 'high'>, level: Decibels): Unit {
  if (high <= low) return level >= high ? 1 : 0;
  return Math.max(0, Math.min(1, (level - low) / (high - low)));
}

/** The levels that followers have read off the keys of a sound, by their place on the time axis. */
export class FollowerTracks {
  private readonly tracks = new Map<string, Track>();

  constructor(
    private readonly keys: KeyStore,
    private readonly sampleRate: Hertz,
    private readonly capacity: Frames,
    private readonly channels: number,
  ) {}

  /** Where a follower is at a frame; what has not sounded yet counts as what sounded last. */
  at(follower: Follower, frame: Frames): Unit {
    let track = this.tracks.get(follower.id);
    if (!track) {
      track = new Track(this.keys, this.sampleRate, Math.ceil(this.capacity / hop), this.channels);
      this.tracks.set(follower.id, track);
    }
    return followerValue(follower, track.level(follower, frame));
  }
}

class Track {
  private readonly follower = new LevelFollower();
  private readonly levels: Float32Array;
  private readonly block: Block;
  private tuned: Follower | undefined;
  /** Up to here levels are known; a multiple of the hop. */
  private known: Frames | undefined;

  constructor(
    private readonly keys: KeyStore,
    private readonly sampleRate: Hertz,
    private readonly slots: number,
    channels: number,
  ) {
    this.block = createBlock(channels, hop);
    this.levels = new Float32Array(slots);
  }

  level(follower: Follower, frame: Frames): Decibels {
    const reference = readReference(follower.listens);
    if (!reference) return quietest;
    if (this.tuned !== follower) {
      this.tuned = follower;
      this.follower.tune(follower.attack, follower.release, this.sampleRate);
    }
    const { from, to } = this.keys.extent(reference);
    if (to <= from) return quietest;
    this.known = Math.max(this.known ?? -Infinity, Math.ceil(from / hop) * hop);
    while (this.known + hop <= to && this.known <= frame) {
      this.block.frames = hop;
      this.keys.read(reference, this.known, this.block);
      for (let i = 0; i < hop; i++) this.follower.next(frameLevel(this.block.channels, this.block.channels.length, i));
      this.levels[this.slot(this.known)] = this.follower.level;
      this.known += hop;
    }
    const level = this.levels[this.slot(Math.min(frame, this.known - hop))]!;
    return level > 1e-8 ? 20 * Math.log10(level) : quietest;
  }

  private slot(frame: Frames): number {
    const index = Math.floor(frame / hop) % this.slots;
    return index < 0 ? index + this.slots : index;
  }
}
