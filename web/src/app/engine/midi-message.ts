/** What a MIDI keyboard says that matters here: MIDI 1.0, channel voice messages on any channel. */
export type MidiMessage =
  | { readonly kind: 'down'; readonly pitch: number; readonly strength: number }
  | { readonly kind: 'up'; readonly pitch: number }
  | { readonly kind: 'pedal'; readonly down: boolean }
  | { readonly kind: 'controller'; readonly number: number; readonly place: number }
  | { readonly kind: 'pressure'; readonly place: number }
  /** From −1, all the way down, to 1. */
  | { readonly kind: 'bend'; readonly place: number };

const sustainPedal = 64;
/** From here on, controller numbers are commands to the whole device. */
const firstMode = 120;

/** The middle of the bend wheel's 14 bits; there is one step less above it than below. */
const bendMiddle = 8_192;
const bendPlace = (steps: number): number => (steps - bendMiddle) / (steps > bendMiddle ? bendMiddle - 1 : bendMiddle);

/** Reads one message; undefined for what is of no use here. */
export function readMidiMessage(data: ArrayLike<number>): MidiMessage | undefined {
  const kind = (data[0] ?? 0) & 0xf0;
  const first = data[1];
  // Pressure has one number.
  if (kind === 0xd0 && first !== undefined && first <= 127) return { kind: 'pressure', place: first / 127 };
  const second = data[2];
  if (first === undefined || second === undefined || first > 127 || second > 127) return undefined;
  if (kind === 0x90 && second > 0) return { kind: 'down', pitch: first, strength: second / 127 };
  if (kind === 0x80 || kind === 0x90) return { kind: 'up', pitch: first };
  if (kind === 0xe0) return { kind: 'bend', place: bendPlace(first + 128 * second) };
  if (kind !== 0xb0 || first >= firstMode) return undefined;
  return first === sustainPedal ? { kind: 'pedal', down: second >= 64 } : { kind: 'controller', number: first, place: second / 127 };
}
