import type { MidiEvent } from 'midi-file';
import { parseMidi, writeMidi } from 'midi-file';
import { DataError } from '../project/parse';
import type { NewNote } from '../project/edits';
import { mostNotes } from '../project/patch/patch-schema';
import type { Seconds } from '../units';
import type { MidiBend, TimedEvent } from './midi-bends';
import { bendEvents, bendsOf } from './midi-bends';

/** Notes out of a standard MIDI file, in seconds, and the tempo that it begins with. */
export interface MidiNotes {
  readonly notes: readonly NewNote[];
  readonly bpm: number;
  /** How its wheel bends them; empty where it stays in the middle. */
  readonly bends: readonly MidiBend[];
}

const usualMicroseconds = 500_000;
/** How finely written files count: parts of a beat. */
const ticksPerBeat = 480;

/**
 * Reads a standard MIDI file (MIDI 1.0, SMF formats 0 and 1): the notes of all tracks and channels, by its tempo changes. A note that never ends lasts to the
 * end of its track. Throws DataError that says what is wrong and where.
 */
export function readMidi(bytes: Uint8Array, what: string): MidiNotes {
  checkChunks(bytes, what);
  let file: ReturnType<typeof parseMidi>;
  try {
    file = parseMidi(bytes);
  } catch (error) {
    throw new DataError(`${what} is not a MIDI file that can be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  const { ticksPerBeat: beats, framesPerSecond, ticksPerFrame } = file.header;
  if (!(beats ?? 0) && !(framesPerSecond && ticksPerFrame)) throw new DataError(`${what} does not say how long its ticks are.`);
  const tracks = file.tracks.map(inTicks);
  const tempos = tracks
    .flat()
    .flatMap(({ at, event }) => (event.type === 'setTempo' ? [{ at, microseconds: event.microsecondsPerBeat }] : []))
    .sort((a, b) => a.at - b.at);
  const seconds = (tick: number): Seconds => {
    if (framesPerSecond && ticksPerFrame) return tick / (framesPerSecond * ticksPerFrame);
    let time = 0;
    let from = 0;
    let pace = usualMicroseconds;
    for (const { at, microseconds } of tempos) {
      if (at >= tick) break;
      time += ((at - from) * pace) / 1e6 / beats!;
      from = at;
      pace = microseconds;
    }
    return time + ((tick - from) * pace) / 1e6 / beats!;
  };
  const notes = tracks.flatMap((track) => notesOf(track, seconds)).sort((a, b) => a.start - b.start || a.pitch - b.pitch);
  if (notes.length > mostNotes) throw new DataError(`${what} has ${notes.length} notes; a clip has ${mostNotes} at most.`);
  const bends = bendsOf(
    tracks.flat().sort((a, b) => a.at - b.at),
    seconds,
  );
  return { notes, bends, bpm: Math.max(20, Math.min(400, 60e6 / (tempos.find(({ at }) => at === 0)?.microseconds ?? usualMicroseconds))) };
}

function inTicks(track: readonly MidiEvent[]): TimedEvent[] {
  let at = 0;
  return track.map((event) => ({ at: (at += event.deltaTime), event }));
}

function notesOf(track: readonly TimedEvent[], seconds: (tick: number) => Seconds): NewNote[] {
  const notes: NewNote[] = [];
  const held = new Map<string, { readonly at: number; readonly velocity: number }[]>();
  const end = (key: string, pitch: number, at: number): void => {
    const begun = held.get(key)?.shift();
    if (!begun) return;
    const start = seconds(begun.at);
    notes.push({ start, length: Math.max(0, seconds(at) - start), pitch, strength: begun.velocity / 127 });
  };
  for (const { at, event } of track) {
    if (event.type !== 'noteOn' && event.type !== 'noteOff') continue;
    const key = `${event.channel} ${event.noteNumber}`;
    if (event.type === 'noteOn' && event.velocity > 0) held.set(key, [...(held.get(key) ?? []), { at, velocity: event.velocity }]);
    else end(key, event.noteNumber, at);
  }
  const last = track.at(-1)?.at ?? 0;
  for (const [key, waiting] of held) for (let n = waiting.length; n > 0; n--) end(key, Number(key.split(' ')[1]), last);
  return notes;
}

/** The reader takes what is missing for zeros; a file that ends too early is told here. */
function checkChunks(bytes: Uint8Array, what: string): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const name = (at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 14 || name(0) !== 'MThd')
    throw new DataError(`${what} is no MIDI file: it does not begin with “MThd” and a header of 14 bytes.`);
  const tracks = view.getUint16(10);
  let at = 8 + view.getUint32(4);
  for (let track = 1; track <= tracks; track++) {
    if (at + 8 > bytes.length) throw new DataError(`${what} ends at byte ${bytes.length}, before its track ${track} of ${tracks}.`);
    if (name(at) !== 'MTrk') throw new DataError(`${what} has no track at byte ${at}, where its track ${track} of ${tracks} should begin.`);
    const end = at + 8 + view.getUint32(at + 4);
    if (end > bytes.length)
      throw new DataError(`${what} ends at byte ${bytes.length}, within its track ${track} of ${tracks}, which goes on to byte ${end}.`);
    at = end;
  }
}

/**
 * Writes notes as a MIDI file of one track (format 0) at a tempo, and how a wheel bends them. Pitches are rounded to semitones, beyond 0 to
 * 127 they stay at the end.
 */
export function writeMidiFile(notes: readonly NewNote[], bpm: number, bends: readonly MidiBend[] = []): Uint8Array {
  const ticks = (time: Seconds): number => Math.round((time * bpm * ticksPerBeat) / 60);
  const events = notes.flatMap(({ start, length, pitch, strength }) => {
    const noteNumber = Math.max(0, Math.min(127, Math.round(pitch)));
    const on = ticks(start);
    return [
      { at: on, order: 2, event: { type: 'noteOn', channel: 0, noteNumber, velocity: Math.max(1, Math.round(strength * 127)) } as const },
      { at: Math.max(on + 1, ticks(start + length)), order: 0, event: { type: 'noteOff', channel: 0, noteNumber, velocity: 0 } as const },
    ];
  });
  const wheel = bendEvents(bends, ticks).map(({ at, event }) => ({ at, order: 1, event }));
  // Of what happens at once, notes end before others begin, which are bent already.
  const all = [...events, ...wheel].sort((a, b) => a.at - b.at || a.order - b.order);
  let before = 0;
  const track: MidiEvent[] = [{ deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: Math.round(60e6 / bpm) }];
  for (const { at, event } of all) {
    track.push({ ...event, deltaTime: at - before });
    before = at;
  }
  track.push({ deltaTime: 0, meta: true, type: 'endOfTrack' });
  return Uint8Array.from(writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat }, tracks: [track] }));
}
