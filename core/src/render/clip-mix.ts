import type { Block } from '../dsp/block';
import type { LayoutId } from '../audio/layout';
import type { Layer } from '../project/schema';
import type { TreatmentCache } from '../treatments/treat-clip';
import type { Frames } from '../units';
import { ClipPlayer } from './clip-player';
import type { LayerContent } from './layer-content';
import type { RenderContext } from './library';
import { crossfadeOverlaps } from './overlaps';

/** What of a layer's clips decides how they are mixed; their gains glide, and all else of them is for people. */
export function clipsStructure({ clips, overlaps }: Pick<Layer, 'clips' | 'overlaps'>): string {
  return JSON.stringify([overlaps, clips.map((clip) => ({ ...clip, gain: 0, locked: false, group: undefined, sync: undefined }))]);
}

/** The clips of a layer, ready to be mixed, in the order of their starts. */
export class ClipMix implements LayerContent {
  readonly firstStart: Frames;
  readonly lastEnd: Frames;
  readonly waits: boolean;
  readonly lacks: boolean;
  private readonly players: readonly (readonly [id: string, player: ClipPlayer])[];

  constructor({ clips, overlaps }: Pick<Layer, 'clips' | 'overlaps'>, context: RenderContext, layout: LayoutId, cache: TreatmentCache) {
    this.players = clips
      .map((clip): [string, ClipPlayer] => [clip.id, new ClipPlayer(clip, context, layout, cache)])
      .sort(([, a], [, b]) => a.start - b.start);
    const players = this.players.map(([, player]) => player);
    if (overlaps === 'crossfade') crossfadeOverlaps(players);
    this.firstStart = players[0]?.start ?? Infinity;
    this.lastEnd = players.reduce((end, player) => Math.max(end, player.end), 0);
    this.waits = players.some(({ lacks }) => lacks !== 'nothing');
    this.lacks = players.some(({ lacks }) => lacks === 'all');
  }

  aim({ clips }: Pick<Layer, 'clips'>): void {
    const gains = new Map(clips.map(({ id, gain }) => [id, gain]));
    for (const [id, player] of this.players) player.aim(gains.get(id) ?? 0);
  }

  /** True for the same clips at the same places, whatever is done to them. */
  hasClipsOf(other: LayerContent): boolean {
    return (
      other instanceof ClipMix &&
      this.players.length === other.players.length &&
      this.players.every(([id, player], i) => id === other.players[i]![0] && player.start === other.players[i]![1].start)
    );
  }

  isSounding(read: Frames, frames: Frames): boolean {
    for (const [, player] of this.players) {
      if (player.start >= read + frames) return false;
      if (player.end > read) return true;
    }
    return false;
  }

  /** Adds what lies at `read` to a block. */
  mix(read: Frames, block: Block): void {
    for (const [, player] of this.players) {
      if (player.start >= read + block.frames) break;
      player.mix(read, block);
    }
  }
}
