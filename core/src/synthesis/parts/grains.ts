import type { Random } from '../../dsp/random';
import { createRandom } from '../../dsp/random';
import { readBetween } from '../../dsp/fractional-read';
import { hertz, reference, seconds, semitones, share } from '../../project/parameters';
import type { Frames } from '../../units';
import { definePart } from '../define-part';

/** The note at which grains are as high as their recording: the C in the middle. */
const rootFrequency = 440 * 2 ** ((60 - 69) / 12);
/** So many grains sound at once at most; the next one waits for the first to end. */
const mostGrains = 48;

/** A cloud of short pieces out of a recording (Roads, Microsound, 2001): each a raised cosine in level, at a place, pitch and direction of its own. */
export const grains = definePart({
  id: 'grains',
  label: 'Grains',
  purpose: 'A cloud out of a source: a moment that stands still, a texture, a swarm.',
  first: { attack: 0.05, release: 0.3 },
  own: {
    source: { ...reference('Source', 'source', 'nothing yet'), builds: true },
    place: share({ label: 'Place', default: 0.2 }),
    spray: share({ label: 'Spray', default: 0.05 }),
    size: seconds({ label: 'Size', min: 0.002, max: 2, default: 0.08 }),
    rate: hertz({ label: 'Grains a second', min: 0.2, max: 1_000, default: 40 }),
    uneven: share({ label: 'Uneven', default: 0.3 }),
    pitches: semitones({ label: 'Pitches', min: 0, max: 24, default: 0 }),
    backwards: share({ label: 'Backwards', default: 0 }),
    apart: share({ label: 'Apart', default: 0.6 }),
  },
  channels: () => 2,
  createSource({ sampleRate, recordings }) {
    const audio = recordings['source'];
    const left = audio?.channels[0];
    const right = audio?.channels[1] ?? left;
    const ratio = audio ? audio.sampleRate / sampleRate : 1;
    // Of each grain: where it reads and how fast, its age and length, and how loud it is on both sides.
    const [place, speed, age, length, toLeft, toRight] = Array.from({ length: 6 }, () => new Float64Array(mostGrains));
    let random: Random = createRandom(0);
    let wait = 0;
    let base = 1;
    let now = { place: 0, spray: 0, size: 0, rate: 1, uneven: 0, pitches: 0, backwards: 0, apart: 0 };
    const around = (): number => 2 * random.next() - 1;

    const begin = (): void => {
      const frames = left?.length ?? 0;
      // Drawn in any case, so that one grain more or less moves no other's chance.
      const [sprayed, pitched, turned, side] = [around(), around(), random.next(), around()];
      let grain = 0;
      while (grain < mostGrains && age![grain]! < length![grain]!) grain++;
      if (grain === mostGrains) return;
      const pace = base * ratio * Math.pow(2, (pitched * now.pitches) / 12);
      const reads = now.size * sampleRate * pace;
      const back = turned < now.backwards;
      const middle = (now.place + sprayed * now.spray) * frames;
      const first = Math.max(0, Math.min(frames - reads, middle - reads / 2));
      place![grain] = back ? first + reads : first;
      speed![grain] = back ? -pace : pace;
      age![grain] = 0;
      length![grain] = Math.max(2, now.size * sampleRate);
      const pan = side * now.apart;
      // As many as overlap are as loud together as one alone.
      const gain = 1 / Math.sqrt(Math.max(1, now.size * now.rate * 0.375));
      toLeft![grain] = gain * Math.sqrt(1 - pan);
      toRight![grain] = gain * Math.sqrt(1 + pan);
    };
    return {
      start(note, values, frequency) {
        ({ random } = note);
        length!.fill(0);
        age!.fill(0);
        wait = 0;
        this.aim(values, frequency, 0);
      },
      aim(values, frequency) {
        base = frequency / rootFrequency;
        now = values;
      },
      render(buffers, from: Frames, to: Frames) {
        buffers.left.fill(0, from, to);
        buffers.right.fill(0, from, to);
        if (!left || !right) return;
        for (let at = from; at < to;) {
          if (wait < 1) {
            begin();
            wait += (sampleRate / now.rate) * (1 + now.uneven * around());
          }
          const until = Math.min(to, at + Math.max(1, Math.floor(wait)));
          for (let g = 0; g < mostGrains; g++) {
            const total = length![g]!;
            let old = age![g]!;
            if (old >= total) continue;
            let reads = place![g]!;
            const pace = speed![g]!;
            for (let i = at; i < until && old < total; i++, old++) {
              const level = 0.5 - 0.5 * Math.cos((2 * Math.PI * (old + 0.5)) / total);
              const first = readBetween(left, reads) * level;
              buffers.left[i] = buffers.left[i]! + first * toLeft![g]!;
              buffers.right[i] = buffers.right[i]! + (left === right ? first : readBetween(right, reads) * level) * toRight![g]!;
              reads += pace;
            }
            place![g] = reads;
            age![g] = old;
          }
          wait -= until - at;
          at = until;
        }
      },
      get silent() {
        return left === undefined;
      },
    };
  },
});
