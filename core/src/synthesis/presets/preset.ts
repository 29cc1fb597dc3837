import type { ParameterValues } from '../../project/parameters';
import type { Patch, PatchCurve, PatchPart, PlayedNote } from '../../project/patch/patch-schema';
import type { Role } from '../../project/schema';
import type { Seconds } from '../../units';

/** Kinds of sound that one makes, in the order in which they are offered. */
export const makings = [
  'sub',
  'drop',
  'shine',
  'chime',
  'beacon',
  'motor',
  'electric',
  'debris',
  'wind',
  'riser',
  'sweep',
  'voice-like',
] as const;
export type Making = (typeof makings)[number];

/** A patch under a name, with notes that show what it is for. */
export interface PatchPreset {
  readonly name: string;
  readonly making: Making;
  readonly role: Role;
  /** One sentence: what it is good for. */
  readonly purpose: string;
  readonly patch: Patch;
  readonly notes: readonly Omit<PlayedNote, 'id'>[];
  /** How long its clip is. */
  readonly length: Seconds;
}

/** Values of a part; its key is its id and its name. Who moves its phase by how many radians stands in `from`. */
export type PartOf = ParameterValues & { readonly kind: string };

interface Sketch {
  readonly parts: Readonly<Record<string, PartOf>>;
  /** `carrier: { modulator: radians }` */
  readonly from?: Readonly<Record<string, Readonly<Record<string, number>>>>;
  readonly curves?: readonly CurveSketch[];
  readonly parameters?: ParameterValues;
}

interface CurveSketch extends Pick<PatchCurve, 'name'> {
  readonly length?: number;
  readonly unit?: PatchCurve['unit'];
  readonly rounds?: boolean;
  /** Place, value and bend of every point. */
  readonly points: readonly (readonly [at: number, value: number, bend?: number])[];
  /** `part.parameter: depth` */
  readonly pulls: Readonly<Record<string, number>>;
}

/** A patch from a short form of it. */
export function sketchPatch({ parts, from = {}, curves = [], parameters = {} }: Sketch): Patch {
  return {
    parameters: { ...parameters },
    parts: Object.entries(parts).map(([id, { kind, ...values }]): PatchPart => ({
      id,
      kind,
      name: `${id.charAt(0).toUpperCase()}${id.slice(1)}`,
      enabled: true,
      parameters: values,
      from: Object.entries(from[id] ?? {}).map(([part, amount]) => ({ part, amount })),
    })),
    curves: curves.map(({ name, length = 1, unit = 'note', rounds = false, points, pulls }, c): PatchCurve => ({
      id: `curve-${c + 1}`,
      name,
      length,
      unit,
      rounds,
      points: points.map(([at, value, bend = 0]) => ({ at, value, bend })),
      pulls: Object.entries(pulls).map(([target, depth], p) => {
        const [part = '', parameter = ''] = target.split('.');
        return { id: `pull-${p + 1}`, part, parameter, depth };
      }),
    })),
  };
}

/** Notes in a row: start, length, pitch and strength of each. */
export function notesOf(
  ...rows: readonly (readonly [start: Seconds, length: Seconds, pitch: number, strength?: number])[]
): PatchPreset['notes'] {
  return rows.map(([start, length, pitch, strength = 0.8]) => ({ start, length, pitch, strength }));
}
