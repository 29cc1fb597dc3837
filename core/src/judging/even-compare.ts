import { KWeighting } from '../analysis/loudness/k-weighting';
import { channelWeights } from '../analysis/loudness/loudness';
import { Glide } from '../dsp/glide';
import { createBlock } from '../dsp/block';
import { mapSteps } from '../project/chain/chain-tree';
import type { ChainOwner } from '../project/edits/edit';
import type { EffectStep } from '../project/chain/chain-schema';
import type { Sound } from '../project/schema';
import type { Loop, SoundPlayer } from '../render/live/player';
import type { Decibels, Frames, Hertz, Seconds } from '../units';

const switchTime: Seconds = 0.02;
/** How long loudness is averaged, for how long it must have been, and how quickly the gain follows. */
const memory: Seconds = 3;
const leastMemory: Seconds = 0.1;
const gainTime: Seconds = 0.3;
const mostGain: Decibels = 24;
/** Below about -70 LUFS there is nothing to match. */
const quietest = 10 ** (-70 / 10);

/** The other side of a comparison. */
export type Comparison = 'without this step' | 'without this chain' | 'without all chains';

/** A sound without a step, without the chain of one owner, or without any chain; everything keeps its latency. */
export function bypassed(sound: Sound, comparison: Comparison, owner: ChainOwner, step: string | undefined): Sound {
  const off = (chain: readonly EffectStep[]): EffectStep[] =>
    mapSteps(chain, (each) => (comparison === 'without this step' && each.id !== step ? each : { ...each, enabled: false }));
  const all = comparison === 'without all chains';
  const isOwner = (kind: 'layer' | 'bus', id: string): boolean =>
    all || (typeof owner === 'object' && (kind === 'layer' ? 'layer' in owner && owner.layer === id : 'bus' in owner && owner.bus === id));
  return {
    ...sound,
    layers: sound.layers.map((layer) => (isOwner('layer', layer.id) ? { ...layer, chain: off(layer.chain) } : layer)),
    buses: sound.buses.map((bus) => (isOwner('bus', bus.id) ? { ...bus, chain: off(bus.chain) } : bus)),
    chain: all || owner === 'sound' ? off(sound.chain) : sound.chain,
  };
}

/**
 * Plays two versions of a sound side by side and lets one of them be heard. B is brought to the loudness of A (K-weighted, ITU-R
 * BS.1770-5, over the last seconds of the same stretch of time), so that neither wins by being louder; switching crossfades.
 */
export class EvenCompare {
  private readonly loudnessA: Loudness;
  private readonly loudnessB: Loudness;
  private readonly other: readonly Float32Array[];
  private readonly shareOfB: Glide;
  private readonly keepGain: number;
  private matched: Decibels = 0;

  constructor(
    private readonly a: SoundPlayer,
    private readonly b: SoundPlayer,
    sampleRate: Hertz,
  ) {
    this.loudnessA = new Loudness(sampleRate, a.channels);
    this.loudnessB = new Loudness(sampleRate, a.channels);
    this.other = createBlock(a.channels).channels;
    this.shareOfB = new Glide(Math.round(switchTime * sampleRate));
    this.shareOfB.aim(0);
    this.keepGain = Math.exp(-1 / (gainTime * sampleRate));
  }

  /** Which of the two is heard. */
  hear(which: 'A' | 'B'): void {
    this.shareOfB.aim(which === 'B' ? 1 : 0);
  }

  /** What B is turned up or down by. */
  get gain(): Decibels {
    return this.matched;
  }

  get position(): Frames {
    return this.a.position;
  }

  set loop(loop: Loop | undefined) {
    this.a.loop = loop;
    this.b.loop = loop;
  }

  seek(position: Frames): void {
    this.a.seek(position);
    this.b.seek(position);
  }

  get channels(): number {
    return this.a.channels;
  }

  /** Writes the next frames and returns how many. */
  render(into: readonly Float32Array[], frames: Frames): Frames {
    const count = this.a.render(into, frames);
    const { other } = this;
    for (let done = 0; done < count;) done += this.b.render(other, count - done, done);
    for (let i = 0; i < count; i++) {
      const levelA = this.loudnessA.next(into, i);
      const levelB = this.loudnessB.next(other, i);
      // The first moments say nothing about loudness yet, and a wrong gain would be heard as a burst.
      if (this.loudnessA.settled && levelA > quietest && levelB > quietest) {
        const wanted = Math.max(-mostGain, Math.min(mostGain, 10 * Math.log10(levelA / levelB)));
        this.matched = wanted + (this.matched - wanted) * this.keepGain;
      }
      const share = this.shareOfB.next();
      const gain = share === 0 ? 0 : share * 10 ** (this.matched / 20);
      for (let c = 0; c < into.length; c++) into[c]![i] = into[c]![i]! * (1 - share) + other[c]![i]! * gain;
    }
    return count;
  }
}

/** K-weighted power over the last seconds; over all there was while that is less. */
class Loudness {
  private readonly filters: readonly KWeighting[];
  private readonly weights: readonly number[];
  private readonly keep: number;
  private readonly least: Frames;
  private power = 0;
  private weight = 0;

  constructor(sampleRate: Hertz, channels: number) {
    this.filters = Array.from({ length: channels }, () => new KWeighting(sampleRate));
    this.weights = channelWeights(channels);
    this.keep = Math.exp(-1 / (memory * sampleRate));
    this.least = leastMemory * sampleRate;
  }

  /** True when enough has been heard to speak of loudness. */
  get settled(): boolean {
    return this.weight >= this.least;
  }

  /** Takes in frame `i`. */
  next(channels: readonly Float32Array[], i: number): number {
    let square = 0;
    for (let c = 0; c < this.filters.length; c++) square += this.weights[c]! * this.filters[c]!.next(channels[c]![i]!) ** 2;
    this.power = this.power * this.keep + square;
    this.weight = this.weight * this.keep + 1;
    return this.power / this.weight;
  }
}
