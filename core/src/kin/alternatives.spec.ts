import fc from 'fast-check';
import { effectCatalogue } from '../catalogue';
import { alternativesAddress } from '../project/address';
import type { EditArguments, EditName } from '../project/edits';
import { parseProject } from '../project/parse';
import type { Alternative, Project } from '../project/schema';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, mono, sine } from '../testing/signals';
import { drawSibling } from './draw';
import { siblingSound } from './take-draws';
import { shuffledBags } from './shuffled-bags';

const rate = 48_000;
const tones = [500, 700, 1_100, 1_700];
const { project: first, context } = projectWith(
  Object.fromEntries(tones.map((hertz) => [`Tone ${hertz}`, mono(sine(hertz, 1, rate, -12))])),
);
const id = first.sounds[0]!.id;
const layer = first.sounds[0]!.layers[0]!;
const clip = layer.clips[0]!;
const address = alternativesAddress(layer.id, clip.id);
const over = { from: clip.offset, to: clip.offset + clip.length };
const all: Alternative[] = first.sources.map((source) => ({ source: source.id, from: 0.1, to: 0.6, over }));

/** Only the first layer is heard, and it plays one of all four. */
function familyOf(size: number, of: readonly Alternative[] = all): Project {
  let project = first;
  const edit = <N extends EditName>(name: N, args: EditArguments<N>): void => void (project = edited(project, name, args));
  for (const other of project.sounds[0]!.layers.slice(1)) edit('muteLayer', { sound: id, layer: other.id, muted: true });
  edit('setSway', { sound: id, sway: { kind: 'alternatives', address, of: [...of], locked: false }, label: 'Plays' });
  edit('setFamily', { sound: id, size, seed: 7 });
  return project;
}
const sound = (project: Project) => project.sounds[0]!;
const playedBy = (project: Project, index: number): string => {
  const draw = drawSibling(sound(project), index)[address];
  return typeof draw === 'object' ? draw.source : '';
};

describe('alternatives', () => {
  it('are shuffled over the family: all before one comes again, none twice in a row, the same for the same seed', () => {
    const project = familyOf(24);
    const played = Array.from({ length: 24 }, (_, i) => playedBy(project, i));
    for (let bag = 0; bag < 24; bag += 4) expect(new Set(played.slice(bag, bag + 4)).size).toBe(4);
    for (let i = 1; i < 24; i++) expect(played[i]).not.toBe(played[i - 1]);
    expect(Array.from({ length: 24 }, (_, i) => playedBy(familyOf(24), i))).toEqual(played);
    // A larger family begins with the same siblings.
    expect(Array.from({ length: 24 }, (_, i) => playedBy(familyOf(60), i))).toEqual(played);
  });

  it('are heard: each sibling has the tone that it drew, and no other, for as long as the stretch is', () => {
    const project = familyOf(4);
    for (let index = 0; index < 4; index++) {
      const { channels } = renderSound(siblingSound(sound(project), index, effectCatalogue), context, { tail: 'ring out' });
      const behind = channels[0]!.subarray(Math.round((clip.start + 0.5) * rate));
      expect(behind.every((sample) => Math.abs(sample) < 1e-6)).toBe(true);
      const own = tones[first.sources.findIndex((source) => source.id === playedBy(project, index))]!;
      const from = Math.round((clip.start + 0.1) * rate);
      for (const hertz of tones) {
        const level = amplitudeAt(channels[0]!, hertz, rate, from, from + 14_400);
        if (hertz === own) expect(level).toBeGreaterThan(0.15);
        else expect(level).toBeLessThan(0.01);
      }
    }
  });

  it('give another one to who is rolled again, and leave the others theirs', () => {
    const project = familyOf(6);
    const rolled = edited(project, 'rollAgain', { sound: id, index: 2 });
    expect(playedBy(rolled, 2)).not.toBe(playedBy(project, 2));
    for (const index of [0, 1, 3, 4, 5]) expect(playedBy(rolled, index)).toBe(playedBy(project, index));
  });

  it('stay what they were for a sibling that is kept, whatever becomes of the list', () => {
    let project = familyOf(4);
    const was = playedBy(project, 1);
    project = edited(project, 'judgeSibling', { sound: id, index: 1, state: 'kept', draws: drawSibling(sound(project), 1) });
    project = edited(project, 'setSway', {
      sound: id,
      sway: { kind: 'alternatives', address, of: all.filter(({ source }) => source !== was), locked: false },
      label: 'Plays',
    });
    expect(playedBy(project, 1)).toBe(was);
    expect(parseProject(JSON.parse(JSON.stringify(project)), effectCatalogue)).toEqual(project);
  });

  it('of a clip that was cut are cut with it: both pieces together sound as one', () => {
    const whole = familyOf(4);
    const pieces = edited(whole, 'splitClips', { sound: id, clips: [clip.id], time: clip.start + 0.2 });
    expect(sound(pieces).layers[0]!.clips).toHaveLength(2);
    for (let index = 0; index < 4; index++) {
      const heard = (project: Project): Float32Array =>
        renderSound(siblingSound(sound(project), index, effectCatalogue), context, { tail: 'ring out' }).channels[0]!;
      const [before, after] = [heard(whole), heard(pieces)];
      // All but the fades at the cut itself.
      for (const [from, to] of [
        [0.02, 0.18],
        [0.22, 0.48],
        [0.52, 0.9],
      ] as const) {
        const stretch = (samples: Float32Array): Float32Array =>
          samples.subarray(Math.round((clip.start + from) * rate), Math.round((clip.start + to) * rate));
        const [one, other] = [stretch(before), stretch(after)];
        expect(one.reduce((most, sample, i) => Math.max(most, Math.abs(sample - other[i]!)), 0)).toBeLessThan(1e-5);
      }
    }
  });

  it('hold their sources: one that is offered, or that a kept sibling plays, is not removed', () => {
    const gone = first.sources[3]!;
    // Its own layer goes first: what is used as itself is held by that.
    let project = edited(familyOf(4), 'removeLayer', { sound: id, layer: first.sounds[0]!.layers[3]!.id });
    const remove = (): Project => edited(project, 'removeSources', { sources: [gone.id] });
    expect(remove).toThrow(`“${gone.name}” is used in`);
    const index = [0, 1, 2, 3].find((each) => playedBy(project, each) === gone.id)!;
    project = edited(project, 'judgeSibling', { sound: id, index, state: 'kept', draws: drawSibling(sound(project), index) });
    project = edited(project, 'removeSway', { sound: id, sway: sound(project).family.sways[0]!.id });
    expect(remove).toThrow(`“${gone.name}” is used in`);
    project = edited(project, 'judgeSibling', { sound: id, index, state: 'open' });
    expect(remove().sources).toHaveLength(3);
  });

  it('of sources that are not there, and of stretches that end before they begin, are told', () => {
    for (const [of, reason] of [
      [{ source: 'nowhere', from: 0, to: 1, over }, 'there is no source “nowhere”'],
      [{ source: first.sources[0]!.id, from: 1, to: 1, over }, 'it ends before it begins'],
    ] as const) {
      const broken = familyOf(2, [of]);
      expect(() => parseProject(JSON.parse(JSON.stringify(broken)), effectCatalogue)).toThrow(reason);
    }
    const kept = edited(familyOf(2), 'judgeSibling', {
      sound: id,
      index: 0,
      state: 'kept',
      draws: { [address]: { source: 'nowhere', from: 0, to: 1, over } },
    });
    expect(() => parseProject(JSON.parse(JSON.stringify(kept)), effectCatalogue)).toThrow('there is no source “nowhere”');
  });
});

describe('shuffled bags', () => {
  it('begin alike however many are asked for', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 0, max: 999 }),
        (count, plays, seed) => {
          const order = shuffledBags(count, plays, seed);
          expect(order).toHaveLength(plays);
          expect(shuffledBags(count, plays + 7, seed).slice(0, plays)).toEqual(order);
        },
      ),
    );
    expect(shuffledBags(0, 5, 1)).toEqual([]);
  });
});
