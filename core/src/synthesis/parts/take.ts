import { readBetween } from '../../dsp/fractional-read';
import { choice, reference, share } from '../../project/parameters';
import type { Frames } from '../../units';
import { definePart } from '../define-part';

/** The note at which a recording sounds as it is: the C in the middle. */
const rootFrequency = 440 * 2 ** ((60 - 69) / 12);
const ways = ['once', 'round and round', 'to and fro'] as const;

/** A recording as an instrument plays it: higher notes faster, from one place to another. */
export const take = definePart({
  id: 'take',
  label: 'Take',
  purpose: 'A source that is played by the notes: a hit in a row of pitches, a tone that is held.',
  own: {
    source: { ...reference('Source', 'source', 'nothing yet'), builds: true },
    way: { ...choice('Plays', ways, 'once'), builds: true },
    begin: share({ label: 'From', default: 0 }),
    end: share({ label: 'To', default: 1 }),
  },
  channels: () => 2,
  createSource({ sampleRate, recordings, values: { way } }) {
    const audio = recordings['source'];
    const left = audio?.channels[0];
    const right = audio?.channels[1] ?? left;
    const ratio = audio ? audio.sampleRate / sampleRate : 1;
    let place = 0;
    let speed = 0;
    let speedStep = 0;
    let direction = 1;
    let [from, to] = [0, 0];
    const frames = left?.length ?? 0;
    const speedOf = (frequency: number): number => (frequency / rootFrequency) * ratio;
    return {
      start(_, values, frequency) {
        from = Math.min(values.begin, values.end) * frames;
        to = Math.max(values.begin, values.end) * frames;
        // Turned round, it is played backwards.
        direction = values.begin > values.end ? -1 : 1;
        place = direction > 0 ? from : to;
        speed = speedOf(frequency);
        speedStep = 0;
      },
      aim(values, frequency, count) {
        from = Math.min(values.begin, values.end) * frames;
        to = Math.max(values.begin, values.end) * frames;
        speedStep = count > 0 ? (speedOf(frequency) - speed) / count : 0;
      },
      render(buffers, start: Frames, end: Frames) {
        for (let i = start; i < end; i++) {
          const inside = place >= from && place <= to && left !== undefined;
          buffers.left[i] = inside ? readBetween(left, place) : 0;
          buffers.right[i] = inside ? readBetween(right!, place) : 0;
          place += direction * speed;
          speed += speedStep;
          if (way === 'once' || to - from < 2) continue;
          if (place > to || place < from) {
            if (way === 'to and fro') {
              direction = -direction;
              place = Math.max(from, Math.min(to, place > to ? 2 * to - place : 2 * from - place));
            } else place += (place > to ? -1 : 1) * (to - from);
          }
        }
      },
      get silent() {
        return left === undefined || (way === 'once' && (direction > 0 ? place > to : place < from));
      },
    };
  },
});
