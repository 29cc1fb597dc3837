import type { Audio } from '../audio/audio';
import { frameCount, toMono } from '../audio/audio';
import { crossfadeGains } from '../audio/crossfade';
import type { Decibels, Frames, Seconds, Semitones } from '../units';
import { fitLoopEnd } from './fit-loop-end';
import { inSemitones, justHeard, measureLoopTracks } from './loop-tracks';

/** A recording that can be repeated without a seam at its ends: these are neighbours in the original, the join lies inside. */
export interface SeamlessLoop {
  readonly audio: Audio;
  /** The crossfade inside, in frames of `audio`. */
  readonly join: { readonly from: Frames; readonly to: Frames };
}

/**
 * Makes a seamless loop of a part of a recording: the part is cut in its middle, its halves change places, and what were its two ends are
 * crossfaded with the law that suits their measured correlation. The end of the part moves by up to 25 ms to where the waves agree most. The
 * loop is shorter than the part by the crossfade. Throws RangeError when the part has less than eight samples.
 */
export function makeSeamlessLoop(audio: Audio, part: { from: Seconds; to: Seconds; crossfade: Seconds }): SeamlessLoop {
  const { sampleRate } = audio;
  const from = Math.max(0, Math.round(part.from * sampleRate));
  const wanted = Math.min(frameCount(audio), Math.round(part.to * sampleRate));
  if (wanted - from < 8) throw new RangeError('The part that is to loop holds no sound.');
  const overlap = Math.max(1, Math.min(Math.round(part.crossfade * sampleRate), Math.floor((wanted - from) / 4)));
  const { to, agreement } = fitLoopEnd(audio, from, wanted, overlap);
  const cut = from + Math.ceil((to - from) / 2);
  const gains = crossfadeGains(overlap, agreement);
  const joinFrom = to - overlap - cut;
  const channels = audio.channels.map((channel) => {
    const loop = new Float32Array(to - from - overlap);
    loop.set(channel.subarray(cut, to - overlap));
    for (let i = 0; i < overlap; i++) loop[joinFrom + i] = channel[to - overlap + i]! * gains.out[i]! + channel[from + i]! * gains.in[i]!;
    loop.set(channel.subarray(from + overlap, cut), joinFrom + overlap);
    return loop;
  });
  return { audio: { sampleRate, channels }, join: { from: joinFrom, to: joinFrom + overlap } };
}

/** The largest change at the seam, and the largest anywhere else. */
export interface SeamMeasure<T extends number> {
  readonly seam: T;
  readonly body: T;
}

export interface SeamReport {
  /** Largest step from one sample to the next. */
  readonly jump: SeamMeasure<number>;
  /** Largest change of the mean level from 0.2 s to the next 0.2 s. */
  readonly level: SeamMeasure<Decibels>;
  readonly colour: SeamMeasure<Semitones>;
  /** Undefined where nothing has a pitch. */
  readonly pitch: SeamMeasure<Semitones> | undefined;
  /** True when none of them is larger at the seam than it is somewhere else, or than what can be heard. */
  readonly seamless: boolean;
}

const around: Seconds = 0.2;
/** How far behind its end a loop is followed, so that its return lies inside like everything else. */
const beyond: Seconds = 1;
/** Ends fit to a whole sample; between samples the wave of the crossfade may be this much steeper. */
const rounding = 1.05;

/** Measures whether the join of a loop, or the place where it comes round, could be heard: compares both with the rest of the loop. */
export function inspectSeam({ audio, join }: SeamlessLoop): SeamReport {
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const round = toMono(audio).channels[0]!;
  const followed = new Float32Array(frames + Math.min(frames, Math.round(beyond * sampleRate)));
  followed.set(round);
  followed.set(round.subarray(0, followed.length - frames), frames);
  const tracks = measureLoopTracks({ sampleRate, channels: [followed] });
  const { hop, first } = tracks;
  const reach = Math.max(1, Math.round(Math.min(around, frames / sampleRate / 8) / hop));
  const margin = reach * hop + first;
  const isSeam = (time: Seconds): boolean => {
    const inJoin = [0, frames].some(
      (shift) => time > (shift + join.from) / sampleRate - margin && time < (shift + join.to) / sampleRate + margin,
    );
    return inJoin || Math.abs(time - frames / sampleRate) < margin;
  };
  const change = (track: Float64Array): SeamMeasure<number> | undefined => {
    const largest = { seam: 0, body: 0 };
    let any = false;
    for (let n = reach; n + reach <= track.length; n++) {
      const step = Math.abs(meanOf(track, n, n + reach) - meanOf(track, n - reach, n));
      if (Number.isNaN(step)) continue;
      any = true;
      const place = isSeam(first + (n - 0.5) * hop) ? 'seam' : 'body';
      largest[place] = Math.max(largest[place], step);
    }
    return any ? largest : undefined;
  };
  const level = change(tracks.levels) ?? { seam: 0, body: 0 };
  const colour = change(inSemitones(tracks.colours)) ?? { seam: 0, body: 0 };
  const pitch = change(inSemitones(tracks.pitches));
  const jump = jumps(audio, join);
  const fits = ({ seam, body }: SeamMeasure<number>, unheard: number): boolean => seam <= Math.max(body, unheard);
  return {
    jump,
    level,
    colour,
    pitch,
    seamless:
      fits(jump, jump.body * rounding) &&
      fits(level, justHeard.level / 2) &&
      fits(colour, justHeard.colour / 2) &&
      (!pitch || fits(pitch, justHeard.pitch / 2)),
  };
}

function jumps({ channels }: Audio, join: SeamlessLoop['join']): SeamMeasure<number> {
  const largest = { seam: 0, body: 0 };
  for (const channel of channels) {
    for (let i = 0; i < channel.length; i++) {
      const step = Math.abs(channel[i]! - channel[i === 0 ? channel.length - 1 : i - 1]!);
      const place = i === 0 || (i >= join.from && i <= join.to) ? 'seam' : 'body';
      if (step > largest[place]) largest[place] = step;
    }
  }
  return largest;
}

/** Mean of the points that count; NaN when they are fewer than half. */
function meanOf(track: Float64Array, from: number, to: number): number {
  let sum = 0;
  let count = 0;
  for (let n = from; n < to; n++) {
    if (Number.isNaN(track[n]!)) continue;
    sum += track[n]!;
    count++;
  }
  return count * 2 >= to - from ? sum / count : Number.NaN;
}
