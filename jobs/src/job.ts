import type { Audio, AudioStream, MotionTrack, Unit } from '@tangled-choir/core';
import type { EncodedFile, EncodeInput } from '@tangled-choir/encoders';

/** What a job is given beside its input. */
export interface JobContext<News = never> {
  /** Tells how far it is; false when nobody wants the result any more. */
  progress(share: Unit): boolean;
  /** Shows something before the end. */
  show(news: News): void;
  readonly codecs: Codecs;
}

/**
 * Something that can take long, defined once: it runs in a web worker and in a worker thread of Node alike. Input and output are data that
 * can be sent between them: plain objects, maps, typed arrays, blobs. Files and stored recordings come as blobs, and are read where they
 * are needed.
 */
export interface Job<Input, Output, News = never> {
  run(input: Input, context: JobContext<News>): Output | Promise<Output>;
  /** Memory of a result that the worker does not need any more, and that therefore moves instead of being copied. */
  movable?(output: Output): ArrayBuffer[];
}

export type { EncodedFile };

/** Gives a job its type. */
export function defineJob<Input, Output, News = never>(job: Job<Input, Output, News>): Job<Input, Output, News> {
  return job;
}

/** A movie as a file. */
export interface Movie {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly ending: string;
  readonly type: string;
}

/** Decoding and encoding of what is compressed: only browsers decode. What they cannot do they reject with DataError. */
export interface Codecs {
  openCompressed(file: Blob, what: string): Promise<AudioStream>;
  measureMotion(video: Blob, what: string, progress: (share: Unit) => boolean): Promise<MotionTrack>;
  makeMovie(video: Blob, what: string, sound: Audio, offset: number, progress: (share: Unit) => boolean): Promise<Movie>;
  encodeFile(input: EncodeInput): Promise<EncodedFile>;
}
