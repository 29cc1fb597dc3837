import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav/wav-write';
import type { NewSource } from '../project/edits';

/** Something that was heard here, as a source with its file; `notes` say how it came about. */
export function recordedSource(
  audio: Audio,
  { name, notes }: { readonly name: string; readonly notes: string },
): { source: NewSource; wav: Uint8Array<ArrayBuffer> } {
  const wav = writeWav(audio, { encoding: '32f' });
  return {
    wav,
    source: {
      kind: 'recording',
      name: name.slice(0, 300),
      audio: hashBytes(wav),
      frames: frameCount(audio),
      channels: audio.channels.length,
      tags: ['recorded here'],
      notes: notes.slice(0, 10_000),
      regions: [],
      cues: [],
      origin: { file: 'recorded here', sampleRate: audio.sampleRate, encoding: '32 bit float' },
    },
  };
}
