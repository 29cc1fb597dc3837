import type { Audio } from '../../audio/audio';
import type { CurveParameter } from '../../project/parameters';
import { choice, readCurve, reference, share } from '../../project/parameters';
import type { Unit } from '../../units';
import { definePart } from '../define-part';
import { cyclesOf } from './cut-cycles';
import { lastLevel, levelFor, readTable, tableOfHarmonics, tableOfPeriod } from './wave-table';
import type { WaveTable } from './wave-table';

const makers = ['harmonics', 'a drawing', 'a source'] as const;
const drawnHarmonics = 32;
const drawnPoints = 64;

const row = (length: number, number: (index: number) => number): number[] =>
  Array.from({ length }, (_, i) => Math.round(number(i) * 10) / 10);

const harmonics = (label: string, first: readonly number[]): CurveParameter & { needs: { of: string; values: string[] } } => ({
  kind: 'curve',
  label,
  unit: '%',
  points: drawnHarmonics,
  min: 0,
  max: 100,
  first,
  default: '',
  builds: true,
  needs: { of: 'made', values: ['harmonics'] },
});
const drawing = (label: string, first: readonly number[]): CurveParameter & { needs: { of: string; values: string[] } } => ({
  ...harmonics(label, first),
  points: drawnPoints,
  min: -100,
  needs: { of: 'made', values: ['a drawing'] },
});
const cut = { of: 'made', values: ['a source'] } as const;

const own = {
  made: { ...choice('Made of', makers, 'harmonics'), builds: true },
  position: share({ label: 'Position', default: 0 }),
  firstHarmonics: harmonics(
    'First harmonics',
    row(drawnHarmonics, (i) => (i === 0 ? 100 : 0)),
  ),
  lastHarmonics: harmonics(
    'Last harmonics',
    row(drawnHarmonics, (i) => 100 / (1 + i)),
  ),
  // A triangle, which begins at 0, and a pulse.
  firstDrawing: drawing(
    'First cycle',
    row(drawnPoints, (i) => 100 - 400 * Math.abs(((i / drawnPoints + 0.25) % 1) - 0.5)),
  ),
  lastDrawing: drawing(
    'Last cycle',
    row(drawnPoints, (i) => (i < drawnPoints / 4 ? 100 : -100 / 3)),
  ),
  source: { ...reference('Source', 'source', 'nothing yet'), builds: true, needs: cut },
  begin: { ...share({ label: 'Cut from', default: 0 }), builds: true, fixed: true, needs: cut },
  end: { ...share({ label: 'Cut to', default: 1 }), builds: true, fixed: true, needs: cut },
  phase: share({ label: 'Starts at', default: 0 }),
} as const;

/** Single cycles that turn into each other: built from harmonics, drawn, or cut out of a source; position goes from the first to the last. */
export const table = definePart({
  id: 'table',
  label: 'Table',
  purpose: 'Single cycles that turn into each other: built from harmonics, drawn, or cut out of any source.',
  modulated: true,
  own,
  channels: () => 1,
  createSource({ sampleRate, values, recordings }) {
    const tables = tablesOf(values, recordings['source']);
    let place = 0;
    let increment = 0;
    let incrementStep = 0;
    let position: Unit = 0;
    let positionStep = 0;
    let level = lastLevel;
    /** The level that is left within this step, and how much of it is left. */
    let before = lastLevel;
    let rest = 0;
    let restStep = 0;
    const wave = (at: number, along: number, ofLevel: number): number => {
      const reach = along * (tables.length - 1);
      const first = Math.min(tables.length - 1, reach | 0);
      const value = readTable(tables[first]!.level(ofLevel), at);
      const share = reach - first;
      return share <= 0 ? value : value + (readTable(tables[first + 1]!.level(ofLevel), at) - value) * share;
    };
    return {
      start({ random, copy }, { phase, ...given }, frequency) {
        const begin = copy > 0 ? phase + random.next() : phase;
        place = begin - Math.floor(begin);
        increment = Math.min(0.5, frequency / sampleRate);
        ({ position } = given);
        incrementStep = positionStep = 0;
        level = levelFor(increment);
        rest = 0;
        for (const each of tables) each.level(level);
      },
      aim(given, frequency, frames) {
        if (frames === 0) return;
        const goal = Math.min(0.5, frequency / sampleRate);
        incrementStep = (goal - increment) / frames;
        positionStep = (given.position - position) / frames;
        const next = levelFor(Math.max(goal, increment));
        rest = next === level ? 0 : 1;
        restStep = 1 / frames;
        before = level;
        level = next;
      },
      render({ left, phase }, from, to) {
        for (let i = from; i < to; i++) {
          let at = place;
          if (phase) {
            at += phase[i]!;
            at -= Math.floor(at);
          }
          const along = position < 0 ? 0 : position > 1 ? 1 : position;
          let value = wave(at, along, level);
          if (rest > 0) {
            value += (wave(at, along, before) - value) * rest;
            rest -= restStep;
          }
          left[i] = value;
          place += increment;
          if (place >= 1) place -= 1;
          increment += incrementStep;
          position += positionStep;
        }
      },
    };
  },
});

interface TableValues {
  readonly made: string;
  readonly firstHarmonics: string;
  readonly lastHarmonics: string;
  readonly firstDrawing: string;
  readonly lastDrawing: string;
  readonly begin: Unit;
  readonly end: Unit;
}

/** Tables that were made lately: all voices of a part share them. */
const made = new Map<string, readonly WaveTable[]>();
const cuts = new WeakMap<Audio, Map<string, readonly WaveTable[]>>();
const mostKept = 24;

function kept(store: Map<string, readonly WaveTable[]>, key: string, make: () => readonly WaveTable[]): readonly WaveTable[] {
  const found = store.get(key);
  if (found) return found;
  const tables = make();
  store.set(key, tables);
  const [oldest] = store.keys();
  if (store.size > mostKept && oldest !== undefined) store.delete(oldest);
  return tables;
}

function tablesOf(values: TableValues, audio: Audio | undefined): readonly WaveTable[] {
  switch (values.made) {
    case 'a source': {
      if (!audio) return [tableOfHarmonics([])];
      const ofAudio = cuts.get(audio) ?? new Map<string, readonly WaveTable[]>();
      cuts.set(audio, ofAudio);
      return kept(ofAudio, `${values.begin} ${values.end}`, () => cyclesOf(audio, values.begin, values.end));
    }
    case 'a drawing':
      return kept(made, `drawing ${values.firstDrawing} to ${values.lastDrawing}`, () => [
        tableOfPeriod(pointsOf(own.firstDrawing, values.firstDrawing)),
        tableOfPeriod(pointsOf(own.lastDrawing, values.lastDrawing)),
      ]);
    default:
      return kept(made, `harmonics ${values.firstHarmonics} to ${values.lastHarmonics}`, () => [
        tableOfHarmonics(pointsOf(own.firstHarmonics, values.firstHarmonics)),
        tableOfHarmonics(pointsOf(own.lastHarmonics, values.lastHarmonics)),
      ]);
  }
}

/** What was drawn, in percent; where nothing was, what stands there at first. */
function pointsOf(parameter: CurveParameter, text: string): readonly number[] {
  const drawn = readCurve(parameter, text);
  return drawn?.some((point) => point !== 0) ? drawn : (parameter.first ?? []);
}
