import { decibelsPerNeper, levelOf } from '../../dsp/gain-curves';
import { Follower, frameLevel, smoothing } from '../../dsp/filters/simple-filters';
import { choice, decibels, factor, reference, seconds } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const detectorAttack = 0.0002;
const detectorRelease = 0.01;

/** Gate with hold and hysteresis, or downward expander, in the decibel domain (Giannoulis et al. 2012). All channels share one gain. */
export const gate = defineEffect({
  id: 'gate',
  label: 'Gate',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Turns down what lies below a threshold: room, hiss, the rest between two hits.',
  parameters: {
    mode: choice('Mode', ['gate', 'expander'], 'gate'),
    key: reference('Key', 'layer', 'its own sound'),
    threshold: decibels({ label: 'Threshold', min: -90, max: 0, default: -45 }),
    hysteresis: decibels({ label: 'Hysteresis', min: 0, max: 24, default: 4 }),
    ratio: factor({ label: 'Ratio', unit: ':1', min: 1, max: 20, default: 3 }),
    range: decibels({ label: 'Range', min: -96, max: 0, default: -40 }),
    attack: seconds({ label: 'Attack', min: 0.0001, max: 0.2, default: 0.001 }),
    hold: { ...seconds({ label: 'Hold', min: 0, max: 2, default: 0.05 }), scale: 'linear' },
    release: seconds({ label: 'Release', min: 0.005, max: 4, default: 0.15 }),
  },
  presets: [
    { name: 'Only the hits', values: { threshold: -32, hold: 0.08, release: 0.1, range: -96 } },
    { name: 'Less room', values: { mode: 'expander', threshold: -38, ratio: 2, range: -24, release: 0.3 } },
    { name: 'Chopped', values: { threshold: -24, hysteresis: 0, hold: 0.01, release: 0.01, range: -96 } },
  ],
  picture: ({ mode, threshold, hysteresis, ratio, range }) => {
    const x = linearAxis('dB', -90, 0);
    const under = (limit: number, level: number): number => (level >= limit ? level : level + range);
    const expanded = (level: number): number => level - Math.min(-range, Math.max(0, threshold - level) * (ratio - 1));
    return {
      title: mode === 'expander' ? 'Level out for level in' : 'Level out for level in: opening, and closing as it falls',
      x,
      y: linearAxis('dB', -96, 0),
      curves: [
        curveAlong(x, 1, 'before', (level) => level),
        ...(mode === 'expander'
          ? [curveAlong(x, 180, 'main', expanded)]
          : [
              curveAlong(x, 360, 'other side', (level) => under(threshold - hysteresis, level)),
              curveAlong(x, 360, 'main', (level) => under(threshold, level)),
            ]),
      ],
    };
  },
  latency: () => 0,
  tail: () => 0,
  create: ({ sampleRate, channels, keys }) => {
    const key = keys?.['key'];
    const follower = new Follower();
    follower.tune(detectorAttack, detectorRelease, sampleRate);
    let reduction = 0;
    let open = false;
    let held = 0;
    let deepest = 0;
    let fresh = true;
    return {
      get gainReduction() {
        return -deepest;
      },
      reset: () => {
        follower.reset();
        reduction = held = deepest = 0;
        open = false;
        fresh = true;
      },
      process(block, { mode, threshold, hysteresis, ratio, range, attack, hold, release }) {
        const opens = decibelsToGain(threshold);
        const closes = decibelsToGain(threshold - hysteresis);
        const opening = smoothing(attack, sampleRate);
        const closing = smoothing(release, sampleRate);
        const holdFrames = Math.round(hold * sampleRate);
        const most = -range;
        deepest = 0;
        if (fresh) {
          reduction = most;
          fresh = false;
        }
        for (let i = 0; i < block.frames; i++) {
          const level = follower.next(key ? frameLevel(key.channels, key.channels.length, i) : frameLevel(block.channels, channels, i));
          let wanted: number;
          if (mode === 'expander') {
            const under = threshold - levelOf(level);
            wanted = under <= 0 ? 0 : Math.min(most, under * (ratio - 1));
          } else {
            if (level >= opens) {
              open = true;
              held = holdFrames;
            } else if (open && level < closes && held-- <= 0) open = false;
            wanted = open ? 0 : most;
          }
          reduction = wanted + (reduction - wanted) * (wanted < reduction ? opening : closing);
          if (reduction < 1e-6) reduction = 0;
          if (reduction > deepest) deepest = reduction;
          if (reduction === 0) continue;
          const gain = Math.exp(-reduction / decibelsPerNeper);
          for (let c = 0; c < channels; c++) block.channels[c]![i]! *= gain;
        }
      },
    };
  },
});
