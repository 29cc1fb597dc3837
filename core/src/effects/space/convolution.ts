import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import { convertSampleRate } from '../../audio/resample';
import { DelayTap } from '../../dsp/delay-tap';
import { Glide } from '../../dsp/glide';
import type { ResponseShape } from './impulse-response';
import { fadingNoise, longestResponse, loudestGain, shapeResponse } from './impulse-response';
import type { LongResponse } from '../../dsp/convolution/long-convolution';
import { longResponse } from '../../dsp/convolution/long-convolution';
import { LoopableConvolution } from '../../dsp/convolution/loopable-convolution';
import { partitionFrames } from '../../dsp/convolution/partitioned-convolution';
import type { NumberParameter, SwitchParameter } from '../../project/parameters';
import { decibels, factor, noteLength, reference, seconds, share, toggle } from '../../project/parameters';
import type { Frames, Hertz, Ratio, Seconds } from '../../units';
import { decibelsToGain } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const glideFrames = 512;
const preDelayGlide = 24_000;
const longestPreDelay = 1;
/** Length of the noise that stands in while no source is chosen. */
const standIn = 0.8;
/** Seconds that rounds are waited for at least, where they come quickly. */
const mostRounds: Seconds = 60;
const mostStretch = 4;
/** How much it lags where nobody listens meanwhile: 85 ms, for half as much speed again. */
const offlineLag: Frames = 4_096;

/** What the response is made from: it is worked out at length, so it stands still while the sound runs. */
const shaping = <P extends NumberParameter | SwitchParameter>(parameter: P): P & { fixed: true; builds: true } => ({
  ...parameter,
  fixed: true,
  builds: true,
});

/** Channels of a response that leads from each side to each: left to left, left to right, right to left, right to right. */
const trueStereo = 4;

interface Prepared {
  readonly taps: readonly Float64Array[];
  /** By the size of their first partitions. */
  readonly responses: Map<Frames, readonly LongResponse[]>;
  /** Gain at which a loop through the response would just not grow. */
  readonly loop: Ratio;
}

/** The latest response of every recording: chains are built anew for many reasons, and a long response takes a while. */
const prepared = new WeakMap<Audio, { readonly shape: string; readonly response: Prepared }>();

function prepare(recording: Audio, sampleRate: Hertz, { from, to, stretch, tilt, fadeIn, fadeOut, reversed }: ResponseShape): Prepared {
  const wanted: ResponseShape = { from, to, stretch, tilt, fadeIn, fadeOut, reversed };
  const shape = JSON.stringify([sampleRate, wanted]);
  const known = prepared.get(recording);
  if (known?.shape === shape) return known.response;
  const taps = shapeResponse(convertSampleRate(recording, sampleRate), wanted);
  const gains = taps.map(loudestGain);
  // What comes out of a side of a true stereo response is the sum of two of its ways.
  const most = taps.length === trueStereo ? Math.max(gains[0]! + gains[2]!, gains[1]! + gains[3]!) : Math.max(...gains);
  const response = { taps, responses: new Map<Frames, readonly LongResponse[]>(), loop: 1 / Math.max(1e-6, most) };
  prepared.set(recording, { shape, response });
  return response;
}

/** What each side is convolved with, transformed for first partitions of a size. */
function responsesOf({ taps, responses }: Prepared, first: Frames): readonly LongResponse[] {
  const known = responses.get(first);
  if (known) return known;
  const made = taps.map((each) => longResponse(each, first));
  responses.set(first, made);
  return made;
}

/**
 * Convolution with any recording (see `LongConvolution`), converted to the rate of the sound. Each side goes through its own channel of the response,
 * both through the only one of a mono response; a response of four channels leads from each side to each (left to left, left to right, right to left,
 * right to right). The response is brought to an energy of 1, so that its level says nothing about how loud the result is; feedback is held below
 * 1 at every frequency, and comes round after the pre-delay, to the frame, but no sooner than after 256 frames. Wet only, the step's mix blends in the dry sound.
 */
export const convolution = defineEffect({
  id: 'convolution',
  label: 'Convolution',
  family: 'Time and space',
  channels: 'pairs',
  purpose: 'Lets a recording sound through another: a room, a pipe, a crackle, anything can be the response.',
  parameters: {
    response: reference('Response', 'source', 'fading noise'),
    from: shaping(share({ label: 'From', default: 0 })),
    to: shaping(share({ label: 'To', default: 1 })),
    stretch: shaping(factor({ label: 'Stretch', min: 0.25, max: mostStretch, default: 1 })),
    tilt: shaping(decibels({ label: 'Tilt per octave', min: -6, max: 6, default: 0 })),
    fadeIn: shaping(share({ label: 'Fade in', default: 0 })),
    fadeOut: shaping(share({ label: 'Fade out', default: 0.1 })),
    reversed: shaping(toggle('Backwards', false)),
    preDelay: { ...seconds({ label: 'Pre-delay', min: 0, max: longestPreDelay, default: 0 }), scale: 'linear', counted: 'note' },
    note: noteLength('Pre-delay in'),
    feedback: share({ label: 'Feedback', max: 0.95, default: 0 }),
    level: { ...decibels({ label: 'Level', min: -36, max: 24, default: -6 }), output: true },
  },
  presets: [
    { name: 'As it is', values: {} },
    { name: 'Sucked in', values: { reversed: true, fadeIn: 0.4, fadeOut: 0 } },
    { name: 'Only its first moment', values: { to: 0.12, fadeOut: 0.8 } },
    { name: 'Dark and slow', values: { stretch: 2.5, tilt: -3, preDelay: 0.04 } },
  ],
  latency: (_values, _sampleRate, offline) => (offline ? offlineLag : partitionFrames),
  tail: ({ from, to, stretch, preDelay, feedback }, sampleRate, { response: source }) => {
    const length = Math.min(longestResponse, Math.abs(to - from) * (source ? frameCount(source) / source.sampleRate : standIn) * stretch);
    const round = length + Math.max(preDelay, partitionFrames / sampleRate);
    const rounds = feedback > 0 ? 1 + Math.ceil(-3 / Math.log10(feedback)) : 1;
    // Of long responses no more rounds are waited for than anybody would.
    return Math.ceil((Math.min(rounds * round, Math.max(20 * round, mostRounds)) + 0.1) * sampleRate);
  },
  create: ({ sampleRate, channels, recordings, values, offline }) => {
    const response = prepare(recordings?.['response'] ?? fadingNoise(standIn, sampleRate), sampleRate, values);
    const { loop, taps } = response;
    const lag = offline ? offlineLag : partitionFrames;
    const through = (n: number): LoopableConvolution =>
      new LoopableConvolution((first) => responsesOf(response, first)[n]!, taps[n]!.length, lag);
    const crosses = taps.length === trueStereo && channels === 2;
    const paths = Array.from({ length: channels }, (_, c) => ({
      convolution: through(crosses ? 3 * c : c % taps.length),
      /** From the other side to this one. */
      cross: crosses ? through(c === 0 ? 2 : 1) : undefined,
      delay: new DelayTap(longestPreDelay * sampleRate + offlineLag),
      /** What goes round: the output comes late, and waits as much less. */
      round: new DelayTap(longestPreDelay * sampleRate + offlineLag),
    }));
    const crossed = new Float32Array(maxBlock);
    const preDelay = new Glide(preDelayGlide);
    const feedback = new Glide(glideFrames);
    const level = new Glide(glideFrames);
    const lags = new Float64Array(maxBlock);
    const backs = new Float64Array(maxBlock);
    const gains = new Float64Array(maxBlock);
    const back = new Float64Array(maxBlock);
    /** Something may still be on its way round. */
    let goesRound = false;
    return {
      reset: () => {
        goesRound = false;
        for (const path of paths) {
          path.convolution.reset();
          path.cross?.reset();
          path.delay.reset();
          path.round.reset();
        }
        for (const glide of [preDelay, feedback, level]) glide.reset();
      },
      process(block, now) {
        // In whole frames, so that nothing is read between samples once it stands still.
        preDelay.aim(Math.round(now.preDelay * sampleRate));
        feedback.aim(now.feedback * loop);
        level.aim(decibelsToGain(now.level));
        // The output lags by a partition, so that so much of it is known before its input is: also what goes back into the loop.
        for (let from = 0; from < block.frames;) {
          goesRound ||= feedback.moving || feedback.current > 0;
          if (goesRound)
            for (const path of paths) {
              path.convolution.hurry();
              path.cross?.hurry();
            }
          const { at, size } = paths[0]!.convolution;
          const frames = Math.min(block.frames - from, size - at);
          const moves = preDelay.moving;
          const late = preDelay.current;
          const fades = level.moving;
          const gain = level.current;
          preDelay.fill(lags, frames);
          if (goesRound) feedback.fill(backs, frames);
          if (fades) level.fill(gains, frames);
          for (let c = 0; c < channels; c++) {
            const { delay, round, convolution, cross } = paths[c]!;
            const { input, output } = convolution;
            const fromOther = cross?.output;
            const part = block.channels[c]!.subarray(from, from + frames);
            delay.writeBlock(part);
            if (moves) for (let i = 0; i < frames; i++) input[at + i] = delay.read(Math.max(1, lags[i]!) + frames - 1 - i);
            else if (late === 0) input.set(part, at);
            else for (let i = 0; i < frames; i++) input[at + i] = delay.at(late + frames - 1 - i);
            if (!goesRound) continue;
            for (let i = 0; i < frames; i++) back[i] = (fromOther ? output[at + i]! + fromOther[at + i]! : output[at + i]!) * backs[i]!;
            round.writeAll(back, frames);
            const rest = Math.max(0, late - size);
            if (moves) for (let i = 0; i < frames; i++) input[at + i]! += round.read(Math.max(1, lags[i]! - size) + frames - 1 - i);
            else for (let i = 0; i < frames; i++) input[at + i]! += round.at(rest + frames - 1 - i);
          }
          // What crosses over is what the other side took in.
          if (crosses)
            for (let c = 0; c < channels; c++) paths[c]!.cross!.input.set(paths[1 - c]!.convolution.input.subarray(at, at + frames), at);
          for (let c = 0; c < channels; c++) {
            const { convolution, cross } = paths[c]!;
            const samples = block.channels[c]!;
            convolution.hear(samples, from, frames);
            if (cross) {
              cross.hear(crossed, 0, frames);
              for (let i = 0; i < frames; i++) samples[from + i]! += crossed[i]!;
              cross.advance(frames);
            }
            if (fades) for (let i = 0; i < frames; i++) samples[from + i]! *= gains[i]!;
            else for (let i = from; i < from + frames; i++) samples[i]! *= gain;
            convolution.advance(frames);
          }
          from += frames;
        }
      },
    };
  },
});
