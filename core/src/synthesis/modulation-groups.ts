import type { PatchPart } from '../project/patch/patch-schema';

/** Parts that are computed one after the other; those of a loop move each other's phases in a circle. */
export interface PartGroup {
  /** Their places among the parts. */
  readonly parts: readonly number[];
  readonly loops: boolean;
}

/**
 * Orders parts so that each comes after those that move its phase; where they do so in a circle, they become one group (strongly connected
 * components: Tarjan 1972).
 */
export function modulationGroups(parts: readonly Pick<PatchPart, 'id' | 'from'>[]): PartGroup[] {
  const places = new Map(parts.map(({ id }, i) => [id, i]));
  const sources = parts.map(({ from }) => from.flatMap(({ part }) => places.get(part) ?? []));
  const found: number[] = parts.map(() => -1);
  const lowest: number[] = parts.map(() => 0);
  const waiting: number[] = [];
  const groups: PartGroup[] = [];
  let count = 0;
  const visit = (part: number): void => {
    found[part] = lowest[part] = count++;
    waiting.push(part);
    for (const source of sources[part]!) {
      if (found[source] === -1) visit(source);
      if (waiting.includes(source)) lowest[part] = Math.min(lowest[part]!, lowest[source]!);
    }
    if (lowest[part] !== found[part]) return;
    const group = waiting.splice(waiting.indexOf(part)).sort((a, b) => a - b);
    groups.push({ parts: group, loops: group.length > 1 || sources[part]!.includes(part) });
  };
  for (let part = 0; part < parts.length; part++) if (found[part] === -1) visit(part);
  return groups;
}
