import { effectCatalogue } from '../catalogue';
import { shapePoints } from '../movers/tide-shapes';
import { tideHeight } from '../movers/mover-value';
import { siblingSound } from '../kin/take-draws';
import { isLoop } from '../hand-off/loops';
import { sourceNeeds } from '../project/source-needs';
import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, mono, sine } from '../testing/signals';
import { gainToDecibels } from '../units';
import { SoundPlayer } from './live/player';
import { pulledClips } from './pulled-clips';
import { renderSound } from './render-sound';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;
const { project, context } = projectWith({ Tone: mono(sine(440, 1, rate, -12)) });
const [{ id: sound, layers }] = project.sounds as [Sound];
const layer = layers[0]!.id;
const first = layers[0]!.clips[0]!.id;
const clipAt = (made: Project, n: number) => made.sounds[0]!.layers[0]!.clips[n]!;
const at = (clip: string, key: string): string => `layer/${layer}/clip/${clip}/${key}`;

/** A project in which a mover pulls at properties. */
function pulled(kind: 'rein' | 'tide' | 'walk', depths: Readonly<Record<string, number>>, from = project): Project {
  let made = edited(from, 'addMover', { sound, kind, name: 'Size' });
  const mover = made.sounds[0]!.movers.at(-1)!.id;
  for (const [address, depth] of Object.entries(depths)) made = edited(made, 'setPull', { sound, mover, address, depth });
  return made;
}

function drawn(made: Project, value: number): Project {
  const rein = `rein/${made.sounds[0]!.movers[0]!.id}/value`;
  return edited(made, 'setValues', { sound, values: { [rein]: value }, label: '' });
}

describe('clips that are pulled', () => {
  it('sound as if their dials stood where a rein pulls them', () => {
    const made = drawn(pulled('rein', { [at(first, 'pitch')]: -12, [at(first, 'formant')]: 4, [at(first, 'gain')]: -20 }), 0.5);
    const values = { [at(first, 'pitch')]: -6, [at(first, 'formant')]: 2, [at(first, 'gain')]: -10 };
    const turned = edited(project, 'setValues', { sound, values, label: '' });
    const heard = renderSound(made.sounds[0]!, context, cut);
    expect(heard.channels).toEqual(renderSound(turned.sounds[0]!, context, cut).channels);
    // 440 Hz at −12 dBFS, half an octave lower and 10 dB down.
    const amplitude = amplitudeAt(heard.channels[0]!, 440 / Math.SQRT2, rate, 9_600, 38_400);
    expect(Math.abs(gainToDecibels(amplitude) + 22)).toBeLessThan(0.5);
  });

  it('are as they were where nothing pulls, and the very same', () => {
    expect(pulledClips(project.sounds[0]!, rate)).toBe(project.sounds[0]!);
    const gain = pulled('rein', { [`layer/${layer}/gain`]: 6 }).sounds[0]!;
    expect(pulledClips(gain, rate)).toBe(gain);
    const resting = pulled('rein', { [at(first, 'pitch')]: 6 }).sounds[0]!;
    expect(pulledClips(resting, rate).layers[0]!.clips).toEqual(resting.layers[0]!.clips);
  });

  it('are each as a tide stands when they begin, for their whole length', () => {
    let row = project;
    for (const start of [0.4, 1.1, 2.3]) row = edited(row, 'addClip', { sound, layer, source: row.sources[0]!.id, start });
    const depths = Object.fromEntries(row.sounds[0]!.layers[0]!.clips.map(({ id }) => [at(id, 'pitch'), 10]));
    row = pulled('tide', depths, row);
    const tide = row.sounds[0]!.movers[0]!.id;
    row = edited(row, 'setMover', { sound, mover: tide, settings: { length: 3, smoothing: 0, points: shapePoints('triangle') } });
    for (const { start, pitch } of pulledClips(row.sounds[0]!, rate).layers[0]!.clips)
      expect(pitch).toBeCloseTo(10 * tideHeight({ points: shapePoints('triangle') }, start / 3), 2);
  });

  it('stay within the range of their dials', () => {
    const made = drawn(pulled('rein', { [at(first, 'pitch')]: 1_000, [at(first, 'wear')]: -5 }), 1);
    expect(pulledClips(made.sounds[0]!, rate).layers[0]!.clips[0]).toMatchObject({ pitch: 36, wear: 0 });
  });

  it('are heard live as they are rendered', () => {
    const made = drawn(pulled('rein', { [at(first, 'gain')]: -6, [at(first, 'pitch')]: 7 }), 1).sounds[0]!;
    const rendered = renderSound(made, context, cut).channels[0]!;
    const player = new SoundPlayer(made, context, 0);
    const live = [new Float32Array(rate), new Float32Array(rate)];
    for (let n = 0; n < rate; n += 512) player.render(live, Math.min(512, rate - n), n);
    for (let i = 0; i < rate - 480; i += 7) expect(live[0]![i]).toBeCloseTo(rendered[i]!, 6);
  });

  it('differ between siblings by one draw of the rein', () => {
    const made = pulled('rein', { [at(first, 'pitch')]: 12 });
    const address = `rein/${made.sounds[0]!.movers[0]!.id}/value`;
    const sway = { kind: 'range', address, low: 0, high: 1, locked: false } as const;
    const family = edited(made, 'setSway', { sound, sway, label: '' }).sounds[0]!;
    const pitches = [0, 1, 2, 3].map((n) => pulledClips(siblingSound(family, n, effectCatalogue), rate).layers[0]!.clips[0]!.pitch);
    expect(new Set(pitches).size).toBe(4);
    for (const pitch of pitches) expect(pitch > 0 && pitch < 12).toBe(true);
  });

  it('keep who pulls them when they are copied, split, moved and repeated, and forget them when they go', () => {
    const made = pulled('walk', { [at(first, 'gain')]: 5 });
    const depths = (changed: Project): string[] => changed.sounds[0]!.pulls.map(({ address, depth }) => `${address} ${depth}`);
    const clips = [first];
    const split = edited(made, 'splitClips', { sound, clips, time: 0.5 });
    expect(depths(split)).toEqual([`${at(first, 'gain')} 5`, `${at(clipAt(split, 1).id, 'gain')} 5`]);
    const duplicated = edited(made, 'duplicateClips', { sound, clips });
    expect(depths(duplicated)).toEqual([`${at(first, 'gain')} 5`, `${at(clipAt(duplicated, 1).id, 'gain')} 5`]);
    expect(depths(edited(made, 'repeatClips', { sound, clips, times: 3, interval: 1, levelStep: 0, pitchStep: 0 }))).toHaveLength(4);
    const stacked = edited(made, 'octaveStack', { sound, layer, clips, stack: [{ octaves: -1, gain: 0 }] });
    expect(depths(stacked)).toHaveLength(2);
    const two = edited(made, 'addLayer', { sound, source: made.sources[0]!.id, start: 0 });
    const other = two.sounds[0]!.layers[1]!.id;
    const moved = edited(two, 'moveClips', { sound, to: [{ clip: first, start: 1, layer: other }] });
    expect(depths(moved)).toEqual([`layer/${other}/clip/${first}/gain 5`]);
    expect(depths(edited(made, 'removeClips', { sound, clips }))).toEqual([]);
  });

  it('are not pulled in time, nor by what must be heard first', () => {
    for (const key of ['speed', 'stretch', 'start'])
      expect(() => pulled('rein', { [at(first, key)]: 1 })).toThrow('nothing that can be pulled');
    let following = edited(project, 'addMover', { sound, kind: 'follower', name: 'Ear' });
    const mover = following.sounds[0]!.movers[0]!.id;
    expect(() => (following = edited(following, 'setPull', { sound, mover, address: at(first, 'gain'), depth: 3 }))).toThrow(
      'clips are made before',
    );
  });

  it('need as much of their recording as a stretch, and are no loop when they are stretched', () => {
    const made = pulled('rein', { [at(first, 'pitch')]: 12 });
    const stretched = edited(project, 'stretchClips', { sound, clips: [first], settings: { pitch: 12 } });
    expect(sourceNeeds(made.sounds[0]!)).toEqual(sourceNeeds(stretched.sounds[0]!));
    const hard = (['in', 'out'] as const).reduce(
      (from, side) => edited(from, 'fadeClips', { sound, clips: [first], side, length: 0 }),
      made,
    );
    const looped = { ...hard, sources: hard.sources.map((source) => ({ ...source, loop: { from: 0, to: 1 } })) };
    expect(isLoop(looped.sounds[0]!, looped)).toBe(true);
    const up = drawn(looped, 1);
    expect(isLoop(up.sounds[0]!, up)).toBe(false);
  });
});
