import type { Measurement } from '../analysis/loudness/measure';
import type { TimbrePrint } from '../analysis/timbre';
import { familyDistances, familyFindings } from '../kin/family-map';
import type { Decibels } from '../units';
import type { Finding } from './pre-flight';

/** A file of a family as it came out. */
export interface FamilyFile {
  readonly file: string;
  readonly measured: Pick<Measurement, 'integratedLufs'>;
  readonly print: TimbrePrint;
}

/** Members of a family that lie further apart are heard as nearer and farther, not as others of their kind. */
const widestSpan: Decibels = 6;
/** Distances of all pairs take their time; who delivers more has seen them in Kin. */
const mostCompared = 200;

/** What is wrong with files that are to be one family: loudness far apart, and near-twins. Told of the files that stand out. */
export function checkFamily(files: readonly FamilyFile[]): ReadonlyMap<number, readonly Finding[]> {
  const found = new Map<number, Finding[]>();
  const tell = (index: number, text: string): void => {
    found.set(index, [...(found.get(index) ?? []), { severity: 'advice', text, remedies: [] }]);
  };
  const levels = files.map(({ measured }) => measured.integratedLufs);
  const span = Math.max(...levels) - Math.min(...levels);
  if (files.length > 1 && span > widestSpan && Number.isFinite(span))
    tell(levels.indexOf(Math.min(...levels)), `The quietest of its family, which spans ${span.toFixed(1)} LU.`);
  if (files.length < 2 || files.length > mostCompared) return found;
  for (const { a, b } of familyFindings(familyDistances(files.map(({ print }) => print))).twins)
    tell(b, `Heard as the same as ${files[a]!.file.replace(/^.*\//, '')}.`);
  return found;
}
