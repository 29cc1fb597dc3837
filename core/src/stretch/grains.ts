import type { Audio } from '../audio/audio';
import { correlation, crossfadeGains } from '../audio/crossfade';
import { createRandom, seedOf } from '../dsp/random';
import type { Progress } from '../cancelled';
import { report } from '../cancelled';
import type { Frames, Unit } from '../units';
import type { TimeMap } from './time-map';

/** Correlations are told apart in so many steps from -1 to 1. */
const steps = 64;
/** Progress is told after so many grains. */
const reportEvery = 64;

/**
 * Stretches noise: grains from around the moment that is due, each from a place of its own within a grain's length, so that nothing is heard to
 * come back. Each gives way to the next over half its length by a law that follows how alike the two are (Fink, Holters & Zölzer 2016), so
 * that the level stays even. All channels take the same places, so that the image stays.
 * @param options `size` frames of a grain, even; `wear` draws the grains from one place and leaves gaps between them
 */
export function stretchInGrains(
  { sampleRate, channels }: Audio,
  map: TimeMap,
  span: { readonly from: Frames; readonly to: Frames },
  { size, wear, progress }: { readonly size: Frames; readonly wear: Unit; readonly progress?: Progress | undefined },
): Audio {
  const hop = size / 2;
  const length = channels[0]?.length ?? 0;
  const outputs = channels.map(() => new Float32Array(span.to - span.from));
  const laws = new Map<number, ReturnType<typeof crossfadeGains>>();
  const lawFor = (r: number): ReturnType<typeof crossfadeGains> => {
    const step = Math.round(r * steps);
    const known = laws.get(step);
    if (known) return known;
    const made = wornGains(crossfadeGains(hop, step / steps), wear);
    laws.set(step, made);
    return made;
  };
  const first = Math.floor(span.from / hop);
  let leaving = grainStart(map, first - 1, size, wear, length);
  for (let n = first; n * hop < span.to; n++) {
    if (n % reportEvery === 0) report(progress, Math.max(0, n * hop - span.from) / (span.to - span.from));
    const entering = grainStart(map, n, size, wear, length);
    // A grain's first half is heard with the second half of the one before.
    const law = lawFor(correlation(channels, channels, leaving + hop, entering, hop));
    for (let c = 0; c < channels.length; c++) {
      const input = channels[c]!;
      const output = outputs[c]!;
      const at = n * hop - span.from;
      const to = Math.min(hop, output.length - at);
      for (let i = Math.max(0, -at); i < to; i++)
        output[at + i] = (input[leaving + hop + i] ?? 0) * law.out[i]! + (input[entering + i] ?? 0) * law.in[i]!;
    }
    leaving = entering;
  }
  return { sampleRate, channels: outputs };
}

/** Where in the input grain `n` begins, which is heard from frame n · size / 2 of the output on; the same whatever part is asked for. */
function grainStart(map: TimeMap, n: number, size: Frames, wear: Unit, length: Frames): Frames {
  const hop = size / 2;
  const centre = n * hop + hop;
  const pace = (map.inputAt(centre + hop) - map.inputAt(centre - hop)) / size;
  // Where time passes at its own pace the grains follow each other.
  const scatter = (1 - wear) * size * Math.min(1, Math.abs(1 / pace - 1));
  const start = Math.round(map.inputAt(centre) + (createRandom(seedOf('grain', n)).next() - 0.5) * scatter) - hop;
  // Full from the beginning to the end, where there is as much.
  return length < size ? start : Math.max(0, Math.min(length - size, start));
}

/** Grains that are worn are narrower, and heard one by one. */
function wornGains(gains: ReturnType<typeof crossfadeGains>, wear: Unit): ReturnType<typeof crossfadeGains> {
  if (wear === 0) return gains;
  const narrow = (gain: number): number => gain * Math.pow(Math.min(1, gain), 4 * wear);
  return { in: gains.in.map(narrow), out: gains.out.map(narrow) };
}
