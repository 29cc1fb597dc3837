import type { Block } from '../audio/block';
import { clearBlock, createBlock, maxBlock } from '../audio/block';
import type { LayoutId } from '../audio/layout';
import type { Layer } from '../project/schema';
import type { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Frames } from '../units';
import type { Automation } from './automation';
import { Sends } from './bus-processor';
import type { ChainContext } from './chain/chain-context';
import { ChainProcessor } from './chain/chain';
import { chainTail } from './chain/chain-measures';
import { ClipPlayer } from './clip-player';
import { Fader, faderLanes } from './fader';
import type { FrozenLayer, RenderContext } from './library';
import { crossfadeOverlaps } from './overlaps';

/** A layer at work: its clips are mixed and run through its chain and its fader. */
export class LayerProcessor {
  readonly id: string;
  readonly address: string;
  readonly chain: ChainProcessor;
  readonly sends: Sends;
  /** The group that it goes through. */
  readonly group: string | undefined;
  private readonly clips: ClipPlayer[];
  private readonly frozen: FrozenLayer | undefined;
  private readonly block: Block;
  private readonly fader: Fader;
  private readonly firstStart: Frames;
  private readonly lastEnd: Frames;
  /** Frames that the chain can go on sounding without any input. */
  private tail: Frames = 0;
  /** Frames of nothing but zeros since the last clip ended. */
  private zeros: Frames = 0;
  private asleep = true;

  constructor(
    layer: Layer,
    context: RenderContext,
    layout: LayoutId,
    private readonly chainContext: ChainContext,
    cache: TreatmentCache,
  ) {
    this.id = layer.id;
    this.address = `layer/${layer.id}`;
    this.group = layer.group;
    const { channels } = chainContext;
    this.block = createBlock(channels);
    this.fader = new Fader(channels);
    this.chain = new ChainProcessor(layer.chain, chainContext);
    this.sends = new Sends(layer.sends, channels);
    this.frozen = context.frozen?.get(layer.id);
    this.clips = (this.frozen ? [] : layer.clips)
      .map((clip) => new ClipPlayer(clip, context, layout, cache))
      .sort((a, b) => a.start - b.start);
    if (layer.overlaps === 'crossfade') crossfadeOverlaps(this.clips);
    this.firstStart = this.clips[0]?.start ?? Infinity;
    this.lastEnd = this.clips.reduce((end, clip) => Math.max(end, clip.end), 0);
  }

  get latency(): Frames {
    return this.chain.latency;
  }

  apply(layer: Layer, audible: boolean, automation: Automation): void {
    const owner = this.address;
    this.fader.aim(layer, audible, faderLanes(automation, owner));
    this.sends.apply(layer.sends, automation, owner);
    this.chain.apply(layer.chain, automation, owner);
    this.tail = chainTail(layer.chain, this.chainContext, automation, owner);
  }

  /**
   * True where the layer is exactly silent: before its first clip, when nothing has gone through its chain yet, and behind its last
   * one once the chain has given nothing but zeros for longer than it can hold anything back: an echo may come after a long silence.
   * Without a chain it is also silent between its clips; a chain must go on there, because its movements do.
   */
  private sleeps(read: Frames, frames: Frames): boolean {
    if (read + frames <= this.firstStart) return true;
    if (this.chain.empty) return !this.isSounding(read, frames);
    return read > this.lastEnd && this.zeros > this.chain.latency + this.tail + maxBlock;
  }

  private isSounding(read: Frames, frames: Frames): boolean {
    for (const clip of this.clips) {
      if (clip.start >= read + frames) return false;
      if (clip.end > read) return true;
    }
    return false;
  }

  /** The layer's next frames at `position` behind its chain, valid until the next call; undefined where it is silent. */
  next(position: Frames, frames: Frames): Block | undefined {
    const { block } = this;
    if (this.frozen) return thaw(this.frozen, position, frames, block);
    const read = position + this.chain.latency;
    const slept = this.asleep;
    this.asleep = this.sleeps(read, frames);
    if (this.asleep) return undefined;
    if (slept) this.fader.settle();
    clearBlock(block, frames);
    for (const clip of this.clips) {
      if (clip.start >= read + frames) break;
      clip.mix(read, block);
    }
    this.chain.process(block, read);
    this.zeros = read > this.lastEnd && isSilent(block) ? this.zeros + frames : 0;
    return block;
  }

  gainReductions(into: Map<string, Decibels>): void {
    this.chain.gainReductions(into, this.asleep);
  }

  /** Takes what `next` gave through the fader; undefined when that is closed. */
  fade(block: Block, position: Frames): Block | undefined {
    if (this.fader.closed) return undefined;
    this.fader.process(block, position);
    return block;
  }
}

/** Fills a block with what was frozen; undefined where there is none of it. */
function thaw({ channels, start }: FrozenLayer, position: Frames, frames: Frames, block: Block): Block | undefined {
  const from = position - start;
  const length = channels[0]!.length;
  if (from + frames <= 0 || from >= length) return undefined;
  clearBlock(block, frames);
  const first = Math.max(0, -from);
  const last = Math.min(frames, length - from);
  for (let c = 0; c < channels.length; c++) block.channels[c]!.set(channels[c]!.subarray(from + first, from + last), first);
  return block;
}

function isSilent({ channels, frames }: Block): boolean {
  for (let c = 0; c < channels.length; c++) {
    const samples = channels[c]!;
    for (let i = 0; i < frames; i++) if (samples[i] !== 0) return false;
  }
  return true;
}
