import { decibelsPerNeper } from '../../dsp/gain-curves';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { Crossover } from '../../dsp/filters/crossover';
import { Follower, frameLevel, smoothing } from '../../dsp/filters/simple-filters';
import { choice, decibels, hertz, reference, seconds } from '../../project/parameters';
import type { Decibels, Frames, Hertz, Seconds } from '../../units';
import { defineEffect } from '../effect';
import type { EffectPicture } from '../effect-picture';
import { pictureOfHit } from '../effect-picture';

/** Added to all followers: nothing below it counts as a transient. */
const quiet = 1e-5;
const quickAttack: Seconds = 0.0006;
const quickRelease: Seconds = 0.03;
const slowTime: Seconds = 0.025;
const gainTime: Seconds = 0.0008;
/**
 * By so much (in nepers: 2.6 and 4.3 dB) the envelope of what is steady goes up and down beside its own mean, and falls below its own peaks: tones from 20 Hz on and noise
 * stay below both.
 */
const steadyRise = 0.3;
const steadyFall = 0.5;

const twoBands = 'two bands';

/** Finds attack and sustain in a level, and how far they are turned, as a gain that moves without clicks. */
class Envelopes {
  private readonly quick = new Follower();
  private readonly slow = new Follower();
  private readonly long = new Follower();
  private readonly keep: number;
  private gain: Decibels = 0;

  constructor(private readonly sampleRate: Hertz) {
    this.quick.tune(quickAttack, quickRelease, sampleRate);
    this.slow.tune(slowTime, slowTime, sampleRate);
    this.keep = smoothing(gainTime, sampleRate);
  }

  reset(): void {
    for (const follower of [this.quick, this.slow, this.long]) follower.reset();
    this.gain = 0;
  }

  hold(length: Seconds): void {
    this.long.tune(quickAttack, length, this.sampleRate);
  }

  /** The gain of the next frame, as a factor. */
  next(level: number, attack: Decibels, sustain: Decibels, output: Decibels): number {
    const quick = this.quick.next(level);
    const rise = Math.log((quick + quiet) / (this.slow.next(quick) + quiet)) - steadyRise;
    const fall = Math.log((this.long.next(level) + quiet) / (quick + quiet)) - steadyFall;
    // Both saturate, so that the dials say how far it can go at most.
    const wanted = attack * (rise > 0 ? Math.tanh(rise) : 0) + sustain * (fall > 0 ? Math.tanh(fall) : 0) + output;
    this.gain = wanted + (this.gain - wanted) * this.keep;
    return Math.exp(this.gain / decibelsPerNeper);
  }
}

/**
 * Turns attacks and what follows them up or down, whatever their level: a quick envelope follower beside its own mean tells where a sound rises (its attack), one with a long
 * release beside it where it falls (its sustain). What is steady, tones and noise, is left alone. All channels share one gain; two bands (Linkwitz–Riley) have one each.
 */
export const transientShaper = defineEffect({
  id: 'transient-shaper',
  label: 'Transient shaper',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Gives a hit more snap or less, a longer or a shorter body, at any level.',
  parameters: {
    attack: decibels({ label: 'Attack', min: -24, max: 24, default: 6 }),
    sustain: decibels({ label: 'Sustain', min: -24, max: 24, default: 0 }),
    length: seconds({ label: 'Length', min: 0.05, max: 1.5, default: 0.3 }),
    works: { ...choice('Works on', ['the whole sound', twoBands], 'the whole sound'), builds: true },
    split: { ...hertz({ label: 'Split', min: 40, max: 12_000, default: 400 }), needs: { of: 'works', values: [twoBands] } },
    lowAttack: { ...decibels({ label: 'Low attack', min: -24, max: 24, default: 0 }), needs: { of: 'works', values: [twoBands] } },
    lowSustain: { ...decibels({ label: 'Low sustain', min: -24, max: 24, default: 0 }), needs: { of: 'works', values: [twoBands] } },
    key: reference('Key', 'layer', 'its own sound'),
    output: decibels({ label: 'Output', min: -24, max: 24, default: 0 }),
  },
  presets: [
    { name: 'Snap', values: { attack: 10, sustain: -3 } },
    { name: 'Dry and short', values: { attack: 2, sustain: -14, length: 0.5 } },
    { name: 'Soft shoe', values: { attack: -12, sustain: 4 } },
    { name: 'Tight bottom, ringing top', values: { works: twoBands, split: 250, attack: 4, sustain: 8, lowAttack: 6, lowSustain: -12 } },
  ],
  picture: (values): EffectPicture => pictureOfHit((context) => transientShaper.create(context), values, 'A hit, before and after'),
  latency: () => 0,
  // The split rings.
  tail: ({ works, split }, sampleRate) => (works === twoBands ? Math.ceil((3 / split) * sampleRate) : 0),
  create: ({ sampleRate, channels, values, keys }) => {
    const external = keys?.['key'];
    if (values.works !== twoBands) {
      const envelopes = new Envelopes(sampleRate);
      return {
        reset: () => envelopes.reset(),
        process(block, { attack, sustain, length, output }) {
          envelopes.hold(length);
          const heard = external?.channels ?? block.channels;
          for (let i = 0; i < block.frames; i++) {
            const factor = envelopes.next(frameLevel(heard, heard.length, i), attack, sustain, output);
            for (let c = 0; c < channels; c++) block.channels[c]![i]! *= factor;
          }
        },
      };
    }
    const room = (count: number): Block => ({ channels: Array.from({ length: count }, () => new Float32Array(maxBlock)), frames: 0 });
    const own = new Crossover(2, channels, sampleRate);
    const parts = [room(channels), room(channels)];
    const other = external && {
      crossover: new Crossover(2, external.channels.length, sampleRate),
      parts: [room(external.channels.length), room(external.channels.length)],
    };
    const bands = [new Envelopes(sampleRate), new Envelopes(sampleRate)] as const;
    const dry = room(channels);
    const splits: Hertz[] = [0];
    const shape = (
      samples: readonly Float32Array[],
      frames: Frames,
      band: number,
      attack: Decibels,
      sustain: Decibels,
      output: Decibels,
    ): void => {
      const part = parts[band]!.channels;
      const heard = (other?.parts ?? parts)[band]!.channels;
      for (let i = 0; i < frames; i++) {
        const factor = bands[band]!.next(frameLevel(heard, heard.length, i), attack, sustain, output);
        for (let c = 0; c < channels; c++) {
          const sample = part[c]![i]!;
          dry.channels[c]![i] = (band === 0 ? 0 : dry.channels[c]![i]!) + sample;
          samples[c]![i] = (band === 0 ? 0 : samples[c]![i]!) + sample * factor;
        }
      }
    };
    return {
      dry,
      reset: () => {
        own.reset();
        other?.crossover.reset();
        for (const band of bands) band.reset();
      },
      process({ channels: samples, frames }, { attack, sustain, lowAttack, lowSustain, length, split, output }) {
        splits[0] = split;
        own.process(splits, samples, parts, frames);
        if (external) other?.crossover.process(splits, external.channels, other.parts, frames);
        dry.frames = frames;
        for (const band of bands) band.hold(length);
        shape(samples, frames, 0, lowAttack, lowSustain, output);
        shape(samples, frames, 1, attack, sustain, output);
      },
    };
  },
});
