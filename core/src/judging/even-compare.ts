import { KWeighting } from '../analysis/loudness/k-weighting';
import { channelWeights, LoudnessMeter, meanSquareToLufs } from '../analysis/loudness/loudness';
import { Glide } from '../dsp/glide';
import { InterSampleReader } from '../dsp/inter-sample';
import { createBlock, maxBlock } from '../dsp/block';
import { mapSteps } from '../project/chain/chain-tree';
import type { ChainOwner } from '../project/edits/edit';
import type { EffectStep } from '../project/chain/chain-schema';
import type { Sound } from '../project/schema';
import type { Loop, SoundPlayer } from '../render/live/player';
import type { Decibels, Frames, Hertz, Seconds } from '../units';
import { decibelsToGain } from '../units';

const switchTime: Seconds = 0.02;
/** How long something must have been heard to speak of its loudness, and how quickly the gain follows. */
const leastHeard: Seconds = 0.1;
const gainTime: Seconds = 0.3;
/** Below about -70 LUFS there is nothing to match. */
const quietest = 10 ** (-70 / 10);
/** What neither side passes at its own samples and between them; as the gain moves, what comes out may pass it by some tenths of a dB. */
const ceiling = decibelsToGain(-1.6);
/** How long, and by how much in a frame, the gain of both may rise again after a change: about 4 dB a second. */
const recoverTime: Seconds = 3;
const recovery = 1.00001;

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
 * Plays two versions of a sound side by side and lets one of them be heard. The louder is lowered to the loudness of the other (K-weighted and gated,
 * ITU-R BS.1770-5, over all that was heard of both), so that neither wins by being louder; both are lowered together where one would pass -1 dBTP.
 * Switching crossfades. Output comes 24 frames late: so far ahead it looks for peaks.
 */
export class EvenCompare {
  private readonly loudnessA: Loudness;
  private readonly loudnessB: Loudness;
  private readonly peaksA: readonly PeakAhead[];
  private readonly peaksB: readonly PeakAhead[];
  private readonly other: readonly Float32Array[];
  private readonly shareOfB: Glide;
  private readonly keepGain: number;
  private readonly hop: Frames;
  private readonly recoverFrames: Frames;
  private sinceLoudness: Frames = 0;
  /** By how much A is louder than B, as measured last. */
  private difference: Decibels | undefined;
  private matched: Decibels = 0;
  /** Gain of both that keeps the loudest peak so far below the ceiling. It does not rise by itself: levels would pump. */
  private safety = 1;
  /** Frames for which it may rise, slowly, because a version has changed. */
  private recovering: Frames = 0;

  constructor(
    private readonly a: SoundPlayer,
    private readonly b: SoundPlayer,
    sampleRate: Hertz,
  ) {
    this.loudnessA = new Loudness(sampleRate, a.channels);
    this.loudnessB = new Loudness(sampleRate, a.channels);
    this.peaksA = Array.from({ length: a.channels }, () => new PeakAhead());
    this.peaksB = Array.from({ length: a.channels }, () => new PeakAhead());
    this.other = createBlock(a.channels).channels;
    this.shareOfB = new Glide(Math.round(switchTime * sampleRate));
    this.shareOfB.aim(0);
    this.keepGain = Math.exp(-1 / (gainTime * sampleRate));
    this.hop = Math.round(leastHeard * sampleRate);
    this.recoverFrames = Math.round(recoverTime * sampleRate);
  }

  /** Which of the two is heard. */
  hear(which: 'A' | 'B'): void {
    this.shareOfB.aim(which === 'B' ? 1 : 0);
  }

  /** What B is turned up against A: below 0, B is lowered by it; above, A is. */
  get gain(): Decibels {
    return this.matched;
  }

  /** Measures anew: one of the versions has changed. The gain goes on from where it is. */
  restart(): void {
    this.loudnessA.restart();
    this.loudnessB.restart();
    this.difference = undefined;
    this.recovering = this.recoverFrames;
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
    const { other, peaksA, peaksB } = this;
    for (let done = 0; done < count;) done += this.b.render(other, count - done, done);
    this.measure(into, count);
    // Within a block the gains rise by less than what the reader leaves.
    for (let c = 0; c < into.length; c++) {
      peaksA[c]!.read(into[c]!, count, ceiling / this.safety);
      peaksB[c]!.read(other[c]!, count, ceiling / this.safety);
    }
    for (let i = 0; i < count; i++) {
      if (this.difference !== undefined) this.matched = this.difference + (this.matched - this.difference) * this.keepGain;
      const gainA = this.matched > 0 ? 10 ** (-this.matched / 20) : 1;
      const gainB = this.matched < 0 ? 10 ** (this.matched / 20) : 1;
      if (this.recovering > 0) {
        this.recovering--;
        this.safety = Math.min(1, this.safety * recovery);
      }
      let peak = 0;
      for (let c = 0; c < into.length; c++) {
        peak = Math.max(peak, gainA * peaksA[c]!.peaks[i]!, gainB * peaksB[c]!.peaks[i]!);
      }
      if (peak * this.safety > ceiling) this.safety = ceiling / peak;
      const share = this.shareOfB.next();
      const heardA = (1 - share) * gainA * this.safety;
      const heardB = share * gainB * this.safety;
      for (let c = 0; c < into.length; c++) into[c]![i] = peaksA[c]!.late[i]! * heardA + peaksB[c]!.late[i]! * heardB;
    }
    return count;
  }

  private measure(a: readonly Float32Array[], count: Frames): void {
    this.loudnessA.take(a, count);
    this.loudnessB.take(this.other, count);
    this.sinceLoudness += count;
    if (this.sinceLoudness < this.hop) return;
    this.sinceLoudness = 0;
    const levelA = this.loudnessA.level;
    const levelB = this.loudnessB.level;
    if (Number.isFinite(levelA) && Number.isFinite(levelB)) this.difference = levelA - levelB;
  }
}

/** Looks for peaks in a signal, at and between samples, before it is heard. */
class PeakAhead {
  private readonly reader = new InterSampleReader();
  /** The samples that are heard now, and the largest magnitude around each of them. */
  readonly late = new Float32Array(maxBlock);
  readonly peaks = new Float32Array(maxBlock);

  /** Takes in samples; what is certainly below `matters` is read less closely. */
  read(samples: Float32Array, frames: Frames, matters: number): void {
    this.reader.read(samples, 0, frames, matters, this.peaks, this.late);
  }
}

/** Loudness of all that was heard: gated once windows of 400 ms are there, before that the mean. */
class Loudness {
  private meter: LoudnessMeter;
  private filters: readonly KWeighting[];
  private readonly weights: readonly number[];
  private readonly least: Frames;
  private power = 0;
  private frames: Frames = 0;

  constructor(
    private readonly sampleRate: Hertz,
    private readonly channels: number,
  ) {
    this.meter = new LoudnessMeter(sampleRate, channels);
    this.filters = Array.from({ length: channels }, () => new KWeighting(sampleRate));
    this.weights = channelWeights(channels);
    this.least = leastHeard * sampleRate;
  }

  restart(): void {
    this.meter = new LoudnessMeter(this.sampleRate, this.channels);
    this.filters = Array.from({ length: this.channels }, () => new KWeighting(this.sampleRate));
    this.power = this.frames = 0;
  }

  take(channels: readonly Float32Array[], count: Frames): void {
    this.meter.process(channels, 0, count);
    // Windows do the rest.
    if (this.frames > this.sampleRate) return;
    for (let c = 0; c < this.filters.length; c++) {
      const samples = channels[c]!;
      for (let i = 0; i < count; i++) this.power += this.weights[c]! * this.filters[c]!.next(samples[i]!) ** 2;
    }
    this.frames += count;
  }

  /** In LUFS; `-Infinity` while too little was heard. */
  get level(): Decibels {
    const { integrated } = this.meter;
    if (Number.isFinite(integrated)) return integrated;
    const mean = this.power / Math.max(1, this.frames);
    return this.frames < this.least || mean < quietest ? -Infinity : meanSquareToLufs(mean);
  }
}
