import { maxBlock } from '../dsp/block';
import { branchesOf } from '../project/chain/chain-tree';
import { createProject } from '../project/create';
import { soloed, withoutSolos } from '../project/listening';
import type { Project, Sound } from '../project/schema';
import { effectCatalogue } from '../catalogue';
import { recipeId } from '../kin/recipe';
import { freezeRecipe } from '../print/freeze-layer';
import { layersToPrint, printRecipe, renderPrint } from '../print/print-sound';
import { SoundPlayer } from '../render/live/player';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, mono, sine } from '../testing/signals';
import { renderItem } from './render-item';
import { planSound } from './plan';
import { stemsOf } from './stems';

const rate = 48_000;
const first = (project: Project): Sound => project.sounds[0]!;

/** Three layers, two of them in a group, a host with three bands on one layer and one on the whole sound. */
function bench() {
  const tones = { Low: mono(sine(90, 0.2, rate, -18)), Mid: mono(sine(900, 0.2, rate, -18)), High: mono(sine(7_000, 0.2, rate, -18)) };
  const { project: plain, context } = projectWith(tones);
  const sound = first(plain).id;
  const [low, mid, high] = first(plain).layers.map(({ id }) => id) as [string, string, string];
  let project = edited(plain, 'groupLayers', { sound, layers: [low, mid], name: 'Body' });
  project = edited(project, 'addEffect', { sound, owner: { layer: high }, effect: 'bands' });
  project = edited(project, 'addEffect', { sound, owner: 'sound', effect: 'bands' });
  const group = first(project).buses[0]!.id;
  const innerBand = branchesOf(first(project).layers[2]!.chain)[0]!.id;
  const outerBand = branchesOf(first(project).chain)[0]!.id;
  return { project, context, sound, low, mid, high, group, innerBand, outerBand };
}

const { project, context, sound, low, mid, high, group, innerBand, outerBand } = bench();
const branchAlone = (owner: 'sound' | { layer: string }, branch: string): Project =>
  edited(project, 'setBranch', { sound, owner, branch, changes: { soloed: true } });

/** Every state that is only for listening, and what it is called. */
const states: readonly (readonly [string, Project, readonly string[]])[] = [
  ['a soloed layer', edited(project, 'solo', { sound, owner: { layer: low }, soloed: true }), ['Low']],
  ['a soloed group', edited(project, 'solo', { sound, owner: { bus: group }, soloed: true }), ['Body']],
  ['a soloed band of a layer', branchAlone({ layer: high }, innerBand), ['a branch in “High”']],
  ['a soloed band of the whole sound', branchAlone('sound', outerBand), ['a branch in the sound’s chain']],
  [
    'solos set aside',
    edited(edited(project, 'solo', { sound, owner: { layer: mid }, soloed: true }), 'setSoloing', { sound, soloing: false }),
    [],
  ],
  ['a guide', edited(project, 'setGuide', { sound, source: project.sources[0]!.id }), []],
];

describe.each(states)('%s', (_, listening, names) => {
  const expected = renderSound(first(project), context, { tail: 'ring out' });

  it('is named, and never reaches a render, a delivery, a print, a frozen layer or a recipe', () => {
    expect(soloed(first(listening)).map(({ name }) => name)).toEqual(names);
    expect(renderSound(first(listening), context, { tail: 'ring out' })).toEqual(expected);

    const settings = { ...listening.deliveries[0]!, tail: 'ring out', encoding: '32f', sampleRate: rate } as const;
    const deliver = (from: Project) => {
      const [item] = planSound(from, first(from), settings, effectCatalogue);
      return { audio: renderItem(item!, settings, context).audio, recipe: item!.recipe };
    };
    expect(deliver(listening)).toEqual(deliver(project));

    const part = (from: Project) => ({ layers: layersToPrint(first(from), [low, mid]) });
    for (const what of [part, () => 'whole sound' as const, () => ({ group })]) {
      const printed = (from: Project) => renderPrint(printRecipe(first(from), what(from)), context);
      expect(printed(listening)).toEqual(printed(project));
    }
    expect(freezeRecipe(first(listening), high)).toEqual(freezeRecipe(first(project), high));
    expect(recipeId(first(listening), listening)).toBe(recipeId(first(project), project));
    const stems = (from: Project) =>
      stemsOf(first(from), 'layers').map(({ name, sound }) => [name, renderSound(sound, context, { tail: 'ring out' })]);
    expect(stems(listening)).toEqual(stems(project));
  });

  it('decides what is heard, until all solos are ended', () => {
    const heard = (from: Project): Float32Array => {
      const player = new SoundPlayer(first(from), context, 0);
      const channels = [new Float32Array(0.2 * rate), new Float32Array(0.2 * rate)];
      for (let at = 0; at < channels[0]!.length;) at += player.render(channels, Math.min(maxBlock, channels[0]!.length - at), at);
      return channels[0]!;
    };
    const sum = (samples: Float32Array): number =>
      [90, 900, 7_000].reduce((total, tone) => total + amplitudeAt(samples, tone, rate, 2_400, 9_600), 0);
    if (names.length > 0) expect(sum(heard(listening))).toBeLessThan(0.8 * sum(heard(project)));
    else expect(heard(listening)).toEqual(heard(project));
    const ended = edited(listening, 'clearSolos', { sound });
    expect(soloed(first(ended))).toEqual([]);
    expect(first(ended)).toEqual(withoutSolos(first(listening)));
    expect(heard(ended)).toEqual(heard(project));
  });
});

describe('solos', () => {
  it('that were set aside are forgotten when a band is heard alone', () => {
    const aside = states[4]![1];
    const again = edited(aside, 'setBranch', { sound, owner: 'sound', branch: outerBand, changes: { soloed: true } });
    expect(soloed(first(again)).map(({ kind }) => kind)).toEqual(['branch']);
  });

  it('leave a sound as it is when there are none', () => {
    expect(withoutSolos(first(project))).toBe(first(project));
  });
});

describe('stems', () => {
  it('are those of the layers that are heard, under names that no file system mixes up', () => {
    let named = projectWith({ Boom: mono(sine(90, 0.1, rate, -18)), b: mono(sine(90, 0.1, rate)), c: mono(sine(90, 0.1, rate)) }).project;
    const layers = first(named).layers.map(({ id }) => id) as [string, string, string];
    named = edited(named, 'renameLayer', { sound: first(named).id, layer: layers[1], name: 'boom?' });
    const names = (from: Project): string[] => stemsOf(first(from), 'layers').map(({ name }) => name);
    expect(names(named)).toEqual(['Boom', 'boom? 2', 'c']);
    named = edited(named, 'muteLayer', { sound: first(named).id, layer: layers[0], muted: true });
    expect(names(named)).toEqual(['boom?', 'c']);
    expect(stemsOf({ ...createProject('empty', 'Empty'), ...first(named), layers: [] }, 'layers')).toEqual([]);
  });
});
