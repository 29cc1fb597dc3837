import { DelayTap } from '../../dsp/delay-tap';
import { glides } from '../../dsp/glide';
import { ReverbNetwork } from '../../dsp/reverb-network';
import { Turn } from '../../dsp/turn';
import { CutoffGlide, OnePole, StateVariableFilter } from '../../dsp/filters/simple-filters';
import { TwoTapShifter } from '../../dsp/two-tap-shifter';
import { hertz, noteLength, seconds, semitones, share } from '../../project/parameters';
import { decibelsToGain, semitonesToRatio } from '../../units';
import type { Frames } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';
import { pairMeans } from './pair-means';

const glideFrames = 512;
const preDelayGlide = 24_000;
const longestPreDelay = 0.5;
/** Swing of the lines, in seconds and hertz: enough that no single resonance stands out. */
const swing = 0.0004;
const swingRate = 0.4;
const window = 0.07;
/** Frames by which what is raised comes later into the room again; blocks of any length then give the same. */
const loopFrames: Frames = 64;
const lowCut = 90;
/** Louder than this the loop bends, so that it cannot run away. */
const headroom = decibelsToGain(6);

/**
 * A feedback delay network (see `ReverbNetwork`) whose output is moved in pitch and fed back into it, so that the room climbs, or sinks, as it
 * rings. The loop is scaled by what the network does to noise, so that the dial is the level of each generation. Wet only, the step's mix
 * blends in the dry sound.
 */
export const shimmer = defineEffect({
  id: 'shimmer',
  label: 'Shimmer',
  family: 'Time and space',
  channels: 'pairs',
  purpose: 'A room that climbs: what rings on comes back an octave up, over and over.',
  parameters: {
    decay: seconds({ label: 'Decay', min: 0.3, max: 20, default: 3 }),
    size: { ...share({ label: 'Size', min: 0.3, max: 2, default: 1.3 }), scale: 'log' },
    pitch: semitones({ label: 'Pitch', min: -12, max: 24, default: 12 }),
    climb: share({ label: 'Climb', max: 0.95, default: 0.6 }),
    tone: hertz({ label: 'Tone', min: 800, max: 16_000, default: 7_000 }),
    high: { ...share({ label: 'High decay', min: 0.05, max: 1.5, default: 0.7 }), scale: 'log' },
    preDelay: { ...seconds({ label: 'Pre-delay', min: 0, max: longestPreDelay, default: 0.02 }), scale: 'linear', counted: 'note' },
    note: noteLength('Pre-delay in'),
    width: share({ label: 'Width', default: 1 }),
    level: share({ label: 'Level', max: 1.5, default: 0.8 }),
  },
  presets: [
    { name: 'Light through ice', values: {} },
    { name: 'Fifth above', values: { pitch: 7, climb: 0.7, decay: 4 } },
    { name: 'Sinking', values: { pitch: -12, climb: 0.7, tone: 3_000, decay: 5, size: 1.8 } },
    { name: 'Splinters', values: { pitch: 24, climb: 0.4, decay: 1.2, size: 0.6, tone: 14_000 } },
  ],
  latency: () => 0,
  tail: ({ decay, climb, preDelay }, sampleRate) => {
    const generations = climb > 0.001 ? Math.min(12, Math.log(1e-3) / Math.log(climb)) : 0;
    return Math.ceil((preDelay + decay * (1 + generations) + 0.3) * sampleRate);
  },
  create: ({ sampleRate, channels }) => {
    const network = new ReverbNetwork(sampleRate, swing);
    const inLeft = new DelayTap(Math.ceil((longestPreDelay + 0.01) * sampleRate));
    const inRight = new DelayTap(Math.ceil((longestPreDelay + 0.01) * sampleRate));
    const sides = pairMeans(channels);
    const shifter = new TwoTapShifter(Math.ceil(window * sampleRate) + 2, sampleRate);
    const smooth = [new StateVariableFilter(), new StateVariableFilter()];
    const low = new OnePole();
    low.tune(lowCut, sampleRate);
    const turn = new Turn();
    const cutoff = new CutoffGlide();
    const preNow = glides(preDelayGlide, 'preDelay').preDelay;
    const now = glides(glideFrames, 'climb', 'pitch', 'width', 'level');
    const directLeft = new Float32Array(maxBlock);
    const directRight = new Float32Array(maxBlock);
    const left = new Float32Array(maxBlock);
    const right = new Float32Array(maxBlock);
    const middle = new Float64Array(maxBlock);
    /** What comes back, and what will. */
    let raised = new Float32Array(loopFrames);
    let next = new Float32Array(loopFrames);
    let at = 0;
    let raisedBy = 0;
    let ratio = 1;

    /** Takes off what lies above the tone. */
    const smoothen = (frames: Frames): void => {
      if (!cutoff.moving) {
        for (const filter of smooth) filter.lowAll(middle, frames);
        return;
      }
      for (let i = 0; i < frames; i++) {
        const retuned = cutoff.next();
        for (const filter of smooth) {
          if (retuned > 0) filter.tune(retuned, Math.SQRT1_2, sampleRate);
          filter.next(middle[i]!);
          middle[i] = filter.low;
        }
      }
    };
    /** One frame of what the room gives, as it goes back into it. */
    const raise = (sample: number): number => {
      const pitch = now.pitch.next();
      if (pitch !== raisedBy) {
        raisedBy = pitch;
        ratio = semitonesToRatio(pitch);
      }
      const moved = low.high(shifter.next(sample, ratio, window * sampleRate)) * now.climb.next();
      return moved / Math.sqrt(1 + (moved / headroom) ** 2);
    };

    return {
      reset: () => {
        for (const part of [network, inLeft, inRight, shifter, ...smooth, low, turn, cutoff, preNow, ...Object.values(now)]) part.reset();
        raised.fill(0);
        next.fill(0);
        at = 0;
      },
      process(block, { decay, size, pitch, climb, tone, high, preDelay, width, level }) {
        network.aim({ decay: [decay, decay, decay * high], size });
        const noiseGain = network.noiseGain(decay, size);
        preNow.aim(Math.round(preDelay * sampleRate));
        now.pitch.aim(pitch);
        // What is hardly moved meets the room's own resonances again, which stand far above what it does to noise.
        now.climb.aim((climb / noiseGain) * Math.min(1, 0.06 + 1.2 * Math.abs(pitch)));
        now.width.aim(width);
        // About even loudness whatever the decay and the climb.
        now.level.aim((level / noiseGain) * Math.sqrt(1 - climb * climb) * 0.7);
        // Nothing that the shift would carry beyond Nyquist.
        cutoff.aim(Math.min(tone, (0.42 * sampleRate) / semitonesToRatio(Math.max(0, pitch))));
        for (let from = 0; from < block.frames;) {
          const frames = Math.min(block.frames - from, loopFrames - at);
          for (let i = 0; i < frames; i++) {
            inLeft.write(sides.left(block.channels, from + i));
            inRight.write(sides.right(block.channels, from + i));
            const isWhole = !preNow.moving;
            const pre = preNow.next() + 1;
            directLeft[i] = (isWhole ? inLeft.at(pre) : inLeft.read(pre)) + raised[at + i]!;
            directRight[i] = (isWhole ? inRight.at(pre) : inRight.read(pre)) + raised[at + i]!;
            turn.next(swingRate, sampleRate);
            network.swing(i, swing * sampleRate, turn.sine, turn.cosine);
          }
          network.process(directLeft, directRight, left, right, frames);
          for (let i = 0; i < frames; i++) middle[i] = (left[i]! + right[i]!) / 2;
          smoothen(frames);
          for (let i = 0; i < frames; i++) {
            next[at + i] = raise(middle[i]!);
            const loud = now.level.next();
            const mean = ((left[i]! + right[i]!) / 2) * loud;
            const side = ((left[i]! - right[i]!) / 2) * now.width.next() * loud;
            for (let c = 0; c < channels; c++) block.channels[c]![from + i] = channels === 1 ? mean : c % 2 ? mean - side : mean + side;
          }
          from += frames;
          at += frames;
          if (at < loopFrames) continue;
          at = 0;
          [raised, next] = [next, raised];
        }
      },
    };
  },
});
