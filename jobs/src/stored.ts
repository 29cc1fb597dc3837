import type { Audio, NewSource, Overview, Recording } from '@tangled-choir/core';
import { measureOverview, openWav, pcmRecording } from '@tangled-choir/core';
import { blobSource } from './blobs';

/** A recording as it is kept, read where it is needed, and what it is called in complaints. */
export interface StoredRecording {
  readonly name: string;
  readonly wav: Blob;
}

/** A source made ready, with the file that keeps it. */
export interface StoredSource {
  readonly source: NewSource;
  readonly wav: Blob;
  readonly overview: Overview;
}

export async function openStored({ wav, name }: StoredRecording): Promise<Recording> {
  const source = blobSource(wav);
  return pcmRecording(source, await openWav(source, name));
}

/** What was made of a recording here, ready to be stored. */
export function stored(made: { readonly audio: Audio; readonly source: NewSource; readonly wav: Uint8Array<ArrayBuffer> }): StoredSource {
  return {
    source: made.source,
    wav: new Blob([made.wav], { type: 'audio/wav' }),
    overview: measureOverview(made.audio),
  };
}
