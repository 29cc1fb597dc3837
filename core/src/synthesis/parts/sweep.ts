import { bentShare } from '../../automation/lane-value';
import type { Random } from '../../dsp/random';
import { createRandom } from '../../dsp/random';
import { WhiteNoise } from '../../dsp/white-noise';
import { choice, decibels, factor, hertz, seconds, semitones, share } from '../../project/parameters';
import type { Frames, Seconds, Unit } from '../../units';
import { decibelsToGain, semitonesToRatio } from '../../units';
import { definePart } from '../define-part';
import { voiceStep } from '../part';
import { VoiceFilter } from '../voice-filter';
import { bandGain } from './coloured-noise';
import type { WaveCourse } from './wave';
import { Wave, waveShapes } from './wave';

const lengths = ['the note', 'the end of it'] as const;
/** A note that is held ends nobody knows when; it sweeps within so long and stays there. */
const heldSeconds: Seconds = 2;
/** Softer than this is silence. */
const silentLevel = -96;
/** How quickly a grain dies away. */
const grainSeconds: Seconds = 0.000_6;
/** Two grains lie this much nearer or further apart than they should, at most. */
const jitter = 0.5;

/** What goes somewhere and is there when its note ends: a tone, a band of air and grains, that rise, gather and swell together. */
export const sweep = definePart({
  id: 'sweep',
  label: 'Sweep',
  purpose: 'Rises or falls along its note and arrives as it ends: a tone, a band of air and gathering grains that swell together.',
  first: { attack: 0.01, decay: 0.01, release: 0.01 },
  own: {
    lasts: choice('Lasts', lengths, 'the note'),
    time: { ...seconds({ label: 'Time', min: 0.02, max: 120, default: 2 }), needs: { of: 'lasts', values: ['the end of it'] } },
    rise: semitones({ label: 'Rise', min: -96, max: 96, default: 24 }),
    bend: share({ label: 'Bend', min: -1, max: 1, default: 0.3 }),
    swell: decibels({ label: 'Swell', min: 0, max: 96, default: 30 }),
    tone: decibels({ label: 'Tone', min: -96, max: 0, default: -12 }),
    shape: { ...choice('Wave', waveShapes, 'saw'), builds: true },
    air: decibels({ label: 'Air', min: -96, max: 0, default: 0 }),
    above: factor({ label: 'Air at', unit: '×', min: 0.25, max: 32, default: 4 }),
    width: share({ label: 'Width', min: 0.01, max: 1, default: 0.4 }),
    grains: decibels({ label: 'Grains', min: -96, max: 0, default: -96 }),
    sparse: hertz({ label: 'Sparse', min: 0.1, max: 2_000, default: 4 }),
    dense: hertz({ label: 'Dense', min: 0.1, max: 2_000, default: 80 }),
  },
  channels: () => 2,
  createSource({ sampleRate, values: { shape } }) {
    const tone = new Float64Array(voiceStep);
    const wave = new Wave(waveShapes.find((each) => each === shape) ?? 'saw', false);
    const course: WaveCourse = { increment: 0, incrementStep: 0, width: 0.5, widthStep: 0, sync: 1, syncStep: 0 };
    const filters = [new VoiceFilter('band-pass', sampleRate), new VoiceFilter('band-pass', sampleRate)];
    const whites = [new WhiteNoise(), new WhiteNoise()];
    /** Levels of tone, air and grains, density of grains, and what these change by with every frame. */
    const now = new Float64Array(4);
    const steps = new Float64Array(4);
    const goal = new Float64Array(4);
    const kept = Math.exp(-1 / (grainSeconds * sampleRate));
    let random: Random = createRandom(0);
    let age: Frames = 0;
    let length: Frames = 0;
    /** Towards the next grain: it falls at 1. */
    let due = 0;
    let next = 1;
    let side = 0;
    let ring = 0;

    /** How much of the way is done at a moment of the note. */
    const along = (at: Frames, lasts: string, time: Seconds): Unit => {
      const held = length === Infinity;
      const whole = held ? heldSeconds * sampleRate : length;
      const frames = lasts === lengths[0] ? whole : Math.min(whole, time * sampleRate);
      return Math.max(0, Math.min(1, (at - (whole - frames)) / Math.max(1, frames)));
    };
    return {
      restless: true,
      start(note, values, frequency) {
        ({ age, length, random } = note);
        for (const white of whites) white.seed(random.next() * 2 ** 32);
        for (const filter of filters) filter.reset();
        wave.start(0);
        due = ring = 0;
        next = 1;
        this.aim(values, frequency, 0);
      },
      startAgain(note) {
        age = 0;
        ({ length } = note);
      },
      aim(values, frequency, frames) {
        const done = bentShare(along(age + frames, values.lasts, values.time), values.bend);
        const pitch = frequency * semitonesToRatio(values.rise * (done - 1));
        const swollen = values.swell * (done - 1);
        const gain = (level: number): number => (level <= silentLevel ? 0 : decibelsToGain(level + swollen));
        // The narrower the band, the more it is raised: its level stays.
        const band = Math.min(0.45 * sampleRate, Math.max(20, pitch * values.above));
        goal[0] = gain(values.tone);
        goal[1] = gain(values.air) * bandGain(band, 1 - values.width, sampleRate);
        goal[2] = gain(values.grains);
        goal[3] = (values.sparse * Math.pow(values.dense / values.sparse, done)) / sampleRate;
        const increment = Math.min(0.5, pitch / sampleRate);
        if (frames === 0) {
          now.set(goal);
          course.increment = increment;
        } else course.incrementStep = (increment - course.increment) / frames;
        for (let v = 0; v < 4; v++) steps[v] = frames === 0 ? 0 : (goal[v]! - now[v]!) / frames;
        for (const filter of filters) filter.aim(band, 1 - values.width, 1, frames);
      },
      render({ left, right }, from, to) {
        const frames = to - from;
        if (now[1] !== 0 || goal[1] !== 0) {
          whites[0]!.fill(left, from, to, Math.sqrt(3));
          whites[1]!.fill(right, from, to, Math.sqrt(3));
          filters[0]!.process(left, from, to);
          filters[1]!.process(right, from, to);
          for (let i = from; i < to; i++) {
            const level = now[1]! + (i - from) * steps[1]!;
            left[i] = left[i]! * level;
            right[i] = right[i]! * level;
          }
        } else {
          left.fill(0, from, to);
          right.fill(0, from, to);
        }
        if (now[2] !== 0 || goal[2] !== 0)
          for (let i = from; i < to; i++) {
            due += now[3]! + (i - from) * steps[3]!;
            if (due >= next) {
              due -= next;
              next = 1 + jitter * (2 * random.next() - 1);
              side = random.next() * 2 - 1;
              ring = 1;
            }
            const grain = ring * (2 * random.next() - 1) * (now[2]! + (i - from) * steps[2]!);
            ring *= kept;
            left[i] = left[i]! + grain * Math.sqrt((1 - side) / 2);
            right[i] = right[i]! + grain * Math.sqrt((1 + side) / 2);
          }
        if (now[0] !== 0 || goal[0] !== 0) {
          wave.fill(tone, from, to, undefined, course);
          for (let i = from; i < to; i++) {
            const sample = tone[i]! * (now[0]! + (i - from) * steps[0]!);
            left[i] = left[i]! + sample;
            right[i] = right[i]! + sample;
          }
        }
        course.increment += frames * course.incrementStep;
        for (let v = 0; v < 4; v++) now[v] = now[v]! + frames * steps[v]!;
        age += frames;
      },
    };
  },
});
