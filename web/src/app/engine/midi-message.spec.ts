import { readMidiMessage } from './midi-message';

describe('a MIDI message', () => {
  it('is a key that goes down or up, on any channel', () => {
    expect(readMidiMessage([0x90, 60, 127])).toEqual({ kind: 'down', pitch: 60, strength: 1 });
    expect(readMidiMessage([0x9f, 60, 1])).toEqual({ kind: 'down', pitch: 60, strength: 1 / 127 });
    expect(readMidiMessage([0x82, 60, 64])).toEqual({ kind: 'up', pitch: 60 });
    // A key struck with no strength is one that goes up.
    expect(readMidiMessage([0x90, 60, 0])).toEqual({ kind: 'up', pitch: 60 });
  });

  it('is a controller, the pedal apart; commands to the device are none', () => {
    expect(readMidiMessage([0xb0, 1, 127])).toEqual({ kind: 'controller', number: 1, place: 1 });
    expect(readMidiMessage([0xb3, 119, 0])).toEqual({ kind: 'controller', number: 119, place: 0 });
    expect(readMidiMessage([0xb0, 64, 63])).toEqual({ kind: 'pedal', down: false });
    expect(readMidiMessage([0xb0, 64, 64])).toEqual({ kind: 'pedal', down: true });
    expect(readMidiMessage([0xb0, 120, 0])).toBeUndefined();
  });

  it('is pressure, or a bend that reaches its ends and its middle', () => {
    expect(readMidiMessage([0xd5, 127])).toEqual({ kind: 'pressure', place: 1 });
    expect(readMidiMessage([0xd0, 0, 99])).toEqual({ kind: 'pressure', place: 0 });
    expect([0, 8_192, 16_383, 12_288].map((steps) => readMidiMessage([0xe1, steps & 127, steps >> 7]))).toEqual(
      [-1, 0, 1, 4_096 / 8_191].map((place) => ({ kind: 'bend', place })),
    );
  });

  it('is nothing where it is cut short, not valid, or of no use here', () => {
    for (const bytes of [[], [0x90], [0x90, 60], [0x90, 200, 1], [0xf8], [0xe0, 0], [0xd0], [0xd0, 200], [0xc0, 5, 0]])
      expect(readMidiMessage(bytes)).toBeUndefined();
  });
});
