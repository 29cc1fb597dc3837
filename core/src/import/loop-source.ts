import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav-write';
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

/** Makes a seamless loop of a part of a source; the loop remembers where it was cut from, and its file carries loop points. */
export function loopSource(audio: Audio, source: Source, part: { from: Seconds; to: Seconds; crossfade: Seconds }): LoopSource {
  const loop = makeSeamlessLoop(audio, part);
  const frames = frameCount(loop.audio);
  const wav = writeWav(loop.audio, { encoding: '32f', loop: { from: 0, to: frames } });
  return {
    ...loop,
    report: inspectSeam(loop),
    wav,
    source: {
      name: `${source.name} loop`.slice(0, 300),
      audio: hashBytes(wav),
      frames,
      channels: loop.audio.channels.length,
      ...(source.role && { role: source.role }),
      tags: [...new Set([...source.tags, 'loop'])],
      notes: source.notes,
      regions: [],
      cues: [],
      loop: { from: 0, to: frames / audio.sampleRate },
      origin: { ...source.origin, cutFrom: { name: source.name, audio: source.audio, from: part.from, to: part.to } },
    },
  };
}
