import { Glide } from '../dsp/glide';
import type { Block } from '../effects/effect';
import { maxBlock } from '../effects/effect';
import type { Layer, Sound } from '../project/schema';
import type { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Frames, Ratio } from '../units';
import { decibelsToGain } from '../units';
import type { StepTap } from './chain';
import { ChainProcessor, chainStructure } from './chain';
import { ClipPlayer } from './clip-player';
import type { RenderContext } from './library';
import { crossfadeOverlaps } from './overlaps';

const glideFrames: Frames = 512;

/** Gains for both sides at a pan position: the far side falls by a quarter cosine, the near side stays, so that nothing gets louder. */
export function panGains(pan: number): { left: Ratio; right: Ratio } {
  return { left: pan <= 0 ? 1 : Math.cos((pan * Math.PI) / 2), right: pan >= 0 ? 1 : Math.cos((pan * Math.PI) / 2) };
}

/** True when a layer can be heard: not muted, and soloed if any layer is. */
export function isAudible(layer: Layer, sound: Sound): boolean {
  return !layer.muted && (layer.soloed || !sound.layers.some((other) => other.soloed));
}

/** What of a sound cannot change without building its graph anew; everything else glides. */
export function soundStructure(sound: Sound, sampleRate: number): string {
  const layers = sound.layers.map((layer) => [layer.id, layer.overlaps, layer.clips, chainStructure(layer.chain, sampleRate)]);
  return JSON.stringify([sound.id, layers, chainStructure(sound.chain, sampleRate)]);
}

/**
 * A sound at work: clips are mixed into layers, layers run their chains and are summed, the sum runs the sound's chain. All processing
 * is block by block in stereo. Latency is compensated by reading ahead: a layer whose chain lags by n frames takes its clips n
 * frames early, and all layers run ahead by the latency of the sound's chain, so that no delay lines are needed.
 */
export class SoundGraph {
  private readonly layers: LayerProcessor[];
  private readonly chain: ChainProcessor;
  private readonly gain = new Glide(glideFrames);
  private readonly block: Block = { channels: [new Float32Array(maxBlock), new Float32Array(maxBlock)], frames: 0 };
  private position: Frames = 0;
  /** Frames that must run through before the output is in place. */
  private readonly lead: Frames;

  constructor(sound: Sound, context: RenderContext, cache: TreatmentCache) {
    this.layers = sound.layers.map((layer) => new LayerProcessor(layer, context, cache));
    this.chain = new ChainProcessor(sound.chain, context.sampleRate, 2);
    this.lead = this.chain.latency + this.layers.reduce((most, layer) => Math.max(most, layer.latency), 0);
    this.apply(sound);
  }

  /** Takes over everything that can change without a new structure. */
  apply(sound: Sound): void {
    sound.layers.forEach((layer, index) => this.layers[index]?.apply(layer, isAudible(layer, sound)));
    this.chain.apply(sound.chain);
    this.gain.aim(decibelsToGain(sound.gain));
  }

  /** Goes to `position` and lets filters and detectors settle on what comes before it. */
  startAt(position: Frames, settle: Frames): void {
    let remaining = this.lead + settle;
    this.position = position - remaining;
    while (remaining > 0) {
      const frames = Math.min(maxBlock, remaining);
      this.next(frames);
      remaining -= frames;
    }
  }

  /** The next `frames` frames (at most `maxBlock`); valid until the next call. */
  next(frames: Frames): Block {
    const { block } = this;
    block.frames = frames;
    block.channels[0]!.fill(0, 0, frames);
    block.channels[1]!.fill(0, 0, frames);
    for (const layer of this.layers) layer.addTo(block, this.position + this.chain.latency);
    this.chain.process(block);
    if (this.gain.moving || this.gain.current !== 1) {
      for (let i = 0; i < frames; i++) {
        const gain = this.gain.next();
        block.channels[0]![i]! *= gain;
        block.channels[1]![i]! *= gain;
      }
    }
    this.position += frames;
    return block;
  }

  /** Listens at one step of any chain. */
  set tap(tap: StepTap | undefined) {
    this.chain.tap = tap;
    for (const layer of this.layers) layer.chain.tap = tap;
  }

  gainReductions(into: Map<string, Decibels>): void {
    this.chain.gainReductions(into);
    for (const layer of this.layers) layer.chain.gainReductions(into);
  }
}

class LayerProcessor {
  readonly chain: ChainProcessor;
  private readonly clips: ClipPlayer[];
  private readonly block: Block = { channels: [new Float32Array(maxBlock), new Float32Array(maxBlock)], frames: 0 };
  private readonly left = new Glide(glideFrames);
  private readonly right = new Glide(glideFrames);
  private readonly firstStart: Frames;
  private readonly lastEnd: Frames;
  /** Frames of nothing but zeros since the last clip ended. */
  private zeros: Frames = 0;

  constructor(layer: Layer, context: RenderContext, cache: TreatmentCache) {
    this.chain = new ChainProcessor(layer.chain, context.sampleRate, 2);
    this.clips = layer.clips.map((clip) => new ClipPlayer(clip, context, cache)).sort((a, b) => a.start - b.start);
    if (layer.overlaps === 'crossfade') crossfadeOverlaps(this.clips);
    this.firstStart = this.clips[0]?.start ?? Infinity;
    this.lastEnd = this.clips.reduce((end, clip) => Math.max(end, clip.end), 0);
  }

  get latency(): Frames {
    return this.chain.latency;
  }

  apply(layer: Layer, audible: boolean): void {
    const gain = audible ? decibelsToGain(layer.gain) : 0;
    const pan = panGains(layer.pan);
    this.left.aim(gain * pan.left);
    this.right.aim(gain * pan.right);
    this.chain.apply(layer.chain);
  }

  /**
   * True where the layer is exactly silent: before its first clip, when nothing has gone through its chain yet, and behind its last
   * one once the chain has given nothing but zeros for longer than its latency.
   */
  private sleeps(read: Frames, frames: Frames): boolean {
    return read + frames <= this.firstStart || (read > this.lastEnd && this.zeros > this.chain.latency + maxBlock);
  }

  /** Adds this layer's sound at `position` to the mix. */
  addTo(mix: Block, position: Frames): void {
    const { block } = this;
    const frames = (block.frames = mix.frames);
    if (this.sleeps(position + this.chain.latency, frames)) return;
    const left = block.channels[0]!;
    const right = block.channels[1]!;
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
    const read = position + this.chain.latency;
    for (const clip of this.clips) {
      if (clip.start >= read + frames) break;
      clip.mix(read, frames, left, right);
    }
    this.chain.process(block);
    this.zeros = read > this.lastEnd && isZero(left, frames) && isZero(right, frames) ? this.zeros + frames : 0;
    addScaled(mix.channels[0]!, left, this.left, frames);
    addScaled(mix.channels[1]!, right, this.right, frames);
  }
}

function isZero(samples: Float32Array, frames: Frames): boolean {
  for (let i = 0; i < frames; i++) if (samples[i] !== 0) return false;
  return true;
}

/** Adds `part`, scaled by a gain that may be gliding, to `sum`. */
function addScaled(sum: Float32Array, part: Float32Array, gain: Glide, frames: Frames): void {
  if (gain.moving) {
    for (let i = 0; i < frames; i++) sum[i]! += part[i]! * gain.next();
    return;
  }
  const steady = gain.current;
  if (steady !== 0) for (let i = 0; i < frames; i++) sum[i]! += part[i]! * steady;
}
