import type { Audio } from '../audio/audio';
import { effectCatalogue } from '../catalogue';
import { hashText } from '../formats/hash';
import { heardSources } from '../kin/recipe';
import { applyEdit, startHistory, undo } from '../project/history';
import type { PrintedPart } from '../project/edits';
import { editNamed, whyNotPrinted } from '../project/edits';
import { parseProject } from '../project/parse';
import type { Project } from '../project/schema';
import { renderContext } from '../render/library';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise, residual, sine } from '../testing/signals';
import { endToEnd, layersToPrint, printRecipe, printSource, printTakes, renderPrint } from './print-sound';

const rate = 48_000;

/** Two layers with chains, gains, pans and a late start; the sound has a chain too. */
function bench() {
  const recordings: Record<string, Audio> = { 'Ridge wind': mono(noise(2 * rate, 3, -20)), 'Slab knock': mono(sine(180, 0.5, rate, -9)) };
  let { project } = projectWith(recordings);
  const sound = project.sounds[0]!.id;
  const [wind, knock] = project.sounds[0]!.layers.map((layer) => layer.id) as [string, string];
  const knockClip = project.sounds[0]!.layers[1]!.clips[0]!.id;
  project = edited(project, 'moveClips', { sound, to: [{ clip: knockClip, start: 0.7 }] });
  project = edited(project, 'addEffect', { sound, owner: { layer: knock }, effect: 'compressor' });
  project = edited(project, 'addEffect', { sound, owner: 'sound', effect: 'eq' });
  project = edited(project, 'setValues', {
    sound,
    values: { [`layer/${knock}/gain`]: -4, [`layer/${knock}/pan`]: 0.5, [`layer/${wind}/gain`]: -7, 'sound/gain': 2 },
    label: 'Levels',
  });
  return {
    project,
    library: new Map(Object.entries(recordings).map(([name, audio]) => [hashText(name), audio])),
    sound,
    wind,
    knock,
    knockClip,
  };
}

/** Prints a part, as the interface does, and gives back the project and the library with the print. */
function print(project: Project, library: ReadonlyMap<string, Audio>, part: PrintedPart, name: string) {
  const sound = project.sounds[0]!;
  const recipe = printRecipe(sound, part);
  const { audio, start } = renderPrint(recipe, renderContext(project, library));
  const { source } = printSource(audio, recipe, { name, part: 'Slab knock' }, project);
  const args = { sound: sound.id, part, source, start };
  return { args, project: edited(project, 'printLayers', args), library: new Map([...library, [source.audio, audio]]) };
}

const heard = (project: Project, library: ReadonlyMap<string, Audio>, index = 0): Audio =>
  renderSound(project.sounds[index]!, renderContext(project, library), { tail: 'ring out' });

describe('printing', () => {
  it.each<[string, (knock: string) => PrintedPart]>([
    ['a layer', (knock) => ({ layers: [knock] })],
    ['the whole sound', () => 'whole sound'],
  ])('%s changes nothing that is heard', (_, part) => {
    const { project, library, knock } = bench();
    const printed = print(project, library, part(knock), 'Knock, printed');
    const before = heard(project, library);
    const after = heard(printed.project, printed.library);
    before.channels.forEach((channel, c) => expect(residual(channel, after.channels[c]!, 0, 2 * rate)).toBeLessThan(-110));
  });

  it('a group changes nothing that is heard: its chain, its fader and its lane are printed, its sends stay', () => {
    const { project, library, sound, wind, knock } = bench();
    let grouped = edited(project, 'groupLayers', { sound, layers: [wind, knock], name: 'Ice' });
    grouped = edited(grouped, 'addSharedBus', { sound, name: 'Hall' });
    const [group, hall] = grouped.sounds[0]!.buses.map(({ id }) => id) as [string, string];
    grouped = edited(grouped, 'setSend', { sound, owner: { bus: group }, bus: hall, on: true });
    grouped = edited(grouped, 'addEffect', { sound, owner: { bus: group }, effect: 'compressor' });
    grouped = edited(grouped, 'setValues', { sound, values: { [`bus/${group}/gain`]: -3, [`bus/${group}/send/${hall}`]: -9 }, label: '' });
    grouped = edited(grouped, 'addAutomation', { sound, address: `bus/${group}/pan` });
    const points = [
      { time: 0, value: -1, bend: 0 },
      { time: 2, value: 1, bend: 0 },
    ];
    grouped = edited(grouped, 'setAutomationPoints', { sound, lane: grouped.sounds[0]!.automation[0]!.id, points, action: 'Draw' });
    const printed = print(grouped, library, { group }, 'Ice, printed');
    const [before, after] = [heard(grouped, library), heard(printed.project, printed.library)];
    before.channels.forEach((channel, c) => expect(residual(channel, after.channels[c]!, 0, 1.9 * rate)).toBeLessThan(-110));
    const found = printed.project.sounds[0]!;
    expect(found.layers.map(({ name, sends }) => [name, sends.length])).toEqual([['Ice, printed', 1]]);
    expect(found.buses.map(({ name }) => name)).toEqual(['Hall']);
    expect(found.automation).toEqual([]);
    // Its recipe opens with the group, and the document stays valid.
    const opened = edited(printed.project, 'openRecipe', { source: printed.project.sources.at(-1)!.id });
    expect(opened.sounds[1]!.buses.map(({ name }) => name)).toEqual(['Ice']);
    expect(opened.sounds[1]!.automation[0]!.address).toBe(`bus/${opened.sounds[1]!.buses[0]!.id}/pan`);
    expect(parseProject(JSON.parse(JSON.stringify(opened)), effectCatalogue)).toEqual(opened);
  });

  it('lanes of layers that are not heard are not printed with the whole sound', () => {
    const { project, library, sound, knock } = bench();
    // Nor is a group that nothing goes through any more.
    let muted = edited(project, 'groupLayers', { sound, layers: [knock], name: 'Ice' });
    muted = edited(muted, 'addAutomation', { sound, address: `layer/${knock}/gain` });
    muted = edited(muted, 'addAutomation', { sound, address: `bus/${muted.sounds[0]!.buses[0]!.id}/gain` });
    muted = edited(muted, 'muteLayer', { sound, layer: knock, muted: true });
    const printed = print(muted, library, 'whole sound', 'All, printed');
    const opened = edited(printed.project, 'openRecipe', { source: printed.project.sources.at(-1)!.id });
    expect(opened.sounds[1]).toMatchObject({ buses: [], automation: [] });
    expect(parseProject(JSON.parse(JSON.stringify(opened)), effectCatalogue)).toEqual(opened);
  });

  it('says before anything is rendered what cannot be replaced by a print', () => {
    const { project, sound, wind, knock } = bench();
    expect(whyNotPrinted(project.sounds[0]!, { layers: [wind, knock] })).toBeUndefined();
    let sent = edited(project, 'addSharedBus', { sound, name: 'Hall' });
    const hall = sent.sounds[0]!.buses[0]!.id;
    sent = edited(sent, 'setSend', { sound, owner: { layer: knock }, bus: hall, on: true });
    expect(whyNotPrinted(sent.sounds[0]!, { layers: [wind, knock] })).toContain('different groups or sends');
    expect(whyNotPrinted(sent.sounds[0]!, { layers: [knock] })).toBeUndefined();
    expect(whyNotPrinted(sent.sounds[0]!, 'whole sound')).toBeUndefined();
    const grouped = edited(sent, 'groupLayers', { sound, layers: [wind, knock], name: 'Ice' });
    expect(whyNotPrinted(grouped.sounds[0]!, { group: grouped.sounds[0]!.buses[1]!.id })).toContain('buses of their own');
    expect(whyNotPrinted({ ...project.sounds[0]!, layers: [] }, 'whole sound')).toContain('no layer to print');
  });

  it('keeps the switches: a muted layer stays unheard, a soloed one soloed', () => {
    const { project, library, sound, knock, wind } = bench();
    const muted = edited(project, 'muteLayer', { sound, layer: knock, muted: true });
    const printed = print(muted, library, { layers: [knock] }, 'Knock, printed');
    expect(printed.project.sounds[0]!.layers[1]!.muted).toBe(true);
    expect(heard(printed.project, printed.library)).toEqual(heard(muted, library));
    // The print itself is not silent: unmuted, it is heard.
    expect(Math.max(...printed.library.get(printed.args.source.audio)!.channels[0]!)).toBeGreaterThan(0.05);

    const soloed = edited(project, 'solo', { sound, owner: { layer: knock }, soloed: true });
    const alone = print(soloed, library, { layers: layersToPrint(soloed.sounds[0]!, [wind, knock]) }, 'Knock, printed');
    expect(alone.project.sounds[0]!.layers.map(({ soloed: alive }) => alive)).toEqual([true]);
    const [before, after] = [heard(soloed, library), heard(alone.project, alone.library)];
    before.channels.forEach((channel, c) => expect(residual(channel, after.channels[c]!, 0.7 * rate, 1.2 * rate)).toBeLessThan(-110));
  });

  it('of the whole sound leaves muted layers where they are, with what they go through', () => {
    const { project, library, sound, knock, wind } = bench();
    let muted = edited(project, 'muteLayer', { sound, layer: knock, muted: true });
    muted = edited(muted, 'groupLayers', { sound, layers: [knock], name: 'Ice' });
    const kept = muted.sounds[0]!.layers.find(({ id }) => id === knock);
    const printed = print(muted, library, 'whole sound', 'whole sound');
    const after = printed.project.sounds[0]!;
    expect(after.layers.map(({ id }) => id)).toEqual([after.layers[0]!.id, knock]);
    expect(after.layers[1]).toEqual(kept);
    expect(after.layers.some(({ id }) => id === wind)).toBe(false);
    expect(after.buses.map(({ name }) => name)).toEqual(['Ice']);
    const [before, now] = [heard(muted, library), heard(printed.project, printed.library)];
    before.channels.forEach((channel, c) => expect(residual(channel, now.channels[c]!)).toBeLessThan(-100));
    const silent = edited(muted, 'muteLayer', { sound, layer: wind, muted: true });
    expect(whyNotPrinted(silent.sounds[0]!, 'whole sound')).toContain('muted');
  });

  it('leaves out chosen layers that are not heard, unless none is', () => {
    const { project, sound, knock, wind } = bench();
    const muted = edited(project, 'muteLayer', { sound, layer: knock, muted: true });
    expect(layersToPrint(project.sounds[0]!, [knock, wind])).toEqual([wind, knock]);
    expect(layersToPrint(muted.sounds[0]!, [knock, wind])).toEqual([wind]);
    expect(layersToPrint(muted.sounds[0]!, [knock])).toEqual([knock]);
  });

  it('begins where the first clip does and takes the layer’s place, without its chain', () => {
    const { project, library, knock, wind } = bench();
    const printed = print(project, library, { layers: [knock] }, 'Knock, printed');
    const [first, second] = printed.project.sounds[0]!.layers;
    expect(first!.id).toBe(wind);
    expect(second).toMatchObject({ name: 'Knock, printed', gain: 0, pan: 0, chain: [] });
    expect(second!.clips[0]!.start).toBe(0.7);
    // The sound's own chain and gain are not in it, so they stay.
    expect(printed.project.sounds[0]!.chain).toHaveLength(1);
    expect(printed.project.sounds[0]!.gain).toBe(2);
  });

  it('is undone whole: the live layers are back, the source is gone', () => {
    const { project, library, knock } = bench();
    const { args } = print(project, library, { layers: [knock] }, 'Knock, printed');
    const history = applyEdit(startHistory(project), editNamed('printLayers'), args, effectCatalogue);
    expect(undo(history).project).toEqual(project);
  });

  it('remembers its recipe, which can be opened again as long as its sources are there', () => {
    const { project, library, knock } = bench();
    const printed = print(project, library, { layers: [knock] }, 'Knock, printed');
    const source = printed.project.sources.at(-1)!;
    const opened = edited(printed.project, 'openRecipe', { source: source.id });
    const live = heard(opened, printed.library, 1);
    const { audio } = { audio: printed.library.get(source.audio)! };
    live.channels.forEach((channel, c) => expect(residual(audio.channels[c]!, channel.slice(0.7 * rate), 0, rate / 2)).toBeLessThan(-110));
    // All ids are new ones, so the document stays valid.
    expect(parseProject(JSON.parse(JSON.stringify(opened)), effectCatalogue, 'it')).toEqual(opened);
    const knockSource = project.sources[1]!.id;
    expect(() => edited(printed.project, 'removeSources', { sources: [knockSource] })).toThrow(/recipe of “Knock, printed”/);
  });

  it('names every source that went into a print, through prints of prints', () => {
    const { project, library, knock } = bench();
    const once = print(project, library, { layers: [knock] }, 'Knock, printed');
    const twice = print(once.project, once.library, 'whole sound', 'All of it');
    const names = heardSources(twice.project.sounds[0]!, twice.project).map(({ name }) => name);
    expect(names).toEqual(['Ridge wind', 'Slab knock', 'Knock, printed', 'All of it']);
  });

  it('takes a stretch of the time axis alone, sample by sample', () => {
    const { project, library } = bench();
    const recipe = printRecipe(project.sounds[0]!, 'whole sound');
    const { audio, start } = renderPrint(recipe, renderContext(project, library), { range: { from: 0.5, to: 1.25 } });
    expect(start).toBe(0.5);
    heard(project, library).channels.forEach((channel, c) => expect(audio.channels[c]).toEqual(channel.slice(0.5 * rate, 1.25 * rate)));
  });

  it('refuses a part without sound', () => {
    const { project, library, sound, knockClip, knock } = bench();
    const empty = edited(project, 'removeClips', { sound, clips: [knockClip] });
    expect(() => renderPrint(printRecipe(empty.sounds[0]!, { layers: [knock] }), renderContext(empty, library))).toThrow(
      /nothing to print/,
    );
  });
});

describe('printing takes', () => {
  it('draws the sways of each anew, always the same for the same seed', () => {
    const { project, library, sound, knock, knockClip } = bench();
    const address = `layer/${knock}/clip/${knockClip}/speed`;
    const swayed = edited(project, 'setSway', { sound, sway: { kind: 'range', address, locked: false, low: -5, high: 5 }, label: 'Sway' });
    const takes = (): Audio[] =>
      printTakes(swayed.sounds[0]!, { layers: [knock] }, 4, effectCatalogue).map(
        (recipe) => renderPrint(recipe, renderContext(swayed, library)).audio,
      );
    const [first, second] = [takes(), takes()];
    expect(second).toEqual(first);
    expect(new Set(first.map((take) => take.channels[0]!.length)).size).toBe(4);
    // A take keeps what does not vary: the part alone, without the chain of the whole sound.
    for (const recipe of printTakes(swayed.sounds[0]!, { layers: [knock] }, 2, effectCatalogue)) {
      expect(recipe.chain).toEqual([]);
      expect(recipe.layers.map(({ id }) => id)).toEqual([knock]);
    }
  });

  it('puts them end to end with a gap', () => {
    const joined = endToEnd([mono(noise(100, 1)), mono(noise(50, 2)), mono(noise(70, 3))], 20 / rate);
    expect(joined.channels[0]!.length).toBe(100 + 50 + 70 + 40);
    expect([...joined.channels[0]!.subarray(100, 120)]).toEqual(Array(20).fill(0));
    expect([...joined.channels[0]!.subarray(120, 170)]).toEqual([...noise(50, 2)]);
  });
});
