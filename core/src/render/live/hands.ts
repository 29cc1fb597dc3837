import type { Audio } from '../../audio/audio';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { patchSources } from '../../project/chain/references';
import type { Patch } from '../../project/patch/patch-schema';
import type { Layer } from '../../project/schema';
import type { HeldNote } from '../../synthesis/held-keys';
import type { PatchMoves } from '../../synthesis/patch-player';
import { PatchPlayer } from '../../synthesis/patch-player';
import type { Frames } from '../../units';
import type { Moves } from '../automation';
import type { RenderContext } from '../library';
import { sourceAudio } from '../library';
import { addStereo, notesStructure, patchMoves } from '../note-mix';

/**
 * Notes that somebody plays by hand on made layers while their sound is heard: in front of the layer's chain like those of its clips, on a clock
 * of their own, so that jumps and loops of the sound do not cut them off.
 */
export class Hands {
  private readonly players = new Map<string, HandPlayer>();

  /** Takes over a layer and what moves it; unless it has a patch, nothing can be played on it. */
  aim(layer: Layer, automation: Moves, context: RenderContext): void {
    const { id, patch } = layer;
    if (!patch) {
      this.players.delete(id);
      return;
    }
    const recording = (source: string): Audio | undefined => sourceAudio(context, source);
    const there = patchSources(patch).filter((source) => recording(source));
    const structure = [notesStructure({ ...layer, clips: [] }), ...there.map((source) => context.identities.get(source))].join();
    let player = this.players.get(id);
    if (player?.structure !== structure) {
      player = new HandPlayer(new PatchPlayer(patch, [], context.sampleRate, 0, recording), structure);
      this.players.set(id, player);
    }
    player.apply(patch, patchMoves(automation, id));
  }

  /** Presses a key on a layer. */
  strike(layer: string, note: HeldNote): void {
    this.players.get(layer)?.notes.strike(note);
  }

  letGo(layer: string, key: string): void {
    this.players.get(layer)?.notes.letGo(key);
  }

  isSounding(layer: string): boolean {
    return this.players.get(layer)?.notes.silent === false;
  }

  /** Adds what the hands play on a layer to a block that begins at `position`. */
  mix(layer: string, position: Frames, block: Block): void {
    const player = this.players.get(layer);
    if (player && !player.notes.silent) player.mix(position, block);
  }
}

class HandPlayer {
  private clock: Frames = 0;
  /** How far the sound is ahead of its clock. */
  private ahead: Frames = 0;
  private readonly left = new Float32Array(maxBlock);
  private readonly right = new Float32Array(maxBlock);

  constructor(
    readonly notes: PatchPlayer,
    readonly structure: string,
  ) {}

  /** Lanes and movers go by the time of the sound. */
  apply(patch: Patch, moves: PatchMoves): void {
    const below = (owner: string) =>
      moves.below(owner).map(({ key, parameter, reader }) => ({
        key,
        parameter,
        reader: { at: (frame: Frames) => reader.at(frame + this.ahead), extremes: () => reader.extremes() },
      }));
    this.notes.apply(patch, { bpm: moves.bpm, below });
  }

  mix(position: Frames, block: Block): void {
    this.ahead = position - this.clock;
    const { left, right } = this;
    left.fill(0, 0, block.frames);
    right.fill(0, 0, block.frames);
    this.notes.process(this.clock, block.frames, left, right);
    this.clock += block.frames;
    addStereo(block, 0, left, right, block.frames);
  }
}
