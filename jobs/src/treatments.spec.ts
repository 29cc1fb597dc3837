import type { Layer, Sound } from '@tangled-choir/core';
import { createSound, plainStretch, renderSound } from '@tangled-choir/core';
import type { JobInput, JobName, JobOutput } from './registry';
import { jobs } from './registry';
import type { Job } from './job';
import { makeTreatments, wantedTreatments } from './treatments';

const fade = { length: 0, shape: 'linear' as const };
const clip = (id: string, speed: number, start: number): Layer['clips'][number] => ({
  id,
  source: 'source-1',
  start,
  offset: 0.1,
  length: 0.3,
  gain: 0,
  speed,
  ...plainStretch,
  reversed: false,
  locked: false,
  fadeIn: fade,
  fadeOut: fade,
});
const layer: Layer = {
  id: 'layer-1',
  name: 'Ice',
  role: 'Body',
  gain: 0,
  pan: 0,
  muted: false,
  soloed: false,
  sends: [],
  overlaps: 'sum',
  chain: [],
  clips: [clip('a', 0, 0), clip('b', 4, 1), clip('c', 4, 2), clip('d', -7, 3)],
};
const sound: Sound = { ...createSound('sound-1', 'Slab'), layers: [layer] };
const identities = new Map([['source-1', 'ice']]);
const audio = new Map([
  ['ice', { sampleRate: 48_000, channels: [Float32Array.from({ length: 48_000 }, (_, i) => Math.sin(i * i * 1e-5))] }],
]);

/** Does jobs at once, and counts them. */
const ran: string[] = [];
const pool = {
  run: async <N extends JobName>(name: N, input: JobInput<N>): Promise<JobOutput<N>> => {
    ran.push(name);
    const job = jobs[name] as unknown as Job<JobInput<N>, JobOutput<N>>;
    return job.run(input, { progress: () => true, show: () => undefined, codecs: {} as never });
  },
};

describe('treatments as jobs', () => {
  it('are made once for all clips that are alike, and not for those that play as they are', async () => {
    const wanted = wantedTreatments([sound, sound], identities, audio);
    expect(wanted.map(({ clip: { id } }) => id)).toEqual(['c', 'd']);
    await makeTreatments(pool, wanted);
    expect(ran).toEqual(['treat', 'treat']);
  });

  it('give the same samples as a render that treats by itself', async () => {
    const treated = await makeTreatments(pool, wantedTreatments([sound], identities, audio));
    const context = { sampleRate: 48_000, identities, library: audio };
    const options = { tail: 'cut at the last clip' } as const;
    expect(renderSound(sound, { ...context, treated }, options)).toEqual(renderSound(sound, context, options));
    // They are really taken: other ones are heard.
    const silent = new Map(
      [...treated].map(([key, { channels }]) => [key, { sampleRate: 48_000, channels: channels.map((each) => each.map(() => 0)) }]),
    );
    const heard = renderSound(sound, { ...context, treated: silent }, options).channels[0]!;
    expect(heard.subarray(48_000).every((sample) => sample === 0)).toBe(true);
    expect(heard.subarray(0, 14_000).some((sample) => sample !== 0)).toBe(true);
  });

  it('leave out clips whose recording is not there', () => {
    expect(wantedTreatments([sound], identities, new Map())).toEqual([]);
    expect(wantedTreatments([sound], new Map(), audio)).toEqual([]);
  });
});
