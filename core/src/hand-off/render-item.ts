import type { Measurement } from '../analysis/loudness/measure';
import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { frameCount, toMono, toStereo, turn } from '../audio/audio';
import { convertSampleRate } from '../audio/resample';
import type { Delivery, Sound } from '../project/schema';
import { applyChain } from '../render/chain/apply-chain';
import type { RenderContext } from '../render/library';
import type { RenderOptions } from '../render/render-sound';
import { renderSound } from '../render/render-sound';
import type { Frames, Seconds } from '../units';
import { formOf, isLossless } from './form';
import { convertLoop } from './loops';
import type { DeliveryItem } from './plan';
import type { Finding } from './pre-flight';
import { checkFile, soundingPart, trimSilence } from './pre-flight';
import { setLevel, wantedGain } from './set-level';

/** A rendered delivery before it is written. */
export interface RenderedItem {
  readonly audio: Audio;
  /** Where it begins on the time axis, in frames: silence may have been left out. */
  readonly start: Frames;
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
}

type Options = Pick<RenderOptions, 'cache' | 'progress'>;

/**
 * Renders an item as its delivery asks, and checks it; every step works on the samples where they lie, because they may be many. A stem takes the gain of its whole and is never limited, so that stems
 * still sum up.
 */
export function renderItem(item: DeliveryItem, delivery: Delivery, context: RenderContext, options: Options = {}): RenderedItem {
  const { whole } = item;
  const wholeGain = whole && delivery.level !== 'as it is' ? gainOf(whole, item, delivery, context, options) : 0;
  const shaped = shape(renderWith(item.sound, item, delivery, context, options), item, delivery);
  const { audio: trimmed, lead } = delivery.trim && !item.loops && !whole ? trimSilence(shaped) : { audio: shaped, lead: 0 };
  const before = measure(trimmed);
  const ends = openEnds(trimmed, delivery);
  let audio = trimmed;
  if (whole) turn(audio, wholeGain);
  else audio = setLevel(trimmed, before, delivery, item.loops !== undefined);
  const fades = !item.loops && delivery.fade > 0 && (ends.start || ends.end);
  if (fades) fadeEnds(audio, delivery.fade, ends);
  const measured = fades || whole || delivery.level !== 'as it is' ? measure(audio) : before;
  return { audio, start: lead, measured, findings: checkFile(audio, measured, { item, delivery }) };
}

function gainOf(whole: Sound, item: DeliveryItem, delivery: Delivery, context: RenderContext, options: Options): number {
  const rendered = shape(renderWith(whole, item, delivery, context, options), item, delivery);
  const measured = measure(rendered);
  const gain = wantedGain(measured, delivery);
  return delivery.level === 'loudness' ? Math.min(gain, delivery.ceiling - measured.truePeakDbtp) : gain;
}

function renderWith(sound: Sound, { loops }: DeliveryItem, delivery: Delivery, context: RenderContext, options: Options): Audio {
  return renderSound(sound, context, { ...options, tail: loops ? 'seamless loop' : delivery.tail, length: delivery.length });
}

/** Rate, channels and direct current as the delivery asks. */
function shape(rendered: Audio, { loops }: DeliveryItem, delivery: Delivery): Audio {
  const { format, sampleRate } = formOf(delivery);
  const converted = loops ? convertLoop(rendered, sampleRate) : convertSampleRate(rendered, sampleRate);
  const tooMany = (!isLossless(format) || delivery.content === 'behaviours') && converted.channels.length > 2;
  const mixed = delivery.channels === 'mono' ? toMono(converted) : tooMany ? toStereo(converted) : converted;
  if (!delivery.blockDc || frameCount(mixed) === 0) return mixed;
  return loops ? withoutMean(mixed) : withoutDirectCurrent(mixed);
}

function withoutDirectCurrent(audio: Audio): Audio {
  const parameters = { gain: 0, blockDc: true };
  const blocked = applyChain(audio, [{ id: 'dc', effect: 'trim', enabled: true, mix: 1, parameters }], { tail: false, over: true });
  // The effect makes a pair of one channel, because it can balance.
  return { ...blocked, channels: blocked.channels.slice(0, audio.channels.length) };
}

/** Of a loop only its mean goes: a filter would not know what comes round. */
function withoutMean(audio: Audio): Audio {
  const means = audio.channels.map((channel) => channel.reduce((sum, sample) => sum + sample, 0) / channel.length);
  audio.channels.forEach((channel, c) => {
    for (let i = 0; i < channel.length; i++) channel[i] = channel[i]! - means[c]!;
  });
  return audio;
}

/** An end is cut where something sounds this near to it. */
const nearEnd: Seconds = 0.001;

/** Which ends are to be faded: those that are cut, because a fade takes away the attack of what begins out of silence. Stems and their whole are faded alike. */
function openEnds(audio: Audio, { stems }: Delivery): { readonly start: boolean; readonly end: boolean } {
  if (stems !== 'none') return { start: true, end: true };
  const { first, last } = soundingPart(audio);
  const near = Math.round(nearEnd * audio.sampleRate);
  return { start: first < near, end: last > frameCount(audio) - near };
}

/** Raised cosines at ends, each over half of what is short. */
function fadeEnds(audio: Audio, fade: Seconds, { start, end }: { readonly start: boolean; readonly end: boolean }): void {
  const frames = frameCount(audio);
  const length = Math.min(Math.round(fade * audio.sampleRate), Math.floor(frames / 2));
  for (const channel of audio.channels)
    for (let i = 0; i < length; i++) {
      const gain = 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / length);
      if (start) channel[i]! *= gain;
      if (end) channel[frames - 1 - i]! *= gain;
    }
}
