import type { MidiEvent } from 'midi-file';
import type { Seconds, Semitones } from '../units';

/** From this moment on, all notes are bent so far. */
export interface MidiBend {
  readonly time: Seconds;
  readonly semitones: Semitones;
}

/** An event and when it comes, in ticks from the beginning. */
export interface TimedEvent {
  readonly at: number;
  readonly event: MidiEvent;
}

/** How far a wheel goes where a file does not say. */
const usualRange: Semitones = 2;
/** As far as a patch can be bent. */
const widestRange: Semitones = 24;
/** A wheel has so many steps below its middle, and one less above. */
const stepsDown = 8_192;
/** Controllers that choose what “data entry” sets (registered parameter 0 is the range of the wheel), and set it in semitones and cents. */
const controllers = { parameterHigh: 101, parameterLow: 100, semitones: 6, cents: 38 } as const;

/**
 * How the wheel of one channel bends: of those that have notes, the first that is bent. Its range is what the file says by registered
 * parameter 0 (MIDI 1.0), or two semitones.
 * @param events of all tracks, in the order of time
 */
export function bendsOf(events: readonly TimedEvent[], seconds: (tick: number) => Seconds): MidiBend[] {
  const playing = new Set(events.flatMap(({ event }) => (event.type === 'noteOn' ? [event.channel] : [])));
  const channel = events.reduce(
    (first, { event }) =>
      event.type === 'pitchBend' && event.value !== 0 && playing.has(event.channel) ? Math.min(first, event.channel) : first,
    Infinity,
  );
  let range: Semitones = usualRange;
  let [high, low] = [127, 127];
  return events.flatMap(({ at, event }) => {
    if (event.type === 'controller' && event.channel === channel) {
      if (event.controllerType === controllers.parameterHigh) high = event.value;
      else if (event.controllerType === controllers.parameterLow) low = event.value;
      else if (high === 0 && low === 0 && event.controllerType === controllers.semitones) range = event.value + (range % 1);
      else if (high === 0 && low === 0 && event.controllerType === controllers.cents) range = Math.floor(range) + event.value / 100;
    }
    if (event.type !== 'pitchBend' || event.channel !== channel) return [];
    const place = event.value / (event.value > 0 ? stepsDown - 1 : stepsDown);
    return [{ time: seconds(at), semitones: Math.max(-widestRange, Math.min(widestRange, place * range)) }];
  });
}

/** The events that bend the first channel so: the range of its wheel, and its places where they change. */
export function bendEvents(bends: readonly MidiBend[], ticks: (time: Seconds) => number): TimedEvent[] {
  const farthest = bends.reduce((most, { semitones }) => Math.max(most, Math.abs(semitones)), 0);
  if (farthest === 0) return [];
  const range = Math.max(usualRange, Math.ceil(farthest));
  const set = (controllerType: number, value: number): TimedEvent => ({
    at: 0,
    event: { deltaTime: 0, type: 'controller', channel: 0, controllerType, value },
  });
  const events = [
    set(controllers.parameterHigh, 0),
    set(controllers.parameterLow, 0),
    set(controllers.semitones, range),
    set(controllers.cents, 0),
  ];
  let before = 0;
  for (const { time, semitones } of bends) {
    const value = Math.round((semitones / range) * (semitones > 0 ? stepsDown - 1 : stepsDown));
    if (value === before) continue;
    events.push({ at: Math.max(0, ticks(time)), event: { deltaTime: 0, type: 'pitchBend', channel: 0, value } });
    before = value;
  }
  return events;
}
