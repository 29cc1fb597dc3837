import type { Audio } from '../audio/audio';
import { changeSpeed, playAlong } from '../audio/resample';
import type { Frames, Hertz, Semitones } from '../units';
import { semitonesToRatio } from '../units';
import { moveFormants } from './formants';
import type { StretchOptions } from './stretch-audio';
import { stretchAudio } from './stretch-audio';
import { TimeMap } from './time-map';

export interface RetuneOptions extends StretchOptions {
  /** By how much the pitch is moved at a frame of the output. */
  readonly pitch: Semitones | ((at: Frames) => Semitones);
  /** By how much formants are moved from where they were, at a frame of the output; where there is none they go with the pitch. */
  readonly formant?: (at: Frames) => Semitones;
  /** The pitch of the sound itself, where it has one; tells formants from partials. */
  readonly fundamental?: Hertz;
}

/** Frames around what is resampled that shape its edges. */
const margin: Frames = 512;
/** Curves are followed in steps of so many frames. */
const curveStep: Frames = 240;

/**
 * Changes the length and the pitch of audio, each by itself: it is stretched by both together and then resampled, so that what it is
 * resampled by makes up for the pitch. Formants are moved in between.
 * @param map which moment of the audio is heard at which frame of the output
 * @param frames how many frames of the output there are, from frame 0 on
 */
export function retune(audio: Audio, map: TimeMap, frames: Frames, options: RetuneOptions): Audio {
  const { pitch } = options;
  const passage = typeof pitch === 'number' ? evenPassage(semitonesToRatio(pitch)) : bentPassage(pitch, frames);
  const from = Math.floor(passage.at(0)) - margin;
  const to = Math.ceil(passage.at(frames)) + margin;
  const stretched = stretchAudio(audio, passage.through(map, frames), { from, to }, { ...options, pitched: passage.least });
  const { formant } = options;
  const shaped = formant
    ? moveFormants(
        stretched.channels,
        (at) => semitonesToRatio(formant(passage.backTo(at + from))) / passage.ratioAt(at + from),
        audio.sampleRate,
        options.fundamental,
      )
    : stretched.channels;
  return { sampleRate: audio.sampleRate, channels: passage.resample({ ...stretched, channels: shaped }, -from, frames).channels };
}

/** How the stretched sound is passed through while it is resampled: twice as fast for an octave up. */
interface Passage {
  /** The place in the stretched sound that is heard at a frame of the output, and back. */
  at(output: Frames): Frames;
  backTo(place: Frames): Frames;
  ratioAt(place: Frames): number;
  /** The slowest that it is passed through. */
  readonly least: number;
  /** A map into the output as one into the stretched sound. */
  through(map: TimeMap, frames: Frames): TimeMap;
  /** Resamples the stretched sound, whose place 0 lies at frame `lead` of the audio. */
  resample(audio: Audio, lead: Frames, frames: Frames): Audio;
}

function evenPassage(ratio: number): Passage {
  return {
    at: (output) => output * ratio,
    backTo: (place) => place / ratio,
    ratioAt: () => ratio,
    least: ratio,
    through: (map) => map.rescaled(ratio),
    resample: (audio, lead, frames) =>
      ratio === 1
        ? { ...audio, channels: audio.channels.map((channel) => channel.slice(lead, lead + frames)) }
        : changeSpeed(audio, ratio, lead, frames * ratio),
  };
}

function bentPassage(pitch: (at: Frames) => Semitones, frames: Frames): Passage {
  const count = Math.ceil(frames / curveStep) + 2;
  const outputs = Float64Array.from({ length: count }, (_, i) => i * curveStep);
  const places = new Float64Array(count);
  let least = Infinity;
  const ratios = outputs.map((output) => semitonesToRatio(pitch(output)));
  for (let i = 0; i < count; i++) {
    least = Math.min(least, ratios[i]!);
    // Simpson's rule: ratios are smooth between the corners of a curve.
    if (i > 0)
      places[i] =
        places[i - 1]! + (curveStep / 6) * (ratios[i - 1]! + 4 * semitonesToRatio(pitch(outputs[i]! - curveStep / 2)) + ratios[i]!);
  }
  const path = new TimeMap(outputs, places);
  return {
    at: (output) => path.outputAt(output),
    backTo: (place) => path.inputAt(place),
    ratioAt: (place) => semitonesToRatio(pitch(path.inputAt(place))),
    least,
    through: (map, length) => map.followed(path, length, curveStep),
    resample: (audio, lead, length) =>
      playAlong(
        audio,
        Float64Array.from({ length }, (_, i) => path.outputAt(i) + lead),
      ),
  };
}
