import type { Seconds } from '../../units';
import type { Tempo } from '../schema';

/** Note lengths by name, in quarter notes; a beat of the grid is a quarter. */
export const divisions = {
  '1/1': 4,
  '1/2': 2,
  '1/4': 1,
  '1/4 dotted': 1.5,
  '1/4 triplet': 2 / 3,
  '1/8': 1 / 2,
  '1/8 dotted': 3 / 4,
  '1/8 triplet': 1 / 3,
  '1/16': 1 / 4,
  '1/16 triplet': 1 / 6,
  '1/32': 1 / 8,
  '1/64': 1 / 16,
} as const;

export type Division = keyof typeof divisions;
export const divisionNames: readonly Division[] = Object.keys(divisions).filter((name): name is Division => name in divisions);

/** How long a note of this division lasts. */
export function noteLength(tempo: Pick<Tempo, 'bpm'>, division: Division): Seconds {
  return (60 / tempo.bpm) * divisions[division];
}

/** The lines of the grid within a stretch of the time axis; bar lines are told apart. */
export function gridLines(tempo: Tempo, division: Division, from: Seconds, to: Seconds): { time: Seconds; bar: boolean }[] {
  const step = noteLength(tempo, division);
  const bar = (60 / tempo.bpm) * tempo.beats;
  const lines: { time: Seconds; bar: boolean }[] = [];
  for (let n = Math.ceil((from - tempo.offset) / step - 1e-9); ; n++) {
    const time = tempo.offset + n * step;
    if (time > to + 1e-9) return lines;
    const bars = (time - tempo.offset) / bar;
    lines.push({ time, bar: Math.abs(bars - Math.round(bars)) < 1e-6 });
  }
}

/** The tempo of taps at these times: from the mean of the gaps that lie within a third of their median. Undefined below three taps. */
export function tappedTempo(taps: readonly Seconds[]): number | undefined {
  const gaps = taps.slice(1).map((tap, i) => tap - taps[i]!);
  if (gaps.length < 2) return undefined;
  const median = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length / 2)]!;
  const regular = gaps.filter((gap) => Math.abs(gap - median) <= median / 3);
  const bpm = (60 * regular.length) / regular.reduce((sum, gap) => sum + gap, 0);
  return Number.isFinite(bpm) ? Math.max(20, Math.min(400, bpm)) : undefined;
}
