import type { Recording } from '../audio/recording';
import { stretchesOf } from '../audio/recording';
import type { Seconds, Unit } from '../units';
import type { Character } from './character';
import { characterOf, describeCharacter, longestInFull, StereoMeter } from './character';
import type { Defect } from './defects';
import { findDefects, isSomewhere, mostOfAKind } from './defects';
import type { Measurement } from './loudness/measure';
import { measure, MeasurementMeter } from './loudness/measure';

/** What was measured of a recording. */
export interface RecordingFacts {
  readonly measured: Measurement;
  readonly character: Character;
}

/** Defects are looked for in stretches of this length … */
const stretch: Seconds = 120;
/** … each with so much of its neighbours, so that what crosses their borders is seen whole. */
const overlap: Seconds = 4;

/**
 * Measures a recording however long it is: of a long one no more than about two minutes are held at a time. Its character is that of its
 * middle, as in `describeCharacter`; levels, stereo and defects are those of the whole.
 * @param progress called with the finished share; false stops the work with `Cancelled`
 */
export async function describeRecording(recording: Recording, progress: (share: Unit) => boolean = () => true): Promise<RecordingFacts> {
  const { sampleRate, frames, channelCount } = recording;
  if (frames <= longestInFull * sampleRate) {
    const audio = await recording.read(0, frames);
    return { measured: measure(audio), character: describeCharacter(audio) };
  }
  const meter = new MeasurementMeter(sampleRate, channelCount);
  const stereo = new StereoMeter();
  const defects: Defect[] = [];
  const size = Math.round(stretch * sampleRate);
  const beside = Math.round(overlap * sampleRate);
  for await (const { from, to, audio, first } of stretchesOf(recording, size, beside, progress)) {
    const inside = audio.channels.map((channel) => channel.subarray(from - first, to - first));
    meter.process(inside);
    stereo.process(inside);
    const here = findDefects(audio).map((defect) => ({
      ...defect,
      from: defect.from + first / sampleRate,
      to: defect.to + first / sampleRate,
    }));
    joinDefects(defects, here, from / sampleRate, to / sampleRate);
  }
  const start = Math.floor((frames - longestInFull * sampleRate) / 2);
  const middle = await recording.read(start, start + Math.round(longestInFull * sampleRate));
  return { measured: meter.finish(), character: characterOf(middle, { start, frames, stereo, defects: sortedDefects(defects) }) };
}

/** Adds the defects of a stretch: those that begin in it, and of those that last what the stretch before has not seen already. */
function joinDefects(all: Defect[], found: readonly Defect[], from: Seconds, to: Seconds): void {
  for (const defect of found) {
    const lasting = defect.kind === 'long silence' || !isSomewhere(defect.kind);
    const before = lasting ? all.findIndex(({ kind, to: end }) => kind === defect.kind && end >= defect.from) : -1;
    const belongsHere = lasting ? defect.to > from && defect.from < to : defect.from >= from && defect.from < to;
    if (before >= 0) all[before] = lastingOn(all[before]!, defect.to);
    else if (belongsHere) all.push(defect);
  }
}

function lastingOn(defect: Defect, to: Seconds): Defect {
  const longer = { ...defect, to: Math.max(defect.to, to) };
  return defect.kind === 'long silence' ? { ...longer, detail: `${(longer.to - longer.from).toFixed(1)} s of silence` } : longer;
}

function sortedDefects(defects: readonly Defect[]): Defect[] {
  const counts = new Map<string, number>();
  return defects
    .filter(({ kind }) => {
      counts.set(kind, (counts.get(kind) ?? 0) + 1);
      return counts.get(kind)! <= mostOfAKind;
    })
    .sort((a, b) => a.from - b.from);
}
