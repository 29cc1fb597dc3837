import { effectCatalogue } from '../catalogue';
import { hashBytes, hashText } from '../formats/hash';
import { readWav } from '../formats/wav/wav-read';
import { make } from '../testing/any-edit';
import { createProject } from '../project/create';
import type { History } from '../project/history';
import { startHistory } from '../project/history';
import type { Delivery, Project } from '../project/schema';
import { renderContext } from '../render/library';
import { sourceFor } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { conductFileSchema } from './conduct-file';
import { conductJson, takeBytes } from './conduct-pack';
import { readScript } from './conduct-script';
import { playedSiblings, wantedTakes } from './conduct-takes';
import { planDelivery } from './plan';
import { asItCounts, gameDelivery } from './plan-behaviours';
import { renderItem } from './render-item';
import type { Writing } from './write-item';
import { manifestEntry, wavOf } from './write-item';

const begun = (): History => startHistory(createProject('halda', 'Halda Station'));

describe('what a game takes', () => {
  const [hum, step] = [mono(noise(4_800)), mono(noise(2_400))];
  const loopSource = { ...sourceFor('Hum', hum), loop: { from: 0, to: 0.1 } };
  const recordings = new Map([
    [hashText('Hum'), hum],
    [hashText('Step'), step],
  ]);
  const moment = { date: '2026-02-03', time: '04:05:06' };

  function stationed() {
    let history = make(begun(), 'addSources', { sources: [loopSource, sourceFor('Step', step)] });
    const sources = history.project.sources.slice(-2);
    for (const [name, source] of [
      ['Wind, far', sources[0]!],
      ['wind far', sources[1]!],
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

  /** Renders and writes everything that the behaviours play, as WAV. */
  function handedOff(project: Project, change: Partial<Delivery> = {}) {
    const delivery = asItCounts({ ...gameDelivery(project), ...change });
    const context = renderContext(project, recordings);
    const files = new Map<string, Uint8Array>();
    const made = planDelivery(project, delivery, effectCatalogue).map((item) => {
      const writing: Writing = { item, delivery, project, moment, rendered: renderItem(item, delivery, context) };
      const wav = wavOf(writing);
      files.set(item.file, wav);
      return { item, entry: manifestEntry(writing, wav) };
    });
    return { delivery, files, made, json: conductFileSchema.parse(JSON.parse(JSON.stringify(conductJson(project, delivery, made)))) };
  }

  it('is files whose names no other has, with their loops, and a conduct.json that fits its schema', () => {
    const project = stationed();
    const { files, json } = handedOff(project);
    expect(files.size).toBe(4);
    expect(new Set([...files.keys()].map((name) => name.toLowerCase())).size).toBe(4);
    for (const name of files.keys()) expect(name).toMatch(/^[A-Za-z0-9_-]+\.wav$/);
    const [wind] = project.sounds.slice(-2);
    const loop = json.takes[wind!.id]!.original!;
    expect(loop.loop).toEqual({ from: 0, to: 4_800 });
    const wav = files.get(json.files[loop.asset]!.file)!;
    expect(readWav(wav).details.loop).toEqual({ from: 0, to: 4_800 });
    expect(json.files[loop.asset]!.bytes).toBe(wav.length);
    expect(json.files[loop.asset]!.sha256).toBe(hashBytes(wav));
    expect(json.behaviours.map(({ name }) => name)).toEqual(['Wind', 'Step', 'Step again']);
  });

  it('is as loud and as long as it was heard, whatever a delivery of sounds would make of it', () => {
    const project = stationed();
    const plain = handedOff(project);
    const asked = handedOff(project, {
      level: 'loudness',
      loudness: -40,
      tail: 'fixed length',
      length: 3,
      trim: true,
      fade: 0.02,
      blockDc: true,
    });
    for (const [name, wav] of plain.files) expect(asked.files.get(name)).toEqual(wav);
    // Neither do settings that change nothing make it another file.
    expect(asked.made.map(({ entry }) => entry.form)).toEqual(plain.made.map(({ entry }) => entry.form));
  });

  it('counts frames at the rate of its files, and tells what they need in memory', () => {
    const project = stationed();
    const slow = handedOff(project, { sampleRate: 22_050, encoding: '16', channels: 'mono' });
    expect(slow.json.sampleRate).toBe(22_050);
    for (const { item, entry } of slow.made) {
      const take = [item.of.id]
        .map((id) => slow.json.takes[id]!)
        .flatMap(({ original, family }) => (original ? [original, ...family] : family));
      expect(take.find(({ asset }) => asset === item.key)!.frames).toBe(readWav(slow.files.get(item.file)!).audio.channels[0]!.length);
      const bytes = takeBytes({ frames: item.loops ? 4_800 : 2_400, sampleRate: 48_000, channels: 1 }, slow.delivery);
      expect(Math.abs(bytes - entry.frames * 2)).toBeLessThanOrEqual(4);
    }
    const stereo = { frames: 48_000, sampleRate: 48_000, channels: 2 };
    expect(takeBytes(stereo, { ...slow.delivery, channels: 'stereo', encoding: '24', sampleRate: 48_000 })).toBe(48_000 * 2 * 3);
    expect(takeBytes(stereo, { ...slow.delivery, channels: 'stereo', format: 'opus', bitrate: 64 })).toBe(16_000);
  });

  it('is the same file as long as nothing that decides it changes', () => {
    const project = stationed();
    const formsOf = (of: Project, change = {}): string[] =>
      planDelivery(of, { ...gameDelivery(of), ...change }, effectCatalogue).map(({ recipe, form }) => `${recipe} ${form}`);
    expect(formsOf(structuredClone(project))).toEqual(formsOf(project));
    expect(formsOf(project, { encoding: '16' })).not.toEqual(formsOf(project));
    const louder = { ...project, sounds: project.sounds.map((sound) => ({ ...sound, gain: 1 })) };
    const [before, after] = [formsOf(project), formsOf(louder)];
    for (const [i, form] of before.entries()) expect(after[i]).not.toBe(form);
    const renamed = {
      ...project,
      conduct: { ...project.conduct, behaviours: project.conduct.behaviours.map((each) => ({ ...each, gain: -6 })) },
    };
    expect(formsOf(renamed)).toEqual(before);
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
