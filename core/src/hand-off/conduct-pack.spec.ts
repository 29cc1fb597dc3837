import { silence } from '../audio/audio';
import { effectCatalogue } from '../catalogue';
import { readWav } from '../formats/wav/wav-read';
import { make } from '../testing/any-edit';
import { createProject } from '../project/create';
import type { History } from '../project/history';
import { startHistory } from '../project/history';
import { sourceFor } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { conductFileSchema } from './conduct-file';
import { packConduct, takeBytes } from './conduct-pack';
import { readScript } from './conduct-script';
import { playedSiblings, wantedTakes } from './conduct-takes';

const begun = (): History => startHistory(createProject('halda', 'Halda Station'));

describe('what a game takes', () => {
  const loopSource = { ...sourceFor('Hum', mono(noise(4_800))), loop: { from: 0, to: 0.1 } };

  function stationed() {
    let history = make(begun(), 'addSources', { sources: [loopSource, sourceFor('Step', mono(noise(2_400)))] });
    const [hum, step] = history.project.sources.slice(-2);
    for (const [name, source] of [
      ['Wind, far', hum!],
      ['wind far', step!],
    ] as const) {
      history = make(history, 'addSound', { name });
      history = make(history, 'addLayer', { sound: history.project.sounds.at(-1)!.id, source: source.id, start: 0 });
    }
    const [wind, steps] = history.project.sounds.slice(-2);
    history = make(history, 'setFamily', { sound: steps!.id, size: 4 });
    history = make(history, 'judgeSibling', { sound: steps!.id, index: 2, state: 'dropped' });
    history = make(history, 'addBehaviour', { kind: 'one', name: 'Wind', sound: wind!.id });
    history = make(history, 'addBehaviour', { kind: 'one', name: 'Step', sound: steps!.id });
    history = make(history, 'addBehaviour', { kind: 'one', name: 'Step again', sound: steps!.id });
    return history.project;
  }

  it('is each take once: siblings that are kept, or else all that are not dropped', () => {
    const project = stationed();
    const [wind, steps] = project.sounds.slice(-2);
    expect(wantedTakes(project, effectCatalogue).map(({ asset, loops }) => [asset, loops])).toEqual([
      [`${wind!.id}/original`, true],
      ...[1, 2, 4].map((n) => [`${steps!.id}/${n}`, false]),
    ]);
    const kept = {
      ...steps!,
      family: {
        ...steps!.family,
        siblings: steps!.family.siblings.map((each, i) => ({ ...each, state: i === 1 ? ('kept' as const) : each.state })),
      },
    };
    expect(playedSiblings(kept)).toEqual([1]);
  });

  it('is files whose names no other has, with their loops, and a conduct.json that fits its schema', () => {
    const project = stationed();
    const wanted = wantedTakes(project, effectCatalogue);
    const assets = new Map(wanted.map(({ asset, loops }) => [asset, silence(48_000, 2, loops ? 4_800 : 2_400)]));
    const files = packConduct(project, wanted, assets);
    const names = Object.keys(files);
    expect(names).toHaveLength(5);
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(5);
    for (const name of names) expect(name).toMatch(/^[A-Za-z0-9_-]+\.(wav|json)$/);
    const json = conductFileSchema.parse(JSON.parse(new TextDecoder().decode(files['conduct.json'])));
    const [wind] = project.sounds.slice(-2);
    const loop = json.takes[wind!.id]!.original!;
    expect(loop.loop).toEqual({ from: 0, to: 4_800 });
    expect(readWav(files[json.files[loop.asset]!.file]!).details.loop).toEqual({ from: 0, to: 4_800 });
    // Behind the head of a 24 bit file lie its samples, and what it says of its loop.
    expect(takeBytes(silence(48_000, 2, 4_800), '24')).toBe(4_800 * 2 * 3);
    expect(json.files[loop.asset]!.bytes).toBeGreaterThan(4_800 * 2 * 3);
    expect(json.behaviours.map(({ name }) => name)).toEqual(['Wind', 'Step', 'Step again']);
    expect(() => packConduct(project, wanted, new Map())).toThrow('is not rendered yet');
  });
});

describe('a script as a file', () => {
  it('names things by name or id, and says what is not there', () => {
    let history = make(begun(), 'addBehaviour', { kind: 'stack', name: 'All' });
    history = make(history, 'addGamePart', { part: 'parameters', name: 'Wind' });
    const { conduct } = history.project;
    const [all, wind] = [conduct.behaviours[0]!.id, conduct.parameters[0]!.id];
    const script = {
      seconds: 2,
      moves: [
        { at: 0, move: { do: 'trigger', behaviour: 'All' } },
        { at: 1, move: { do: 'set', parameter: wind, value: 3 } },
        { at: 1, move: { do: 'emitter', emitter: 'All', x: 1, y: 2 } },
      ],
    };
    expect(readScript(script, conduct).moves.map(({ move }) => move)).toEqual([
      { do: 'trigger', behaviour: all },
      { do: 'set', parameter: wind, value: 3 },
      { do: 'emitter', emitter: all, x: 1, y: 2 },
    ]);
    const wrong = { ...script, moves: [...script.moves, { at: 1, move: { do: 'stop', behaviour: 'Gone' } }] };
    expect(() => readScript(wrong, conduct, 'walk.json')).toThrow('walk.json does not fit: moves[3]: there is no behaviour “Gone”.');
    expect(() => readScript({ seconds: -1, moves: [] }, conduct, 'walk.json')).toThrow('walk.json does not fit: seconds');
  });
});
