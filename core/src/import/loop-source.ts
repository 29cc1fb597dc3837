import { frameCount } from '../audio/audio';
import type { Recording } from '../audio/recording';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav/wav-write';
import { fitReach } from '../loop-doctor/fit-loop-end';
import type { SeamReport, SeamlessLoop } from '../loop-doctor/seamless-loop';
import { inspectSeam, makeSeamlessLoop } from '../loop-doctor/seamless-loop';
import type { NewSource } from '../project/edits';
import type { Source } from '../project/schema';
import type { Seconds } from '../units';

/** A seamless loop as a source of its own, with its measured seam. */
export interface LoopSource extends SeamlessLoop {
  readonly source: NewSource;
  readonly wav: Uint8Array<ArrayBuffer>;
  readonly report: SeamReport;
}

/**
 * Makes a seamless loop of a part of a source; the loop remembers where it was cut from, and its file carries loop points. Throws RangeError
 * when the part has less than eight samples.
 */
export async function loopSource(
  recording: Recording,
  source: Source,
  part: { from: Seconds; to: Seconds; crossfade: Seconds },
): Promise<LoopSource> {
  const { sampleRate, frames: all } = recording;
  const first = Math.min(all, Math.max(0, Math.round(part.from * sampleRate)));
  const last = Math.min(all, Math.max(first, Math.round((part.to + fitReach) * sampleRate)));
  const from = first / sampleRate;
  const loop = makeSeamlessLoop(await recording.read(first, last), { ...part, from: 0, to: part.to - from });
  const frames = frameCount(loop.audio);
  const wav = writeWav(loop.audio, { encoding: '32f', loop: { from: 0, to: frames } });
  return {
    ...loop,
    report: inspectSeam(loop),
    wav,
    source: {
      kind: 'recording',
      name: `${source.name} loop`.slice(0, 300),
      audio: hashBytes(wav),
      frames,
      channels: loop.audio.channels.length,
      ...(source.role && { role: source.role }),
      tags: [...new Set([...source.tags, 'loop'])],
      notes: source.notes,
      regions: [],
      cues: [],
      loop: { from: 0, to: frames / sampleRate },
      origin: { ...source.origin, cutFrom: { name: source.name, audio: source.audio, from: part.from, to: part.to } },
    },
  };
}
