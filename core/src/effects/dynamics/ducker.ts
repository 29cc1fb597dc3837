import { decibelsPerNeper, levelOf } from '../../dsp/gain-curves';
import { Crossover } from '../../dsp/filters/crossover';
import { Glide } from '../../dsp/glide';
import { Follower, frameLevel, OnePole, smoothing } from '../../dsp/filters/simple-filters';
import { choice, decibels, hertz, reference, seconds } from '../../project/parameters';
import type { Decibels } from '../../units';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const detectorAttack = 0.0005;
const detectorRelease = 0.03;
/** The key is turned into reduction over this many decibels above the threshold, so that ducking has no edge. */
const knee: Decibels = 6;
const glideFrames = 512;

/**
 * Turns down while another layer sounds: a gain computer in the decibel domain (Giannoulis et al. 2012) with an external key, hold and a
 * fixed depth. It can duck a band alone, split off with Linkwitz–Riley filters, so that only what the other needs gives way.
 */
export const ducker = defineEffect({
  id: 'ducker',
  label: 'Ducker',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Makes room for another layer or group: turns down, as a whole or in one band, while the other sounds.',
  parameters: {
    key: reference('Makes room for', 'layer', 'its own sound'),
    threshold: decibels({ label: 'Threshold', min: -80, max: 0, default: -36 }),
    depth: decibels({ label: 'Depth', min: -48, max: 0, default: -9 }),
    attack: seconds({ label: 'Attack', min: 0.0005, max: 1, default: 0.008 }),
    hold: { ...seconds({ label: 'Hold', min: 0, max: 2, default: 0.05 }), scale: 'linear' },
    release: seconds({ label: 'Release', min: 0.01, max: 5, default: 0.25 }),
    what: { ...choice('Turns down', ['the whole sound', 'one band'], 'the whole sound'), builds: true },
    from: hertz({ label: 'Band from', min: 20, max: 10_000, default: 60 }),
    to: hertz({ label: 'Band to', min: 40, max: 20_000, default: 250 }),
    keyLowCut: hertz({ label: 'Key low cut', min: 20, max: 2_000, default: 20 }),
  },
  presets: [
    { name: 'Under a voice', values: { depth: -9, attack: 0.03, hold: 0.25, release: 0.6, threshold: -42 } },
    { name: 'Let the hit punch through', values: { depth: -18, attack: 0.001, hold: 0.04, release: 0.12, threshold: -30 } },
    { name: 'Bottom gives way', values: { what: 'one band', from: 30, to: 180, depth: -14, release: 0.2 } },
  ],
  latency: () => 0,
  tail: ({ from }, sampleRate) => Math.ceil((3 / from) * sampleRate),
  create: ({ sampleRate, channels, keys, values: { what } }) => {
    const key = keys?.['key'];
    const banded = what === 'one band';
    const follower = new Follower();
    follower.tune(detectorAttack, detectorRelease, sampleRate);
    const keyCut = new OnePole();
    const depthNow = new Glide(glideFrames);
    const crossover = new Crossover(3, channels, sampleRate);
    const block = (): Block => ({ channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 });
    const parts = [block(), block(), block()];
    const dry = block();
    const splits = [0, 0];
    let reduction = 0;
    let held = 0;
    let target = 0;
    let deepest = 0;
    let cutAt = NaN;
    return {
      ...(banded && { dry }),
      get gainReduction() {
        return -deepest;
      },
      reset: () => {
        follower.reset();
        keyCut.reset();
        depthNow.reset();
        crossover.reset();
        reduction = held = target = deepest = 0;
      },
      process({ channels: samples, frames }, { threshold, depth, attack, hold, release, from, to, keyLowCut }) {
        if (keyLowCut !== cutAt) keyCut.tune((cutAt = keyLowCut), sampleRate);
        depthNow.aim(-depth);
        const down = smoothing(attack, sampleRate);
        const up = smoothing(release, sampleRate);
        const holdFrames = Math.round(hold * sampleRate);
        const heard = key?.channels ?? samples;
        if (banded) {
          splits[0] = from;
          splits[1] = to;
          crossover.process(splits, samples, parts, frames);
          dry.frames = frames;
        }
        deepest = 0;
        for (let i = 0; i < frames; i++) {
          const magnitude = frameLevel(heard, Math.min(channels, heard.length), i);
          const level = follower.next(keyLowCut > 20 ? keyCut.high(magnitude === 0 ? 0 : loudest(heard, channels, i)) : magnitude);
          const over = levelOf(level) - threshold;
          const most = depthNow.next();
          const wanted = over <= 0 ? 0 : over >= knee ? most : (most * over) / knee;
          if (wanted >= target) {
            target = wanted;
            held = holdFrames;
          } else if (held-- <= 0) target = wanted;
          reduction = target + (reduction - target) * (target > reduction ? down : up);
          if (reduction < 1e-6) reduction = 0;
          if (reduction > deepest) deepest = reduction;
          const gain = reduction === 0 ? 1 : Math.exp(-reduction / decibelsPerNeper);
          for (let c = 0; c < channels; c++) {
            const channel = samples[c]!;
            if (!banded) {
              channel[i]! *= gain;
              continue;
            }
            const rest = parts[0]!.channels[c]![i]! + parts[2]!.channels[c]![i]!;
            const band = parts[1]!.channels[c]![i]!;
            dry.channels[c]![i] = rest + band;
            channel[i] = rest + band * gain;
          }
        }
      },
    };
  },
});

/** The sample of the channel that is loudest at a frame, with its sign. */
function loudest(channels: readonly Float32Array[], count: number, frame: number): number {
  let found = 0;
  for (let c = 0; c < Math.min(count, channels.length); c++) {
    const sample = channels[c]![frame]!;
    if (Math.abs(sample) > Math.abs(found)) found = sample;
  }
  return found;
}
