import fc from 'fast-check';
import { RecordingParts } from './recording-parts';

const part = 2 ** 18;
const parts = (frames: number): RecordingParts =>
  new RecordingParts({ sampleRate: 48_000, channels: [new Float32Array(frames), new Float32Array(frames)] });

describe('what is loaded of a recording', () => {
  it('is asked for in whole parts, each once', () => {
    const loaded = parts(4 * part + 10);
    expect(loaded.missing([{ from: 1, to: 2 }])).toEqual([{ from: 0, to: part }]);
    const seconds = part / 48_000;
    // Two stretches within the third part, one that crosses into the last.
    const need = [
      { from: 2.1 * seconds, to: 2.2 * seconds },
      { from: 3.5 * seconds, to: 9 * seconds },
      { from: 2.4 * seconds, to: 2.5 * seconds },
    ];
    expect(loaded.missing(need)).toEqual([{ from: 2 * part, to: 4 * part + 10 }]);
    loaded.add([{ from: 3 * part, to: 4 * part }]);
    expect(loaded.missing(need)).toEqual([
      { from: 2 * part, to: 3 * part },
      { from: 4 * part, to: 4 * part + 10 },
    ]);
    expect(loaded.has([{ from: 3.2 * seconds, to: 3.9 * seconds }])).toBe(true);
    expect(loaded.bytes).toBe(part * 8);
  });

  it('is all once everything that was missing is added', () => {
    const stretch = fc.record({ from: fc.double({ min: -5, max: 40, noNaN: true }), to: fc.double({ min: -5, max: 40, noNaN: true }) });
    fc.assert(
      fc.property(fc.array(fc.array(stretch, { maxLength: 6 }), { maxLength: 6 }), (needs) => {
        const loaded = parts(5 * part + 77);
        for (const need of needs) {
          loaded.add(loaded.missing(need));
          expect(loaded.has(need)).toBe(true);
        }
        loaded.add(loaded.missing('all'));
        expect(loaded.has('all')).toBe(true);
        expect(loaded.missing('all')).toEqual([]);
        expect(loaded.bytes).toBe(6 * part * 8);
      }),
    );
  });
});
