import type { Measurement } from '../analysis/loudness/measure';
import { measureLoudness } from '../analysis/loudness/loudness';
import type { Audio } from '../audio/audio';
import { turn, withGain } from '../audio/audio';
import type { Delivery } from '../project/schema';
import { applyChain } from '../render/chain/apply-chain';
import type { Decibels } from '../units';

type LevelSettings = Pick<Delivery, 'level' | 'loudness' | 'ceiling' | 'gain'>;

/** How near a loudness comes to what was asked for. */
export const loudnessTolerance: Decibels = 0.1;
/** The limiter takes loudness away, which a few rounds give back. */
const rounds = 8;
/** Loudness that a dB of drive brings at least; below that, more of it brings little but damage. */
const flattest = 0.1;
/** Where so much would have to be limited, more gain brings more damage and little loudness. */
const mostLimited: Decibels = 12;
/** What the limiter stays below its ceiling, so that a meter with other filters agrees (EBU Tech 3341 allows it 0.2 dB above what was heard). */
const margin: Decibels = 0.05;

/** The gain in dB that a delivery asks for, before anything is limited; 0 where there is nothing to measure. */
export function wantedGain({ integratedLufs, truePeakDbtp }: Measurement, { level, loudness, ceiling, gain }: LevelSettings): Decibels {
  if (level === 'as it is') return 0;
  if (level === 'gain') return gain;
  const by = level === 'loudness' ? loudness - integratedLufs : ceiling - truePeakDbtp;
  return Number.isFinite(by) ? by : 0;
}

/**
 * Brings audio to the level that a delivery asks for: by gain, and for a loudness (ITU-R BS.1770) with a limiter where peaks would pass the
 * ceiling. What loops is not limited, because a limiter does not know what comes round: it stays below the ceiling and may be quieter. The audio is
 * used up: what is long is not held twice.
 */
export function setLevel(audio: Audio, measured: Measurement, settings: LevelSettings, loops: boolean): Audio {
  const gain = wantedGain(measured, settings);
  const over = measured.truePeakDbtp + gain - settings.ceiling;
  const limits = settings.level === 'loudness' && over > 0;
  if (!limits || loops) {
    turn(audio, limits ? gain - over : gain);
    return audio;
  }
  const most = gain - over + mostLimited;
  let drive = gain;
  let limited = limit(audio, drive, settings.ceiling);
  let reached = measureLoudness(limited).integrated;
  let slope = 1;
  for (let round = 1; round < rounds && Number.isFinite(reached); round++) {
    const missing = settings.loudness - reached;
    const next = Math.min(drive + missing / slope, most);
    if (Math.abs(missing) <= loudnessTolerance / 2 || next === drive) break;
    limited = limit(audio, next, settings.ceiling);
    const now = measureLoudness(limited).integrated;
    // A limiter gives back less loudness for a dB than it is driven by; how much less shows from one round to the next.
    slope = Math.max(flattest, Math.min(1, (now - reached) / (next - drive)));
    [drive, reached] = [next, now];
  }
  return limited;
}

/** What the limiter's own dial can lift by. */
const mostDrive: Decibels = 36;

/** The limiter works below 0 dBTP, wherever the ceiling is, because its own dial does not reach as low. */
function limit(audio: Audio, gain: Decibels, ceiling: Decibels): Audio {
  const drive = Math.max(0, Math.min(mostDrive, gain - ceiling));
  const rest = gain - ceiling - drive;
  const step = { id: 'limit', effect: 'limiter', enabled: true, mix: 1, parameters: { gain: drive, ceiling: -margin } };
  const limited = applyChain(rest === 0 ? audio : withGain(audio, rest), [step], { tail: false });
  turn(limited, ceiling);
  return limited;
}
