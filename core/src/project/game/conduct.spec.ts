import { effectCatalogue } from '../../catalogue';
import { make } from '../../testing/any-edit';
import { createProject } from '../create';
import type { History } from '../history';
import { startHistory, undo } from '../history';
import { parseProject } from '../parse';
import type { Project } from '../schema';
import { behaviourDials } from './behaviour-dials';
import { startingDistance } from './create-behaviour';

const start = (): History => make(startHistory(createProject('halda', 'Halda Station')), 'addSound', { name: 'Snow step' });
const latest = ({ project }: History): string => project.conduct.behaviours.at(-1)!.id;
const opened = ({ project }: History): Project => parseProject(JSON.parse(JSON.stringify(project)), effectCatalogue);
const changed = (history: History, change: (conduct: Record<string, never>) => void): unknown => {
  const data: unknown = JSON.parse(JSON.stringify(history.project));
  change((data as { conduct: Record<string, never> }).conduct);
  return data;
};

/** A Pick that holds a Line that holds a One, and a wind that pulls the Line. */
function nested(): { history: History; pick: string; line: string; one: string; wind: string } {
  let history = make(start(), 'addBehaviour', { kind: 'pick', name: 'Steps' });
  const pick = latest(history);
  history = make(history, 'addBehaviour', { kind: 'line', name: 'Walk', parent: pick });
  const line = latest(history);
  history = make(history, 'addBehaviour', { kind: 'one', name: 'Heel', parent: line, sound: history.project.sounds[0]!.id });
  const one = latest(history);
  history = make(history, 'addGamePart', { part: 'parameters', name: 'Wind' });
  const wind = history.project.conduct.parameters[0]!.id;
  history = make(history, 'setGamePart', { id: wind, part: 'parameters', change: { low: 0, high: 30 } });
  history = make(history, 'setGamePull', {
    behaviour: line,
    parameter: wind,
    property: 'gain',
    points: [
      { at: 99, value: -99 },
      { at: -1, value: 99 },
    ],
  });
  return { history, pick, line, one, wind };
}

describe('behaviours in the document', () => {
  it('are kept, opened again, and undone step by step', () => {
    const { history, line } = nested();
    expect(opened(history).conduct).toEqual(history.project.conduct);
    const pulled = history.project.conduct.behaviours.find(({ id }) => id === line)!;
    // Into the ranges of the parameter and of the property, and in order.
    expect(pulled.pulls[0]!.points).toEqual([
      { at: 0, value: 24 },
      { at: 30, value: -96 },
    ]);
    const before = undo(undo(history));
    expect(before.project.conduct.behaviours.find(({ id }) => id === line)!.pulls).toEqual([]);
  });

  it('bring numbers into their ranges at both ends', () => {
    const { history, one } = nested();
    for (const [key, { min, max }] of Object.entries(behaviourDials))
      for (const [wanted, kept] of [
        [max + 1_000_000, max],
        [min - 1_000_000, min],
      ]) {
        const after = make(history, 'setBehaviour', { behaviour: one, label: key, change: { [key]: wanted } });
        expect([key, after.project.conduct.behaviours.find(({ id }) => id === one)![key as 'gain']]).toEqual([key, kept]);
        expect(opened(after).conduct).toEqual(after.project.conduct);
      }
  });

  it('move with all that lies within them, but never into themselves, nor into what plays a sound', () => {
    const { history, pick, line, one } = nested();
    expect(() => make(history, 'moveBehaviour', { behaviour: pick, parent: line, index: 0 })).toThrow('cannot lie within itself');
    expect(() => make(history, 'moveBehaviour', { behaviour: line, parent: one, index: 0 })).toThrow('cannot lie within itself');
    const moved = make(history, 'moveBehaviour', { behaviour: line, index: 0 });
    expect(moved.project.conduct.behaviours.map(({ id, parent }) => [id, parent])).toEqual([
      [line, undefined],
      [pick, undefined],
      [one, line],
    ]);
    expect(() => make(moved, 'moveBehaviour', { behaviour: pick, parent: one, index: 0 })).toThrow('plays a sound');
    expect(() =>
      make(history, 'setBehaviour', {
        behaviour: line,
        label: 'Kind',
        change: { play: { kind: 'one', sound: '', from: 'family', avoid: 1, loops: false } },
      }),
    ).toThrow('holds other behaviours');
  });

  it('lie at most twelve deep, however they come there', () => {
    let history = start();
    let parent: string | undefined;
    for (let depth = 0; depth < 12; depth++) {
      history = make(history, 'addBehaviour', { kind: 'stack', name: `Deep ${depth}`, ...(parent && { parent }) });
      parent = latest(history);
    }
    expect(opened(history).conduct.behaviours).toHaveLength(12);
    expect(() => make(history, 'addBehaviour', { kind: 'stack', name: 'Deeper', parent: parent! })).toThrow('at most 12 deep');
    const [root] = history.project.conduct.behaviours;
    history = make(history, 'addBehaviour', { kind: 'stack', name: 'Around' });
    expect(() => make(history, 'moveBehaviour', { behaviour: root!.id, parent: latest(history), index: 0 })).toThrow('at most 12 deep');
  });

  it('are copied with all that lies within them, under ids of their own', () => {
    const { history, pick } = nested();
    const copied = make(history, 'duplicateBehaviour', { behaviour: pick });
    const { behaviours } = opened(copied).conduct;
    expect(behaviours.map(({ name }) => name)).toEqual(['Steps', 'Walk', 'Heel', 'Steps copy', 'Walk', 'Heel']);
    expect(new Set(behaviours.map(({ id }) => id)).size).toBe(6);
    expect(behaviours[4]!.parent).toBe(behaviours[3]!.id);
    expect(behaviours[5]!.parent).toBe(behaviours[4]!.id);
  });

  it('lose what is taken away: parameters, sounds, buses, and themselves from scripts', () => {
    let { history } = nested();
    const { pick, line, one, wind } = nested();
    history = make(history, 'addScript', {
      name: 'Walk',
      seconds: 3,
      moves: [
        { at: 0, move: { do: 'trigger', behaviour: pick } },
        { at: 1, move: { do: 'set', parameter: wind, value: 3 } },
      ],
    });
    const windless = make(history, 'removeGamePart', { part: 'parameters', id: wind });
    expect(windless.project.conduct.behaviours.find(({ id }) => id === line)!.pulls).toEqual([]);
    expect(windless.project.conduct.scripts[0]!.moves).toHaveLength(1);
    expect(opened(windless).conduct).toEqual(windless.project.conduct);
    const silent = make(history, 'removeSound', { sound: history.project.sounds[0]!.id });
    expect(opened(silent).conduct.behaviours.find(({ id }) => id === one)!.play).toMatchObject({ sound: '' });
    const gone = make(history, 'removeBehaviour', { behaviour: pick });
    expect(opened(gone).conduct).toMatchObject({ behaviours: [], scripts: [{ moves: [{ move: { do: 'set' } }] }] });
  });

  it('go through buses that go into each other, never in a circle, with cuts and rooms within their ranges', () => {
    let { history } = nested();
    for (const name of ['Ice', 'Outside']) history = make(history, 'addGamePart', { part: 'buses', name });
    const [ice, outside] = history.project.conduct.buses.map(({ id }) => id);
    history = make(history, 'setGamePart', {
      id: ice!,
      part: 'buses',
      change: { into: outside, lowCut: 1, highCut: 99_000, room: { decay: 99, high: 0, size: 9, share: 2 } },
    });
    expect(history.project.conduct.buses[0]).toMatchObject({
      into: outside,
      lowCut: 20,
      highCut: 20_000,
      room: { decay: 12, high: 0.1, size: 3, share: 1 },
    });
    expect(opened(history).conduct).toEqual(history.project.conduct);
    expect(() => make(history, 'setGamePart', { id: outside!, part: 'buses', change: { into: ice } })).toThrow('does not go into it');
    expect(() => make(history, 'setGamePart', { id: ice!, part: 'buses', change: { into: ice } })).toThrow('does not go into it');
    const alone = make(history, 'removeGamePart', { part: 'buses', id: outside! });
    expect(alone.project.conduct.buses).toHaveLength(1);
    expect(alone.project.conduct.buses[0]!.into).toBeUndefined();
    const dry = make(history, 'setGamePart', { id: ice!, part: 'buses', change: { room: undefined, into: undefined } });
    expect(Object.keys(opened(dry).conduct.buses[0]!).sort()).toEqual(['gain', 'highCut', 'id', 'lowCut', 'muted', 'name']);
    const circle = changed(history, (conduct) => ((conduct['buses'] as unknown as Record<string, unknown>[])[1]!['into'] = ice));
    expect(() => parseProject(circle, effectCatalogue)).toThrow('conduct.buses[0]: it goes into itself');
  });

  it('fall off with distance as it is drawn, in order and within 60 dB', () => {
    const { history, pick } = nested();
    const curve = [
      { at: 2, value: -99 },
      { at: 0.3, value: 9 },
    ];
    const drawn = make(history, 'setBehaviour', {
      behaviour: pick,
      label: 'Distance',
      change: { distance: { ...startingDistance, law: 'drawn', curve } },
    });
    expect(opened(drawn).conduct.behaviours[0]!.distance!.curve).toEqual([
      { at: 0.3, value: 0 },
      { at: 1, value: -60 },
    ]);
  });

  it('get their stages in a Start–Hold–End in order, whose hold loops', () => {
    let history = make(start(), 'addBehaviour', { kind: 'hold', name: 'Drill' });
    const parent = latest(history);
    for (const name of ['Spin up', 'Run', 'Stop'])
      history = make(history, 'addBehaviour', { kind: 'one', name, parent, sound: history.project.sounds[0]!.id });
    expect(history.project.conduct.behaviours.slice(1).map(({ slot, play }) => [slot.stage, play.kind === 'one' && play.loops])).toEqual([
      ['start', false],
      ['hold', true],
      ['end', false],
    ]);
  });
});

describe('a document with behaviours that do not fit', () => {
  const { history, pick, line } = nested();
  const refused = (change: Parameters<typeof changed>[1]): string => {
    try {
      parseProject(changed(history, change), effectCatalogue);
    } catch (error) {
      return String(error);
    }
    return 'opened';
  };
  const list = (conduct: Record<string, never>) => conduct['behaviours'] as unknown as Record<string, unknown>[];

  it.each([
    ['a circle', (c: Record<string, never>) => (list(c)[0]!['parent'] = line), 'behaviours[0]: it lies within itself'],
    ['a parent that is gone', (c: Record<string, never>) => (list(c)[1]!['parent'] = 'behaviour-1'), 'no behaviour “behaviour-1”'],
    ['a parent that plays', (c: Record<string, never>) => (list(c)[1]!['parent'] = list(c)[2]!['id']), 'holds nothing'],
    ['a parameter that is gone', (c: Record<string, never>) => Object.assign(c, { parameters: [] }), 'no game parameter'],
    [
      'a sound that is gone',
      (c: Record<string, never>) => Object.assign(list(c)[2]!['play'] as object, { sound: 'sound-99' }),
      'no sound “sound-99”',
    ],
    ['an id twice', (c: Record<string, never>) => (list(c)[2]!['id'] = pick), 'used twice'],
    ['a number beyond its range', (c: Record<string, never>) => (list(c)[0]!['gain'] = 25), 'conduct.behaviours[0].gain'],
    [
      'a curve out of order',
      (c: Record<string, never>) => (list(c)[1]!['pulls'] as { points: unknown[] }[])[0]!.points.reverse(),
      'order of its places',
    ],
    [
      'a range that is none',
      (c: Record<string, never>) => Object.assign((c['parameters'] as unknown as object[])[0]!, { high: 0 }),
      'range goes from 0 to 0',
    ],
  ])('is refused with its place: %s', (_, change, message) => {
    expect(refused(change)).toContain(message);
  });
});
