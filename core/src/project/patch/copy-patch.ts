import type { Patch } from './patch-schema';

/** A patch that shares nothing with the original. */
export function copyPatch({ parameters, parts, curves }: Patch): Patch {
  return {
    parameters: { ...parameters },
    parts: parts.map((part) => ({ ...part, parameters: { ...part.parameters }, from: part.from.map((each) => ({ ...each })) })),
    curves: curves.map((curve) => ({
      ...curve,
      points: curve.points.map((point) => ({ ...point })),
      pulls: curve.pulls.map((pull) => ({ ...pull })),
    })),
  };
}
