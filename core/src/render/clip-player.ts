import type { Block } from '../dsp/block';
import { Glide } from '../dsp/glide';
import type { FadeShape } from '../audio/fade';
import { fadeGain } from '../audio/fade';
import type { LayoutId } from '../audio/layout';
import { channelsOf, toLayout } from '../audio/layout';
import type { Clip } from '../project/schema';
import { clipDuration } from '../project/time/clip-times';
import type { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Frames, Ratio } from '../units';
import { decibelsToGain } from '../units';
import type { RenderContext } from './library';

const glideFrames: Frames = 512;

/** A clip ready to be mixed: its treated samples, where they start, and its fades in frames. */
export class ClipPlayer {
  readonly start: Frames;
  readonly end: Frames;
  /** Treated samples, before fades and gain; where they end, their last `period` frames come again. */
  private readonly channels: readonly Float32Array[];
  private readonly period: Frames;
  /** Frames of the clip between which there is something to be heard: where there is only a piece of it yet, not all. */
  private readonly heardFrom: Frames;
  private readonly heardTo: Frames;
  /** What is still missing: its recording is being loaded, or its treatment made elsewhere. */
  readonly lacks: 'nothing' | 'all but a piece' | 'all';
  private fadeIn: Frames;
  private fadeOut: Frames;
  /** Gains of a crossfade with the clip before or behind, in place of the fade on that side. */
  private crossIn: Float32Array | undefined;
  private crossOut: Float32Array | undefined;
  private readonly shapeIn: FadeShape;
  private readonly shapeOut: FadeShape;
  private readonly gain = new Glide(glideFrames);

  constructor(clip: Clip, context: RenderContext, layout: LayoutId, cache: TreatmentCache) {
    const { sampleRate } = context;
    const identity = context.identities.get(clip.source ?? '') ?? '';
    const audio = context.library.get(identity);
    const played = audio && cache.play(identity, audio, clip, context.treated, context.pieces);
    this.lacks = played === undefined ? 'all' : played.pieceFrom === undefined ? 'nothing' : 'all but a piece';
    this.channels = played
      ? toLayout(played.audio, layout).channels
      : Array.from({ length: channelsOf(layout) }, () => new Float32Array(0));
    this.period = played?.period ?? 0;
    this.start = Math.round(clip.start * sampleRate);
    this.end = this.start + (played?.frames ?? 0);
    this.heardFrom = played?.pieceFrom ?? 0;
    this.heardTo = played?.pieceFrom === undefined ? this.end - this.start : played.pieceFrom + this.channels[0]!.length;
    const duration = Math.round(clipDuration(clip) * sampleRate);
    this.fadeIn = Math.min(duration, Math.round(clip.fadeIn.length * sampleRate));
    this.fadeOut = Math.min(duration, Math.round(clip.fadeOut.length * sampleRate));
    this.shapeIn = clip.fadeIn.shape;
    this.shapeOut = clip.fadeOut.shape;
    this.gain.aim(decibelsToGain(clip.gain));
  }

  /** Goes over to another gain. */
  aim(gain: Decibels): void {
    this.gain.aim(decibelsToGain(gain));
  }

  /** Crossfades with the clip before this one, over as many frames as there are gains. */
  crossfadeIn(gains: Float32Array): void {
    this.crossIn = gains;
    this.fadeIn = gains.length;
  }

  /** Crossfades with the clip behind this one. */
  crossfadeOut(gains: Float32Array): void {
    this.crossOut = gains;
    this.fadeOut = gains.length;
  }

  /** Adds what falls into the frames from `position` on to a block of as many channels. */
  mix(position: Frames, block: Block): void {
    const from = Math.max(position, this.start + this.heardFrom);
    const to = Math.min(position + block.frames, this.start + this.heardTo);
    if (from >= to) return;
    const steadyFrom = this.start + this.fadeIn;
    const steadyTo = this.end - this.fadeOut;
    for (let at = from; at < to;) {
      const faded = at < steadyFrom || at >= steadyTo;
      const until = faded ? Math.min(to, at < steadyFrom ? Math.max(at + 1, Math.min(steadyFrom, to)) : to) : Math.min(to, steadyTo);
      if (faded || this.gain.moving) this.mixFaded(at, until, position, block);
      else this.mixSteady(at, until, position, block);
      at = until;
    }
  }

  /** Frames of its content from a frame of the clip on, before fades and gain. */
  part(from: Frames, frames: Frames): Float32Array[] {
    const place = this.placeOf(from);
    return this.channels.map((samples) =>
      place >= 0 && place + frames <= samples.length
        ? samples.subarray(place, place + frames)
        : Float32Array.from({ length: frames }, (_, i) => samples[this.placeOf(from + i)] ?? 0),
    );
  }

  /** Where a frame of the clip lies in what is held of it. */
  private placeOf(frame: Frames): Frames {
    const place = frame - this.heardFrom;
    const beyond = place - this.channels[0]!.length;
    return beyond < 0 || this.period === 0 ? place : this.channels[0]!.length - this.period + (beyond % this.period);
  }

  private mixSteady(from: Frames, to: Frames, position: Frames, block: Block): void {
    const { start, channels } = this;
    const gain = this.gain.current;
    for (let at = from; at < to;) {
      const place = this.placeOf(at - start);
      const until = Math.min(to, at + channels[0]!.length - place);
      for (let c = 0; c < channels.length; c++) {
        const samples = channels[c]!;
        const into = block.channels[c]!;
        for (let i = at, n = place; i < until; i++, n++) into[i - position]! += samples[n]! * gain;
      }
      at = until;
    }
  }

  private mixFaded(from: Frames, to: Frames, position: Frames, block: Block): void {
    const { channels, start, end, fadeIn, fadeOut, crossIn, crossOut } = this;
    for (let at = from; at < to; at++) {
      let gain: Ratio = this.gain.next();
      // Half a frame keeps both ends of a fade free of a doubled or a missing sample.
      if (at - start < fadeIn) gain *= crossIn ? crossIn[at - start]! : fadeGain(this.shapeIn, (at - start + 0.5) / fadeIn);
      if (end - at <= fadeOut) gain *= crossOut ? crossOut[fadeOut - (end - at)]! : fadeGain(this.shapeOut, (end - at - 0.5) / fadeOut);
      const place = this.placeOf(at - start);
      for (let c = 0; c < channels.length; c++) block.channels[c]![at - position]! += channels[c]![place]! * gain;
    }
  }
}
