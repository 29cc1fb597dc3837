import * as z from 'zod';
import type { GameMove } from '../conduct/conduct-data';
import type { Performance, TimedMove } from '../conduct/perform';
import { walkShape } from '../project/game/conduct-schema';
import type { Conduct } from '../project/schema';
import { DataError, describeIssues } from '../project/parse';

const word = z.string().min(1).max(300);
const number = z.number();

const move = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('trigger'), behaviour: word, emitter: word.optional() }),
  z.strictObject({ do: z.literal('stop'), behaviour: word, emitter: word.optional() }),
  z.strictObject({ do: z.literal('set'), parameter: word, value: number }),
  z.strictObject({ do: z.literal('mood'), mood: word }),
  z.strictObject({ do: z.literal('listener'), x: number, y: number, facing: number }),
  z.strictObject({ do: z.literal('emitter'), emitter: word, x: number, y: number }),
  z.strictObject({ do: z.literal('walk'), emitter: word.optional(), ...walkShape }),
]);

/** A script of moves as a file: what is named may be named by its name or its id. */
const scriptSchema = z.strictObject({
  seconds: z.number().positive().max(3_600),
  moves: z.array(z.strictObject({ at: z.number().min(0).max(3_600), move })).max(100_000, 'has more than 100000 moves'),
});

/** Reads a script of moves for behaviours. Throws DataError that names the first thing that is not there, and where. */
export function readScript(data: unknown, conduct: Conduct, what = 'The script'): Performance {
  const parsed = scriptSchema.safeParse(data);
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  const moves = parsed.data.moves.map(({ at, move: each }, m): TimedMove => {
    const named = (list: readonly { readonly id: string; readonly name: string }[], kind: string, wanted: string): string => {
      const found = list.find(({ id }) => id === wanted) ?? list.find(({ name }) => name === wanted);
      if (!found) throw new DataError(`${what} does not fit: moves[${m}]: there is no ${kind} “${wanted}”.`);
      return found.id;
    };
    return { at, move: withIds(each, conduct, named) };
  });
  return { seconds: parsed.data.seconds, moves };
}

type Named = (list: readonly { readonly id: string; readonly name: string }[], kind: string, wanted: string) => string;

function withIds(each: z.infer<typeof move>, { behaviours, parameters, moods }: Conduct, named: Named): GameMove {
  // An emitter may be any word; where it is a behaviour's name, that behaviour's own is meant.
  const emitterOf = (wanted: string): string => behaviours.find(({ name }) => name === wanted)?.id ?? wanted;
  switch (each.do) {
    case 'trigger':
    case 'stop':
      return {
        ...each,
        behaviour: named(behaviours, 'behaviour', each.behaviour),
        ...(each.emitter !== undefined && { emitter: emitterOf(each.emitter) }),
      };
    case 'set':
      return { ...each, parameter: named(parameters, 'game parameter', each.parameter) };
    case 'mood':
      return { ...each, mood: named(moods, 'mood', each.mood) };
    case 'walk':
      return { ...each, ...(each.emitter !== undefined && { emitter: emitterOf(each.emitter) }) };
    case 'emitter':
      return { ...each, emitter: emitterOf(each.emitter) };
    case 'listener':
      return each;
  }
}
