import { effectCatalogue } from '../catalogue';
import { createRandom } from '../dsp/random';
import type { Parameter, ParameterValue } from '../project/parameters';
import { findPatchFault } from '../project/patch/patch-faults';
import type { Patch } from '../project/patch/patch-schema';
import { mostModulation } from '../project/patch/patch-schema';
import { partWith, patchWith, playerNote, playPatch } from '../testing/synthesis';
import type { PartKind } from './part';
import { partKinds } from './index';

const frames = 12_000;
const pitches = [-24, 60, 144];

function ends(parameter: Parameter): readonly ParameterValue[] {
  switch (parameter.kind) {
    case 'number':
      return [parameter.min, parameter.max];
    case 'choice':
      return parameter.options;
    case 'switch':
      return [true, false];
    default:
      return [];
  }
}

/** The loudest frame of both channels; NaN where one frame is no number. */
function peakOf(patch: Patch, pitch: number): number {
  const channels = playPatch(patch, [playerNote(0, 0.15, pitch)], frames);
  return Math.max(...channels.map((channel) => channel.reduce((most, frame) => Math.max(most, Math.abs(frame)), 0)));
}

describe('parts at the ends of their dials', () => {
  it('sound within their level, one dial at an end', () => {
    const beyond: unknown[] = [];
    for (const kind of partKinds)
      for (const [name, parameter] of Object.entries(kind.parameters))
        for (const value of ends(parameter))
          for (const pitch of pitches) {
            const peak = peakOf(patchWith([partWith('a', kind.id, { [name]: value })]), pitch);
            // Things that go on ringing while they are rubbed get louder, and a level may be 12 dB up.
            if (!(peak < (name === 'level' ? 8 : 4))) beyond.push([kind.id, name, value, pitch, peak]);
          }
    expect(beyond).toEqual([]);
  });

  it('sound within bounds all together, whatever part moves the phase of which', () => {
    const random = createRandom(11);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random.next() * list.length)]!;
    const part = (kind: PartKind, id: string, from: readonly string[]): Patch['parts'][number] => {
      const parameters: Record<string, ParameterValue> = {};
      for (const [name, parameter] of Object.entries(kind.parameters)) {
        const both = ends(parameter);
        if (random.next() < 0.5 && both.length > 0) parameters[name] = pick(both);
      }
      return partWith(
        id,
        kind.id,
        { ...parameters, level: 0 },
        from.map((other) => ({ part: other, amount: mostModulation })),
      );
    };
    for (let round = 0; round < 150; round++) {
      const patch = patchWith([part(pick(partKinds), 'a', ['a']), part(pick(partKinds), 'b', ['a'])]);
      expect(findPatchFault(patch, 'patch', effectCatalogue)).toBeUndefined();
      // Two parts, and a resonance that may ring at 24 dB.
      const peak = peakOf(patch, pick(pitches));
      expect({ patch, fine: peak < 40 }).toEqual({ patch, fine: true });
    }
  });
});
