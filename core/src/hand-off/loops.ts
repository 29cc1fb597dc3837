import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { changeSpeed, rateSteps, resampledLength } from '../audio/resample';
import { inspectSeam } from '../loop-doctor/seamless-loop';
import { withoutSolos } from '../project/listening';
import type { Clip, Project, Sound, Source } from '../project/schema';
import { isStretched } from '../project/time/clip-pace';
import { clipEnd } from '../project/time/clip-times';
import { pulledClips } from '../render/pulled-clips';
import { audibleLayers } from '../render/sound-graph';
import type { Decibels, Frames, Hertz, Seconds } from '../units';

/**
 * True where a sound is a loop as it stands: all layers that are heard are filled from 0 to the same end with whole rounds of loops that
 * nothing fades. Its end then goes on at its beginning.
 */
export function isLoop(heard: Sound, { sources, sampleRate }: Pick<Project, 'sources' | 'sampleRate'>): boolean {
  const sound = pulledClips(withoutSolos(heard), sampleRate);
  const audible = audibleLayers(sound);
  const layers = sound.layers.filter(({ id, clips }) => audible.has(id) && clips.length > 0);
  const byId = new Map(sources.map((source) => [source.id, source]));
  const frame: Seconds = 1 / sampleRate;
  const ends = layers.map(({ clips }) => {
    let end: Seconds = 0;
    for (const clip of clips.toSorted((a, b) => a.start - b.start)) {
      if (Math.abs(clip.start - end) > frame / 2 || !isWhole(clip, byId.get(clip.source ?? ''), frame)) return undefined;
      end = clipEnd(clip);
    }
    return end;
  });
  const [first] = ends;
  return first !== undefined && first > 0 && ends.every((end) => end !== undefined && Math.abs(end - first) < frame / 2);
}

/**
 * The sound with every clip that plays its source's loop at another speed looping by itself: what lies around its ends is then the loop, and not
 * silence, when it is resampled. The same object where there is none.
 */
export function comingRound(sound: Sound, { sources, sampleRate }: Pick<Project, 'sources' | 'sampleRate'>): Sound {
  const byId = new Map(sources.map((source) => [source.id, source]));
  const turned = (clip: Clip): Clip => {
    const source = byId.get(clip.source ?? '');
    const paced = clip.speed !== 0 && !clip.curves && !clip.loop;
    return paced && source?.loop && isWhole(clip, source, 1 / sampleRate) ? { ...clip, loop: { ...source.loop, crossfade: 0 } } : clip;
  };
  if (!sound.layers.some(({ clips }) => clips.some((clip) => turned(clip) !== clip))) return sound;
  return { ...sound, layers: sound.layers.map((layer) => ({ ...layer, clips: layer.clips.map(turned) })) };
}

/** True where a clip plays whole rounds of a loop: its own, or its source's. */
function isWhole(clip: Clip, source: Source | undefined, frame: Seconds): boolean {
  // What is stretched comes to its end otherwise than it began.
  if (clip.fadeIn.length > 0 || clip.fadeOut.length > 0 || isStretched(clip)) return false;
  const end = clip.offset + clip.length;
  if (clip.loop) {
    const { from, to, crossfade } = clip.loop;
    const rounds = clip.length / (to - from);
    return crossfade === 0 && Math.abs(clip.offset - from) < frame && Math.abs(rounds - Math.round(rounds)) * (to - from) < frame;
  }
  return source?.loop !== undefined && Math.abs(source.loop.from - clip.offset) < frame && Math.abs(source.loop.to - end) < frame;
}

/**
 * Converts a loop to another sampling rate so that its end still goes on at its beginning: what lies around each end is the other end, and a
 * length between two frames is made whole (a loop of one second changes its pitch by less than 0.02 cents).
 */
export function convertLoop(audio: Audio, sampleRate: Hertz): Audio {
  const frames = frameCount(audio);
  if (sampleRate === audio.sampleRate || frames === 0) return audio;
  const wanted = resampledLength(frames, audio.sampleRate / sampleRate);
  const reach = rateSteps(audio.sampleRate, sampleRate).reach;
  const channels = audio.channels.map((channel) => goneRound(channel, reach));
  return { ...changeSpeed({ ...audio, channels }, frames / wanted, reach, frames), sampleRate };
}

/** A loop with what comes before its beginning and behind its end. */
function goneRound(loop: Float32Array, reach: Frames): Float32Array {
  const { length } = loop;
  const longer = new Float32Array(length + 2 * reach);
  for (let i = 0; i < longer.length; i++) longer[i] = loop[(((i - reach) % length) + length) % length]!;
  return longer;
}

/** A step of level that nobody hears beside others of about its size (just noticeable difference of noise: Zwicker & Fastl 2007, 7.1). */
const unheardStep: Decibels = 0.5;

/** What can be heard of the place where a loop comes round, in words; nothing when it cannot be heard. */
export function seamProblem(audio: Audio): string | undefined {
  const { jump, level, colour, pitch, seamless } = inspectSeam({ audio, join: { from: 0, to: 0 } });
  if (seamless) return undefined;
  const parts = [
    jump.seam > jump.body && `it leaps by ${jump.seam.toFixed(3)}, elsewhere by ${jump.body.toFixed(3)} at most`,
    level.seam > level.body + unheardStep &&
      `its level changes by ${level.seam.toFixed(1)} dB, elsewhere by ${level.body.toFixed(1)} dB at most`,
    colour.seam > colour.body && `its colour moves by ${colour.seam.toFixed(1)} st, elsewhere by ${colour.body.toFixed(1)} st at most`,
    pitch && pitch.seam > pitch.body && `its pitch moves by ${pitch.seam.toFixed(1)} st`,
  ].filter(Boolean);
  return parts.length > 0 ? `The loop can be heard to come round: ${parts.join('; ')}.` : undefined;
}
