import { decibelsPerNeper, levelOf } from '../../dsp/gain-curves';
import { Glide } from '../../dsp/glide';
import { CutoffGlide, Follower, smoothing, StateVariableFilter } from '../../dsp/filters/simple-filters';
import type { Parameter } from '../../project/parameters';
import { decibels, factor, hertz, reference, seconds, toggle } from '../../project/parameters';
import type { Decibels } from '../../units';
import { defineEffect } from '../effect';

const bandCount = 4;
const glideFrames = 512;
const detectorAttack = 0.0005;
const detectorRelease = 0.04;
/** A band has moved all the way when its level is this far above its threshold. */
export const dynamicReach: Decibels = 12;

const starts = [
  { frequency: 120, on: false },
  { frequency: 450, on: false },
  { frequency: 2_800, on: true },
  { frequency: 7_500, on: false },
];

const names = Array.from({ length: bandCount }, (_, b) => ({
  on: `band${b + 1}On`,
  frequency: `band${b + 1}Frequency`,
  q: `band${b + 1}Q`,
  threshold: `band${b + 1}Threshold`,
  range: `band${b + 1}Range`,
}));

const bandParameters = (): Record<string, Parameter> =>
  Object.fromEntries(
    names.flatMap((name, b) => [
      [name.on, toggle(`Band ${b + 1} on`, starts[b]!.on)],
      [
        name.frequency,
        { ...hertz({ label: `Band ${b + 1} frequency`, min: 30, max: 16_000, default: starts[b]!.frequency }), needs: name.on },
      ],
      [name.q, { ...factor({ label: `Band ${b + 1} width (Q)`, min: 0.3, max: 12, default: 1.2 }), needs: name.on }],
      [name.threshold, { ...decibels({ label: `Band ${b + 1} threshold`, min: -80, max: 0, default: -36 }), needs: name.on }],
      [name.range, { ...decibels({ label: `Band ${b + 1} range`, min: -24, max: 24, default: -8 }), needs: name.on }],
    ]),
  );

const parameters: Readonly<Record<string, Parameter>> = {
  key: reference('Key', 'layer', 'its own sound'),
  ...bandParameters(),
  attack: seconds({ label: 'Attack', min: 0.0005, max: 0.5, default: 0.006 }),
  release: seconds({ label: 'Release', min: 0.01, max: 4, default: 0.15 }),
};

/**
 * Bells that move with the level within them: the band-passed signal of each (state-variable form, Zavalishin 2012) is followed, and added
 * to the sound as far as its level has passed the threshold. The level can be that of another layer.
 */
export const dynamicEq = defineEffect({
  id: 'dynamic-eq',
  label: 'Dynamic EQ',
  family: 'EQ and filters',
  channels: 'linked',
  purpose: 'Tames or lifts a band only while it is loud: a whistle that comes and goes, a boom on every third hit.',
  parameters,
  presets: [
    { name: 'Tame what pierces', values: { band3Frequency: 3_200, band3Q: 2, band3Threshold: -40, band3Range: -12 } },
    { name: 'Hold the boom', values: { band3On: false, band1On: true, band1Frequency: 90, band1Threshold: -30, band1Range: -10 } },
    { name: 'Bring up the crackle', values: { band3On: false, band4On: true, band4Q: 0.6, band4Threshold: -50, band4Range: 8 } },
  ],
  latency: () => 0,
  tail: (values, sampleRate) => {
    const rings = names.map((name) => (2.2 * Math.max(1, Number(values[name.q]))) / Number(values[name.frequency]));
    return Math.ceil(Math.max(...rings) * sampleRate);
  },
  create: ({ sampleRate, channels, keys }) => {
    const key = keys?.['key'];
    const bands = names.map((name) => ({
      name,
      heard: Array.from({ length: key ? Math.min(2, key.channels.length) : 0 }, () => new StateVariableFilter()),
      filters: Array.from({ length: channels }, () => new StateVariableFilter()),
      cutoff: new CutoffGlide(),
      present: new Glide(glideFrames),
      follower: new Follower(),
      q: 0,
      moved: 0,
    }));
    for (const { follower } of bands) follower.tune(detectorAttack, detectorRelease, sampleRate);
    return {
      reset: () => {
        for (const band of bands) {
          for (const part of [...band.heard, ...band.filters, band.cutoff, band.present, band.follower]) part.reset();
          band.q = band.moved = 0;
        }
      },
      process(block, values) {
        const attack = smoothing(Number(values['attack']), sampleRate);
        const release = smoothing(Number(values['release']), sampleRate);
        for (const band of bands) {
          const { name, filters, heard, cutoff, present, follower } = band;
          present.aim(values[name.on] === true ? 1 : 0);
          if (!present.moving && present.current === 0) continue;
          const threshold = Number(values[name.threshold]);
          const range = Number(values[name.range]);
          const q = Number(values[name.q]);
          cutoff.aim(Number(values[name.frequency]));
          let frequency = band.q === q ? 0 : Number(values[name.frequency]);
          band.q = q;
          for (let i = 0; i < block.frames; i++) {
            frequency = cutoff.next() || frequency;
            if (frequency > 0) {
              for (const filter of filters) filter.tune(frequency, q, sampleRate);
              for (const filter of heard) filter.tune(frequency, q, sampleRate);
              frequency = 0;
            }
            let loudest = 0;
            for (let c = 0; c < channels; c++) {
              const filter = filters[c]!;
              filter.next(block.channels[c]![i]!);
              if (!key) loudest = Math.max(loudest, Math.abs(filter.peak));
            }
            for (let c = 0; c < heard.length; c++) {
              heard[c]!.next(key!.channels[c]![i]!);
              loudest = Math.max(loudest, Math.abs(heard[c]!.peak));
            }
            const level = follower.next(loudest);
            const over = levelOf(level) - threshold;
            const wanted = range * (over <= 0 ? 0 : over >= dynamicReach ? 1 : over / dynamicReach);
            const keep = Math.abs(wanted) > Math.abs(band.moved) ? attack : release;
            band.moved = wanted + (band.moved - wanted) * keep;
            if (Math.abs(band.moved) < 1e-6) band.moved = 0;
            const gain = (Math.exp(band.moved / decibelsPerNeper) - 1) * present.next();
            if (gain === 0) continue;
            for (let c = 0; c < channels; c++) block.channels[c]![i]! += filters[c]!.peak * gain;
          }
        }
      },
    };
  },
});
