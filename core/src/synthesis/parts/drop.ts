import { bentShare } from '../../automation/lane-value';
import { seconds, semitones, share } from '../../project/parameters';
import type { Frames, Hertz, Semitones } from '../../units';
import { semitonesToRatio } from '../../units';
import { definePart } from '../define-part';
import { sineAt } from './wave';

/** Amplitudes of the second and the third harmonic beside the first, where the weight is full. */
const second = 0.5;
const third = 0.33;
const lowest: Hertz = 5;
/** As a part of the sampling rate: the third harmonic of a drop does not fold back. */
const highest = 1 / 6;

/** A low tone that falls onto its note: the weight under a hit. */
export const drop = definePart({
  id: 'drop',
  label: 'Sub drop',
  purpose: 'A low tone that falls onto its note, and may sag on behind it: the weight under a hit.',
  first: { attack: 0.002, decay: 1.2, sustain: 0, release: 0.2 },
  own: {
    fall: semitones({ label: 'Fall', min: 0, max: 60, default: 24 }),
    time: seconds({ label: 'Within', min: 0.005, max: 10, default: 0.25 }),
    bend: share({ label: 'Bend', min: -1, max: 1, default: -0.6 }),
    sag: semitones({ label: 'Sag / s', min: 0, max: 48, default: 0 }),
    weight: share({ label: 'Harmonics', default: 0 }),
  },
  channels: () => 1,
  createSource({ sampleRate }) {
    let age: Frames = 0;
    let place = 0;
    let increment = 0;
    let incrementStep = 0;
    let weight = 0;
    let weightStep = 0;
    const periods = (frequency: Hertz): number => Math.min(highest, Math.max(lowest, frequency) / sampleRate);
    return {
      restless: true,
      start(note, values, frequency) {
        ({ age } = note);
        place = 0;
        ({ weight } = values);
        increment = periods(frequency * semitonesToRatio(dropInterval(values, age / sampleRate)));
      },
      startAgain() {
        age = 0;
      },
      aim(values, frequency, frames) {
        if (frames === 0) return;
        const interval = dropInterval(values, (age + frames) / sampleRate);
        incrementStep = (periods(frequency * semitonesToRatio(interval)) - increment) / frames;
        weightStep = (values.weight - weight) / frames;
      },
      render({ left }, from, to) {
        for (let i = from; i < to; i++) {
          // As loud at its peak, however much is beside its first harmonic.
          const scale = 1 / (1 + weight * (second + third));
          left[i] = scale * (sineAt(place) + weight * (second * sineAt(2 * place) + third * sineAt(3 * place)));
          place += increment;
          if (place >= 1) place -= 1;
          increment += incrementStep;
          weight += weightStep;
        }
        age += to - from;
      },
    };
  },
});

/** How far above its note a drop is, so many seconds after it began. */
export function dropInterval(
  { fall, time, bend, sag }: { readonly fall: Semitones; readonly time: number; readonly bend: number; readonly sag: number },
  since: number,
): Semitones {
  return since < time ? fall * (1 - bentShare(since / time, bend)) : -sag * (since - time);
}
