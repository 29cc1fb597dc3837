import type { Recording } from '../audio/recording';
import type { Decibels, Ratio, Seconds, Semitones } from '../units';
import { fitLoopEnd, fitReach } from './fit-loop-end';
import type { LoopTracks } from './loop-tracks';
import { inSemitones, justHeard, TrackMeans } from './loop-tracks';
import { inspectSeam, makeSeamlessLoop } from './seamless-loop';

/** A part of a recording that would loop well, and what differs between its two ends. */
export interface LoopProposal {
  readonly from: Seconds;
  readonly to: Seconds;
  /** A crossfade that suits it: short where the ends agree wave by wave, long where they are noise. */
  readonly crossfade: Seconds;
  readonly level: Decibels;
  /** Undefined where nothing has a pitch. */
  readonly pitch: Semitones | undefined;
  /** Shift of the mean log frequency, in semitones. */
  readonly colour: Semitones;
  /** How far the waves of both ends agree, from -1 to 1. */
  readonly agreement: Ratio;
  /** All differences as one number, each divided by what is just heard; smaller is better. */
  readonly cost: number;
  /** What a loop of this part measures at its seam changes no more there than elsewhere. */
  readonly seamless: boolean;
}

export interface LoopWishes {
  readonly shortest: Seconds;
  readonly longest: Seconds;
  /** How many proposals at most. */
  readonly count: number;
}

/** Cost of an end with a pitch that meets one without. */
const pitchLost = 6;
const unevenness = 0.2;
const shortness = 0.6;
/** Ends quieter than the loudest part by more than this are not proposed. */
const tooQuiet: Decibels = 30;
const compared: Seconds = 0.05;

/**
 * Ranks the parts of a recording by how well their ends fit each other in level, pitch and colour (means over windows at both ends), by how
 * even they are inside, and by their length. The best are then read, moved by up to 25 ms to where the waves of both ends agree most, joined
 * and measured; those with a seamless join come first. Proposals that are nearly the same are left out.
 * @param recording what `tracks` were measured of
 * @param progress called with the finished share; false stops the work with what was found so far
 */
export async function proposeLoops(
  recording: Recording,
  tracks: LoopTracks,
  wishes: LoopWishes,
  progress: (share: number) => boolean = () => true,
): Promise<LoopProposal[]> {
  const proposals: LoopProposal[] = [];
  const candidates = rankParts(recording.frames / recording.sampleRate, tracks, wishes);
  for (const [n, candidate] of candidates.entries()) {
    if (!progress(n / candidates.length)) break;
    proposals.push(await fitPart(recording, tracks, candidate));
  }
  return proposals.sort((a, b) => Number(b.seamless) - Number(a.seamless) || a.cost - b.cost);
}

/** A part between two points of the tracks. */
interface Candidate {
  readonly from: number;
  readonly to: number;
  readonly ends: Ends;
  readonly cost: number;
}

function rankParts(total: Seconds, tracks: LoopTracks, { shortest, longest, count }: LoopWishes): Candidate[] {
  const { hop, levels } = tracks;
  const points = levels.length;
  const means = {
    level: new TrackMeans(levels),
    pitch: new TrackMeans(inSemitones(tracks.pitches)),
    colour: new TrackMeans(inSemitones(tracks.colours)),
  };
  const least = Math.max(2, Math.round(shortest / hop));
  const most = Math.min(points, Math.round(Math.min(longest, total) / hop));
  const window = Math.max(1, Math.min(Math.round(0.4 / hop), Math.floor(least / 3)));
  const loudest = levels.reduce((max, level) => Math.max(max, level), -Infinity);
  const candidates: Candidate[] = [];
  for (let from = 0; from + least <= points; from++) {
    let best: Candidate | undefined;
    for (let to = from + least; to <= Math.min(points, from + most); to++) {
      const ends = compareEnds(means, from, to, window);
      if (ends.quietest < loudest - tooQuiet) continue;
      const cost =
        ends.level / justHeard.level +
        ends.pitch / justHeard.pitch +
        ends.colour / justHeard.colour +
        unevenness * means.level.deviation(from, to) +
        shortness * Math.log2(most / (to - from));
      if (!best || cost < best.cost) best = { from, to, ends, cost };
    }
    if (best) candidates.push(best);
  }
  candidates.sort((a, b) => a.cost - b.cost);
  const chosen: typeof candidates = [];
  for (const candidate of candidates) {
    if (chosen.length >= count) break;
    const length = candidate.to - candidate.from;
    const known = chosen.some(
      (other) => Math.abs(other.from - candidate.from) + Math.abs(other.to - candidate.to) < 0.2 * Math.max(length, other.to - other.from),
    );
    if (!known) chosen.push(candidate);
  }
  return chosen;
}

async function fitPart(recording: Recording, { hop }: LoopTracks, { from, to, ends, cost }: Candidate): Promise<LoopProposal> {
  const { sampleRate, frames } = recording;
  const first = Math.round(from * hop * sampleRate);
  const last = Math.min(frames, Math.round(to * hop * sampleRate));
  const audio = await recording.read(first, Math.min(frames, last + Math.ceil(fitReach * sampleRate)));
  const length = last - first;
  const rough = fitLoopEnd(audio, 0, length, Math.round(compared * sampleRate));
  const crossfade = suitingCrossfade(rough.agreement, length / sampleRate);
  const fitted = fitLoopEnd(audio, 0, length, Math.round(crossfade * sampleRate));
  const part = { from: 0, to: fitted.to / sampleRate, crossfade };
  return {
    from: first / sampleRate,
    to: (first + fitted.to) / sampleRate,
    crossfade,
    level: ends.level,
    pitch: ends.pitched ? ends.pitch : undefined,
    colour: ends.colour,
    agreement: fitted.agreement,
    cost,
    seamless: inspectSeam(makeSeamlessLoop(audio, part)).seamless,
  };
}

/** A crossfade that suits a loop: 20 ms where both ends are the same wave, up to a quarter of the loop (1 s at most) where they are noise. */
export function suitingCrossfade(agreement: Ratio, length: Seconds): Seconds {
  const share = Math.max(0, Math.min(1, agreement));
  const long = Math.min(1, length / 4);
  return Math.min(long, 0.02 + (long - 0.02) * (1 - share));
}

interface Ends {
  readonly level: Decibels;
  readonly quietest: Decibels;
  readonly pitched: boolean;
  readonly pitch: Semitones;
  readonly colour: Semitones;
}

interface EndsMeans {
  readonly level: TrackMeans;
  readonly pitch: TrackMeans;
  readonly colour: TrackMeans;
}

function compareEnds({ level, pitch, colour }: EndsMeans, from: number, to: number, window: number): Ends {
  const head = level.mean(from, from + window);
  const tail = level.mean(to - window, to);
  const headPitched = pitch.share(from, from + window) >= 0.5;
  const tailPitched = pitch.share(to - window, to) >= 0.5;
  const pitched = headPitched && tailPitched;
  const difference = (means: TrackMeans): number => Math.abs(means.mean(to - window, to) - means.mean(from, from + window));
  return {
    level: Math.abs(tail - head),
    quietest: Math.min(head, tail),
    pitched,
    pitch: pitched ? difference(pitch) : headPitched === tailPitched ? 0 : pitchLost * justHeard.pitch,
    colour: Number.isNaN(difference(colour)) ? 0 : difference(colour),
  };
}
