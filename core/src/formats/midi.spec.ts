import fc from 'fast-check';
import { DataError } from '../project/parse';
import { readMidi, writeMidiFile } from './midi';

/** A file by hand: header, tempo of 100 bpm, two notes that overlap on one pitch, one that never ends. */
const track = [
  ...[0, 0xff, 0x51, 3, 0x09, 0x27, 0xc0],
  ...[0, 0x90, 60, 127],
  ...[48, 0x90, 60, 64],
  ...[48, 0x80, 60, 0],
  // Running status, and a beginning of no strength that is an end.
  ...[0, 0x90, 67, 100, 48, 60, 0],
  ...[0x60, 0xff, 0x2f, 0],
];
const byHand = Uint8Array.from([
  ...[0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 0, 96],
  ...[0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, track.length],
  ...track,
]);

describe('MIDI files', () => {
  it('are read by their tempo: beats of 0.6 s', () => {
    const { notes, bpm } = readMidi(byHand, 'Row.mid');
    expect(bpm).toBeCloseTo(100, 6);
    expect(notes.map((note) => [note.start, note.length, note.pitch].map((each) => Math.round(each * 1e6) / 1e6))).toEqual([
      [0, 0.6, 60],
      [0.3, 0.6, 60],
      [0.6, 0.9, 67],
    ]);
    expect(notes.map(({ strength }) => Math.round(strength * 127))).toEqual([127, 64, 100]);
  });

  it('come back as they were written, to a tick', () => {
    const note = fc.record({
      start: fc.double({ min: 0, max: 60, noNaN: true }),
      length: fc.double({ min: 0.01, max: 5, noNaN: true }),
      strength: fc.double({ min: 0.01, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(note, { minLength: 1, maxLength: 40 }), fc.double({ min: 20, max: 400, noNaN: true }), (drawn, bpm) => {
        // Each on a pitch of its own: of two at once on one pitch, a file does not say which ends.
        const notes = drawn.map((each, i) => ({ ...each, pitch: 30 + i }));
        const read = readMidi(writeMidiFile(notes, bpm), 'Row.mid').notes;
        expect(read).toHaveLength(notes.length);
        const tick = 60 / bpm / 480;
        for (const one of read) {
          const { start, length, strength } = notes[one.pitch - 30]!;
          // The tempo of a file is in whole microseconds a beat.
          expect(Math.abs(one.start - start)).toBeLessThan(tick + 1e-4);
          expect(Math.abs(one.length - length)).toBeLessThan(2 * tick + 1e-4);
          expect(Math.abs(one.strength - strength)).toBeLessThan(0.51 / 127);
        }
      }),
      { numRuns: 50 },
    );
  });

  it('tell where they end too early, wherever they are cut', () => {
    for (let length = 0; length < byHand.length; length++) {
      const read = (): unknown => readMidi(byHand.subarray(0, length), 'Cut.mid');
      expect(read).toThrow(DataError);
      expect(read).toThrow(/Cut\.mid/);
    }
  });

  it('say what they are when they are something else', () => {
    expect(() => readMidi(new TextEncoder().encode('RIFF....WAVEfmt and so on'), 'Hit.wav')).toThrow('Hit.wav is no MIDI file');
    const noTicks = Uint8Array.from(byHand);
    noTicks[13] = 0;
    expect(() => readMidi(noTicks, 'Odd.mid')).toThrow('Odd.mid does not say how long its ticks are');
  });

  it('bend by the wheel of the channel that plays, as far as the file says, in semitones and cents', () => {
    const bend = (value: number): number[] => [0xe0, value & 127, value >> 7];
    const bent = [
      // Another channel, without notes, is no matter.
      ...[0, 0xe5, 0, 0],
      ...[0, ...bend(8_192 + 4_096)],
      ...[0, 0xb0, 101, 0, 0, 0xb0, 100, 0, 0, 0xb0, 6, 12, 0, 0xb0, 38, 50],
      ...[0, 0x90, 60, 127],
      ...[96, ...bend(16_383)],
      ...[96, ...bend(0)],
      // What another parameter is set to, neither.
      ...[0, 0xb0, 101, 0, 0, 0xb0, 100, 1, 0, 0xb0, 6, 3],
      ...[96, ...bend(8_192)],
      ...[0, 0x80, 60, 0],
      ...[0, 0xff, 0x2f, 0],
    ];
    const file = Uint8Array.from([...byHand.subarray(0, 18), 0, 0, 0, bent.length, ...bent]);
    // Without a tempo, beats of half a second.
    expect(readMidi(file, 'Bent.mid').bends).toEqual([
      { time: 0, semitones: expect.closeTo((2 * 4_096) / 8_191, 9) as number },
      { time: 0.5, semitones: 12.5 },
      { time: 1, semitones: -12.5 },
      { time: 1.5, semitones: 0 },
    ]);
    expect(readMidi(byHand, 'Row.mid').bends).toEqual([]);
  });

  it('come back bent as they were, to a ten-thousandth of the farthest, notes beginning bent', () => {
    const notes = [{ start: 0.5, length: 1, pitch: 60, strength: 1 }];
    for (const farthest of [0.3, 2, 7.5, 24]) {
      const bends = Array.from({ length: 101 }, (_, i) => ({ time: 0.5 + i / 100, semitones: farthest * Math.sin(i / 16) }));
      const written = writeMidiFile(notes, 120, bends);
      const read = readMidi(written, 'Bent.mid').bends;
      for (const { time, semitones } of bends) {
        const there = read.filter((each) => each.time <= time + 0.002).at(-1)?.semitones ?? 0;
        expect(Math.abs(there - semitones)).toBeLessThan(Math.max(2, Math.ceil(farthest)) / 8_000);
      }
    }
    const bentFirst = writeMidiFile(notes, 120, [{ time: 0.5, semitones: 1 }]);
    expect(bentFirst.indexOf(0xe0)).toBeLessThan(bentFirst.indexOf(0x90));
    expect(writeMidiFile(notes, 120, [{ time: 0, semitones: 0 }])).toEqual(writeMidiFile(notes, 120));
  });

  it('may bend a hundred thousand times', () => {
    const notes = [{ start: 0, length: 1_000, pitch: 60, strength: 1 }];
    const bends = Array.from({ length: 150_000 }, (_, i) => ({ time: i / 150, semitones: i % 2 ? 1 : -1 }));
    expect(readMidi(writeMidiFile(notes, 120, bends), 'Trill.mid').bends).toHaveLength(150_000);
  });
});
