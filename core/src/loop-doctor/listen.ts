import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Seconds } from '../units';
import type { SeamlessLoop } from './seamless-loop';

const edge: Seconds = 0.01;

/** The loop round and round for `seconds`, to be listened to; of a loop that is longer, what surrounds its return. */
export function repeatLoop({ audio }: SeamlessLoop, seconds: Seconds): Audio {
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const wanted = Math.round(seconds * sampleRate);
  const first = frames > wanted ? frames - Math.floor(wanted / 2) : 0;
  const channels = audio.channels.map((channel) => Float32Array.from({ length: wanted }, (_, i) => channel[(first + i) % frames]!));
  return { sampleRate, channels };
}

/** What surrounds the join of a loop, `around` on both sides, again and again for at least `seconds`; each round fades in and out. */
export function repeatSeam({ audio, join }: SeamlessLoop, around: Seconds, seconds: Seconds): Audio {
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const margin = Math.min(Math.round(around * sampleRate), Math.floor((frames - (join.to - join.from)) / 2));
  const length = join.to - join.from + 2 * margin;
  const rounds = Math.max(2, Math.ceil((seconds * sampleRate) / length));
  const fade = Math.min(Math.round(edge * sampleRate), length >> 2);
  const channels = audio.channels.map((channel) => {
    const round = Float32Array.from({ length }, (_, i) => {
      const gain = Math.min(1, (i + 0.5) / fade, (length - i - 0.5) / fade);
      return gain * channel[(((join.from - margin + i) % frames) + frames) % frames]!;
    });
    const repeated = new Float32Array(rounds * length);
    for (let n = 0; n < rounds; n++) repeated.set(round, n * length);
    return repeated;
  });
  return { sampleRate, channels };
}
