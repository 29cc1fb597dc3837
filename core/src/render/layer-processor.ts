import type { Block } from '../dsp/block';
import { clearBlock, createBlock, maxBlock } from '../dsp/block';
import type { LayoutId } from '../audio/layout';
import type { Layer } from '../project/schema';
import type { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Frames } from '../units';
import type { Automation } from './automation';
import { Sends } from './bus-processor';
import type { ChainContext } from './chain/chain-context';
import { ChainProcessor } from './chain/chain';
import { chainTail } from './chain/chain-measures';
import { ClipMix, clipsStructure } from './clip-mix';
import type { LayerContent } from './layer-content';
import { NoteMix, notesStructure } from './note-mix';
import { Fader, faderLanes } from './fader';
import type { FrozenLayer, RenderContext } from './library';
import type { Hands } from './live/hands';

const changeFrames: Frames = 512;
const noClips: Pick<Layer, 'clips' | 'overlaps'> = { clips: [], overlaps: 'sum' };

/**
 * A layer at work: its clips are mixed and run through its chain and its fader. When its clips are changed, the old ones fade into the new in
 * front of the chain, so that whatever rings in it, or in buses behind it, rings on.
 */
export class LayerProcessor {
  readonly id: string;
  readonly address: string;
  readonly chain: ChainProcessor;
  readonly sends: Sends;
  /** Who plays on it by hand. */
  hands: Hands | undefined;
  /** The group that it goes through. */
  readonly group: string | undefined;
  private clips: LayerContent;
  private structure: string;
  private layerClips: Layer['clips'];
  private patch: Layer['patch'];
  /** What the clips were until a moment ago. */
  private outgoing: LayerContent | undefined;
  private fadeLeft: Frames = 0;
  /** What the clips are to become once that is done. */
  private waiting: LayerContent | undefined;
  /** True while a new treatment of the same clips is awaited. */
  private held = false;
  private readonly fading: Block;
  private readonly frozen: FrozenLayer | undefined;
  private readonly block: Block;
  private readonly fader: Fader;
  /** Frames that the chain can go on sounding without any input. */
  private tail: Frames = 0;
  /** Frames of nothing but zeros since a clip sounded last. */
  private zeros: Frames = 0;
  /** Something has gone through the chain. */
  private fed = false;
  private asleep = true;

  constructor(
    layer: Layer,
    private context: RenderContext,
    private readonly layout: LayoutId,
    private readonly chainContext: ChainContext,
    private readonly cache: TreatmentCache,
  ) {
    this.id = layer.id;
    this.address = `layer/${layer.id}`;
    this.group = layer.group;
    const { channels } = chainContext;
    this.block = createBlock(channels);
    this.fading = createBlock(channels);
    this.fader = new Fader(channels);
    this.chain = new ChainProcessor(layer.chain, chainContext);
    this.sends = new Sends(layer.sends, channels);
    this.frozen = context.frozen?.get(layer.id);
    this.clips = this.frozen ? new ClipMix(noClips, context, layout, cache) : this.contentOf(layer);
    this.layerClips = layer.clips;
    this.patch = layer.patch;
    this.structure = structureOf(layer);
  }

  get latency(): Frames {
    return this.chain.latency;
  }

  apply(layer: Layer, audible: boolean, automation: Automation, context: RenderContext): void {
    const owner = this.address;
    this.fader.aim(layer, audible, faderLanes(automation, owner));
    this.sends.apply(layer.sends, automation, owner);
    this.chain.apply(layer.chain, automation, owner);
    this.tail = chainTail(layer.chain, this.chainContext, automation, owner);
    if (!this.frozen) this.takeClips(layer, automation, context);
  }

  private contentOf(layer: Layer): LayerContent {
    const { context, layout, cache } = this;
    return layer.patch ? new NoteMix(layer, layer.patch, context) : new ClipMix(layer, context, layout, cache);
  }

  private takeClips(layer: Layer, automation: Automation, context: RenderContext): void {
    const waits = this.held || (this.waiting ?? this.clips).waits;
    const arrived =
      waits &&
      (context.treated !== this.context.treated || context.pieces !== this.context.pieces || context.library !== this.context.library);
    this.context = context;
    if (layer.clips === this.layerClips && layer.patch === this.patch && !arrived) {
      // What moves a patch may have changed; recordings are moved by nothing.
      if (layer.patch) (this.waiting ?? this.clips).aim(layer, automation);
      return;
    }
    this.layerClips = layer.clips;
    this.patch = layer.patch;
    const structure = structureOf(layer);
    if (structure !== this.structure || arrived) {
      this.structure = structure;
      const next = this.contentOf(layer);
      next.aim(layer, automation);
      const now = this.waiting ?? this.clips;
      // What is only treated anew goes on as it was until that is done.
      this.held = next.lacks && !now.lacks && next.hasClipsOf(now);
      if (this.held) return;
      // One crossfade at a time.
      if (this.outgoing) this.waiting = next;
      else this.fadeTo(next);
    } else (this.waiting ?? this.clips).aim(layer, automation);
  }

  private fadeTo(next: LayerContent): void {
    this.outgoing = this.clips;
    this.clips = next;
    this.fadeLeft = changeFrames;
  }

  /**
   * True where the layer is exactly silent: before its first clip, when nothing has gone through its chain yet, and behind its last
   * one once the chain has given nothing but zeros for longer than it can hold anything back: an echo may come after a long silence.
   * Without a chain it is also silent between its clips; a chain must go on there, because its movements do.
   */
  private sleeps(read: Frames, frames: Frames): boolean {
    if (this.outgoing || this.hands?.isSounding(this.id)) return false;
    if (this.chain.empty) return !this.clips.isSounding(read, frames);
    // What it makes room for may sound before it does.
    if (this.chain.takesKeys && read <= this.clips.lastEnd) return false;
    const outside = read > this.clips.lastEnd || read + frames <= this.clips.firstStart;
    return outside && (!this.fed || this.zeros > this.chain.latency + this.tail + maxBlock);
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
    this.clips.mix(read, block);
    if (this.outgoing) this.crossfade(this.outgoing, read, frames);
    this.hands?.mix(this.id, read, block);
    this.runChain(read);
    const sounds = this.clips.isSounding(read, frames) || this.hands?.isSounding(this.id);
    this.zeros = !sounds && isSilent(block) ? this.zeros + frames : 0;
    return block;
  }

  /**
   * Runs the block through the chain. What moves in there sets out with the first clip, wherever in a block that begins, so that it is
   * heard alike in blocks of any size.
   */
  private runChain(read: Frames): void {
    const { block } = this;
    const before = this.clips.firstStart - read;
    const setsOut = !this.fed && before > 0 && before < block.frames && !this.chain.takesKeys && !this.hands?.isSounding(this.id);
    this.fed = true;
    if (setsOut) this.chain.process(laterPart(block, before), read + before);
    else this.chain.process(block, read);
  }

  private crossfade(outgoing: LayerContent, read: Frames, frames: Frames): void {
    const { block, fading } = this;
    clearBlock(fading, frames);
    outgoing.mix(read, fading);
    const faded = Math.min(frames, this.fadeLeft);
    for (let c = 0; c < block.channels.length; c++) {
      const samples = block.channels[c]!;
      const before = fading.channels[c]!;
      for (let i = 0; i < faded; i++) {
        const rest = (this.fadeLeft - i - 0.5) / changeFrames;
        samples[i] = samples[i]! + (before[i]! - samples[i]!) * rest;
      }
    }
    this.fadeLeft -= faded;
    if (this.fadeLeft > 0) return;
    this.outgoing = undefined;
    if (!this.waiting) return;
    this.fadeTo(this.waiting);
    this.waiting = undefined;
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

function structureOf(layer: Layer): string {
  return layer.patch ? notesStructure(layer) : clipsStructure(layer);
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

/** What of a block lies behind its first frames. */
function laterPart({ channels, frames }: Block, first: Frames): Block {
  return { channels: channels.map((samples) => samples.subarray(first, frames)), frames: frames - first };
}

function isSilent({ channels, frames }: Block): boolean {
  for (let c = 0; c < channels.length; c++) {
    const samples = channels[c]!;
    for (let i = 0; i < frames; i++) if (samples[i] !== 0) return false;
  }
  return true;
}
