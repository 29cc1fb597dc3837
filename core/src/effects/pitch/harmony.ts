import type { Block } from '../../dsp/block';
import { createBlock, maxBlock } from '../../dsp/block';
import { Crossover } from '../../dsp/filters/crossover';
import { glides } from '../../dsp/glide';
import { SampleHistory } from '../../dsp/sample-history';
import type { ValuesOf } from '../../project/parameters';
import { choice, count, decibels, seconds, semitones, share, toggle } from '../../project/parameters';
import { PitchFollower } from '../../stretch/pitch-follower';
import { StreamedFormants, streamedFormantsLatency } from '../../stretch/streamed-formants';
import { StreamedPitch, streamedPitchLatency } from '../../stretch/streamed-pitch';
import type { Note, Scale } from '../../tuning';
import { nearestInScale, pitchClasses, scaleKinds, stepsInScale } from '../../tuning';
import type { Decibels, Frames, Hertz, Ratio, Semitones } from '../../units';
import { decibelsToGain, semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';
import { chords, mostVoices } from './harmony-chords';

const glideFrames = 512;
/** Intervals move in steps of so many frames, and pitch is looked at every so many of those. */
const controlFrames: Frames = 32;
const looks = 15;
/** Where the sound is split for bands that are followed by themselves, by their number. */
const splitsFor: readonly (readonly Hertz[])[] = [[], [450], [280, 1_100], [200, 620, 1_900]];
/** Where voices lie, in shares of the width. */
const places = [-1, 1, -0.5, 0.5] as const;
const silent: Decibels = -60;
/** A voice goes on to the next note of the scale where the sound is so much nearer to it. */
const hysteresis: Semitones = 0.3;

const by = (...values: readonly string[]) => ({ of: 'by', values });
const interval = (label: string, preset: Semitones) => ({
  ...semitones({ label, min: -24, max: 24, default: preset }),
  needs: by('intervals'),
});
const parameters = {
  by: choice('Voices by', ['intervals', 'chord', 'scale'], 'intervals'),
  voices: { ...count({ label: 'Voices', min: 1, max: mostVoices, default: 2 }), builds: true, fixed: true },
  first: interval('First', 4),
  second: interval('Second', 7),
  third: interval('Third', 12),
  fourth: interval('Fourth', -12),
  chord: { ...choice('Chord', Object.keys(chords), 'minor'), needs: by('chord') },
  root: { ...choice('Root', pitchClasses, 'C'), needs: by('scale') },
  scale: { ...choice('Scale', scaleKinds, 'minor'), needs: by('scale') },
  steps: { ...count({ label: 'Steps apart', min: -7, max: 7, default: 2 }), needs: by('scale') },
  bands: {
    ...choice('Followed in', ['one', 'two bands', 'three bands', 'four bands'], 'one'),
    builds: true,
    fixed: true,
    needs: by('scale'),
  },
  glide: { ...seconds({ label: 'Glide', min: 0, max: 1, default: 0.05 }), scale: 'linear' },
  keepFormants: { ...toggle('Keep formants', false), builds: true, fixed: true },
  level: decibels({ label: 'Voices’ level', min: silent, max: 12, default: -6 }),
  own: decibels({ label: 'Own level', min: silent, max: 12, default: 0 }),
  width: share({ label: 'Width', default: 0.6 }),
} as const;
type Values = ValuesOf<typeof parameters>;

/** Voices at intervals, in a chord, or at steps of a scale from the pitch that is heard, band by band where several sound together. */
export const harmony = defineEffect({
  id: 'harmony',
  label: 'Harmony',
  family: 'Pitch',
  channels: 'pairs',
  purpose: 'Adds voices beside the sound: at fixed intervals, in a chord, or in a scale along with its pitch.',
  parameters,
  presets: [
    { name: 'Octave below and fifth', values: { voices: 2, first: -12, second: 7 } },
    { name: 'Minor chord', values: { by: 'chord', voices: 3, chord: 'minor' } },
    { name: 'Thirds in D minor', values: { by: 'scale', voices: 2, root: 'D', scale: 'minor', steps: 2 } },
    { name: 'Cold fourths', values: { by: 'chord', voices: 3, chord: 'stacked fourths', level: -9, width: 1 } },
  ],
  latency: latencyOf,
  tail: (values) => latencyOf(values) + 8_192,
  create: ({ sampleRate, channels, values }) => {
    const latency = latencyOf(values);
    const splits = splitsFor[parameters.bands.options.indexOf(values.bands)] ?? [];
    const parts = Array.from({ length: splits.length + 1 }, () => createBlock(channels));
    const crossover = splits.length > 0 ? new Crossover(parts.length, channels, sampleRate) : undefined;
    const bands = parts.map(() => new HarmonyBand(values.voices, channels, sampleRate, values.keepFormants, latency));
    const own = new SampleHistory(channels, latency + maxBlock);
    const now = glides(glideFrames, 'level', 'own', 'width');
    const sides = Array.from({ length: values.voices }, () => new Float64Array(2));
    return {
      reset: () => {
        for (const part of [crossover, own, ...bands, ...Object.values(now)]) part?.reset();
      },
      process(block, current) {
        own.write(block.channels, block.frames);
        if (crossover) crossover.process(splits, block.channels, parts, block.frames);
        else parts[0]!.channels.forEach((samples, c) => samples.set(block.channels[c]!.subarray(0, block.frames)));
        bands.forEach((band, b) => {
          parts[b]!.frames = block.frames;
          band.process(parts[b]!, current);
        });
        now.level.aim(gainOf(current.level));
        now.own.aim(gainOf(current.own));
        now.width.aim(current.width);
        const kept = own.channels;
        const behind = own.end - block.frames - latency - own.first;
        for (let i = 0; i < block.frames; i++) {
          const level = now.level.next();
          const ownGain = now.own.next();
          const width = now.width.next();
          for (let v = 0; v < sides.length; v++) {
            const angle = channels === 1 ? Math.PI / 4 : ((1 + width * places[v]!) * Math.PI) / 4;
            sides[v]![0] = level * Math.SQRT2 * Math.cos(angle);
            sides[v]![1] = level * Math.SQRT2 * Math.sin(angle);
          }
          for (let c = 0; c < channels; c++) {
            let sum = ownGain * kept[c]![behind + i]!;
            for (const { voices } of bands) for (let v = 0; v < voices.length; v++) sum += sides[v]![c % 2]! * voices[v]!.channels[c]![i]!;
            block.channels[c]![i] = sum;
          }
        }
      },
    };
  },
});

function latencyOf({ keepFormants }: { readonly keepFormants: boolean }): Frames {
  return streamedPitchLatency + (keepFormants ? streamedFormantsLatency : 0);
}

/** The lowest level is silence. */
function gainOf(level: Decibels): Ratio {
  return level <= silent ? 0 : decibelsToGain(level);
}

/** The voices of one band. */
class HarmonyBand {
  /** What each of them gives, after `process`. */
  readonly voices: readonly Block[];
  private readonly shifters: readonly StreamedPitch[];
  private readonly formants: readonly StreamedFormants[];
  private readonly follower: PitchFollower;
  private readonly shapes = new Float64Array(maxBlock);
  /** Of each voice: its interval on the way to where it will be, the ratio that it makes, and that for each frame of a block. */
  private readonly intervals: Float64Array;
  private readonly current: Float64Array;
  private readonly ratios: readonly Float64Array[];
  /** The note of the scale that is nearest to what was heard last. */
  private nearest: Note = NaN;
  private frame: Frames = 0;

  constructor(
    voiceCount: number,
    channels: number,
    private readonly sampleRate: Hertz,
    keepFormants: boolean,
    latency: Frames,
  ) {
    const each = Array.from({ length: voiceCount });
    this.voices = each.map(() => createBlock(channels));
    this.shifters = each.map(() => new StreamedPitch(channels));
    this.formants = keepFormants ? each.map(() => new StreamedFormants(channels, sampleRate)) : [];
    this.ratios = each.map(() => new Float64Array(maxBlock));
    this.intervals = new Float64Array(voiceCount);
    this.current = new Float64Array(voiceCount);
    this.follower = new PitchFollower(sampleRate, latency);
  }

  reset(): void {
    for (const part of [...this.shifters, ...this.formants, this.follower]) part.reset();
    this.nearest = NaN;
    this.frame = 0;
  }

  process(input: Block, values: Values): void {
    const { frames } = input;
    const start = this.frame;
    this.follower.write(input);
    for (let i = 0; i < frames; i++) {
      if ((start + i) % controlFrames === 0) this.look(start + i, values);
      for (let v = 0; v < this.voices.length; v++) this.ratios[v]![i] = this.current[v]!;
    }
    this.frame += frames;
    this.voices.forEach((voice, v) => {
      voice.frames = frames;
      for (let c = 0; c < voice.channels.length; c++) voice.channels[c]!.set(input.channels[c]!.subarray(0, frames));
      const ratios = this.ratios[v]!;
      if (this.formants[v]) {
        for (let i = 0; i < frames; i++) this.shapes[i] = 1 / ratios[i]!;
        this.formants[v].process(voice, this.shapes);
      }
      this.shifters[v]!.process(voice, ratios);
    });
  }

  /** Moves every interval on towards where it is to be. */
  private look(frame: Frames, values: Values): void {
    if (values.by === 'scale' && frame % (controlFrames * looks) === 0) this.follow(frame, scaleOf(values));
    const share = frame === 0 || values.glide === 0 ? 1 : -Math.expm1((-3 * controlFrames) / this.sampleRate / values.glide);
    for (let v = 0; v < this.intervals.length; v++) {
      this.intervals[v]! += (this.wanted(v, values) - this.intervals[v]!) * share;
      this.current[v] = semitonesToRatio(this.intervals[v]!);
    }
  }

  private follow(frame: Frames, scale: Scale): void {
    const heard = this.follower.noteAt(frame);
    if (heard === undefined) return;
    const near = nearestInScale(scale, heard);
    if (!(Math.abs(this.nearest - heard) < Math.abs(near - heard) + hysteresis)) this.nearest = near;
  }

  private wanted(voice: number, values: Values): Semitones {
    if (values.by === 'chord') return chords[values.chord]![voice]!;
    if (values.by === 'intervals') return [values.first, values.second, values.third, values.fourth][voice]!;
    // Before anything has a pitch, as if it were on the root.
    const scale = scaleOf(values);
    const note = Number.isNaN(this.nearest) ? scale.root + 60 : nearestInScale(scale, this.nearest);
    return stepsInScale(scale, note, Math.round(values.steps) * (voice + 1)) - note;
  }
}

function scaleOf({ root, scale }: Values): Scale {
  return { root: Math.max(0, pitchClasses.indexOf(root)), kind: scaleKinds.find((kind) => kind === scale) ?? 'minor' };
}
