import * as fc from 'fast-check';
import { effectCatalogue } from '../catalogue';
import { effects } from '../effects';
import { laneValue } from '../automation/lane-value';
import { offsetValue } from '../project/offset';
import { placeOfValue } from '../project/parameters';
import type { NumberParameter } from '../project/parameters';
import { parseProject } from '../project/parse';
import type { Clip, Project, Sound } from '../project/schema';
import { contentPlace } from '../project/time/clip-times';
import { renderItem } from '../hand-off/render-item';
import { refuseEmpty } from '../hand-off/write-item';
import { planSound } from '../hand-off/plan';
import { edited, projectWith, sourceFor } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { SoundPlayer } from './live/player';
import { renderSound } from './render-sound';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;
const { project, context } = projectWith({ Crust: mono(noise(0.2 * rate, 5, -12)) });
const sound = project.sounds[0]!;
const layer = sound.layers[0]!;

function withClip(changes: Partial<Clip>): Sound {
  return { ...sound, layers: [{ ...layer, clips: [{ ...layer.clips[0]!, ...changes }] }] };
}

const withSound = (changed: Sound): Project => ({ ...project, sounds: [changed] });
const isSound = ({ channels }: { channels: readonly Float32Array[] }): boolean =>
  channels.every((channel) => channel.every((sample) => Number.isFinite(sample)));

describe('whatever passes the check of a document', () => {
  it('renders as numbers with a loop anywhere: of no length, behind the end, longer than the source', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 0.5, noNaN: true }), fc.double({ min: 0, max: 0.5, noNaN: true }), (from, to) => {
        const looped = withClip({ loop: { from, to, crossfade: Math.min(0.05, from) }, length: 0.4, reversed: to > 0.3 });
        expect(isSound(renderSound(looped, context, cut))).toBe(true);
        expect(Number.isFinite(contentPlace(looped.layers[0]!.clips[0]!, 0.35))).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  it('has no loop of no length', () => {
    const looped = withSound(withClip({ loop: { from: 0.1, to: 0.1 + 1e-6, crossfade: 0 } }));
    expect(() => parseProject(looped, effectCatalogue)).toThrow('sounds[0].layers[0].clips[0].loop: it goes from 0.1 to 0.100001 s');
    expect(() => parseProject(withSound(withClip({ loop: { from: 0.1, to: 0.15, crossfade: 0 } })), effectCatalogue)).not.toThrow();
  });

  it('runs at the rate at which everything is computed', () => {
    expect(() => parseProject({ ...project, sampleRate: 44_100 }, effectCatalogue)).toThrow('sampleRate');
  });

  it('keeps values of lanes, sways and pulls within the range of their property, whatever is stored', () => {
    const numbers = effects
      .flatMap(({ parameters }) => Object.values(parameters))
      .filter((each): each is NumberParameter => each.kind === 'number');
    const within = ({ min, max }: NumberParameter, value: number): boolean => value >= min && value <= max;
    fc.assert(
      fc.property(
        fc.constantFrom(...numbers),
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.double({ min: -1_000, max: 1_000, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (parameter, value, offset, time) => {
          const points = [
            { time: 0, value, bend: 0 },
            { time: 1, value: -value, bend: 0.5 },
          ];
          return (
            within(parameter, laneValue({ points, stepped: false, trim: offset }, parameter, time)) &&
            within(parameter, laneValue({ points, stepped: true, trim: 0 }, parameter, time)) &&
            within(parameter, offsetValue(parameter, value, offset)) &&
            within({ ...parameter, min: 0, max: 1 }, placeOfValue(parameter, value))
          );
        },
      ),
      { numRuns: 500 },
    );
  });

  it('renders as numbers with points far outside of the range of a filter', () => {
    const filtered = edited(project, 'addEffect', { sound: sound.id, owner: 'sound', effect: 'filter' });
    const address = `sound/chain/${filtered.sounds[0]!.chain[0]!.id}/frequency`;
    const lane = {
      id: 'automation-99',
      address,
      enabled: true,
      stepped: false,
      trim: 0,
      points: [
        { time: 0, value: -400, bend: 0 },
        { time: 0.2, value: 1e9, bend: 0 },
      ],
    };
    const moved = { ...filtered.sounds[0]!, automation: [lane] };
    expect(isSound(renderSound(moved, context, cut))).toBe(true);
  });
});

describe('edits', () => {
  it('leave no loop behind the end when a recording is relinked to a shorter one', () => {
    const clip = layer.clips[0]!.id;
    const looped = edited(project, 'loopClip', { sound: sound.id, clip, loop: { from: 0.1, to: 0.19, crossfade: 0.02, duration: 2 } });
    const shorter = (seconds: number): Clip => {
      const { audio, frames, channels, origin } = sourceFor('Short', mono(new Float32Array(seconds * rate)));
      const relinked = edited(looped, 'relinkSource', { source: project.sources[0]!.id, audio, frames, channels, origin });
      expect(() => parseProject(relinked, effectCatalogue)).not.toThrow();
      return relinked.sounds[0]!.layers[0]!.clips[0]!;
    };
    expect(shorter(0.15).loop).toMatchObject({ from: 0.1, to: 0.15 });
    expect(shorter(0.05).loop).toBeUndefined();
  });
});

describe('a loop of many hours', () => {
  it('plays anywhere of it, and takes no more memory than its round', () => {
    const loop = { from: 0.05, to: 0.15, crossfade: 0.01 };
    const long = withClip({ loop, length: 20_000, offset: 0 });
    const short = withClip({ loop, length: 4, offset: 0 });
    const before = process.memoryUsage().arrayBuffers;
    const read = (played: Sound, position: number): number[] => {
      const into = [new Float32Array(960), new Float32Array(960)];
      new SoundPlayer(played, context, position).render(into, 960);
      return [...into[0]!];
    };
    // Rounds of 4,800 frames: the same everywhere, an even number of them apart.
    const here = read(long, 48_000);
    expect(here.some((sample) => Math.abs(sample) > 0.01)).toBe(true);
    for (const round of [1, 100, 100_000, 199_000]) expect(read(long, 48_000 + round * 4_800)).toEqual(here);
    expect(read(short, 48_000)).toEqual(here);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(64 * 2 ** 20);
  });
});

describe('a render', () => {
  it('that is too long to be held says so at once', () => {
    const day = withClip({ start: 86_400 });
    expect(() => renderSound(day, context, cut)).toThrow('would last 1440 minutes');
  });

  it('that does not come out as numbers says where', () => {
    const broken = mono(noise(0.2 * rate, 5, -12));
    broken.channels[0]![4_800] = NaN;
    const bad = projectWith({ Crust: broken });
    expect(() => renderSound(bad.project.sounds[0]!, bad.context, cut)).toThrow('does not come out as sound from 0.100 s on');
  });

  it('of nothing is never written', () => {
    const empty = withSound({ ...sound, layers: [{ ...layer, clips: [] }] });
    const settings = { ...project.deliveries[0]!, tail: 'cut at the last clip' } as const;
    const [item] = planSound(empty, empty.sounds[0]!, settings, effectCatalogue);
    const rendered = renderItem(item!, settings, context);
    expect(() => refuseEmpty({ item: item!, rendered })).toThrow('would have no samples');
  });
});
