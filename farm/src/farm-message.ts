import { deserialize, serialize } from 'node:v8';
import type { Sound } from '@tangled-choir/core';
import { hashBytes } from '@tangled-choir/core';
import type { JobInput, JobOutput } from '@tangled-choir/jobs';

/** A file to be made, without recordings and treated clips, which workers fetch and make by themselves. */
export type FarmedInput = Omit<JobInput<'deliver'>, 'audio' | 'treated'>;
export type FarmedOutput = JobOutput<'deliver'>;

/** The sounds that a file is rendered from. */
export const soundsOf = ({ sound, whole }: FarmedInput['item']): Sound[] => (whole ? [sound, whole] : [sound]);

/** A file on its way through Redis. */
export interface FarmMessage {
  /** Structured clone of a FarmedInput, base64. */
  readonly work: string;
  /** SHA-256 of the WAV files that it needs. */
  readonly audio: readonly string[];
}

/** Packs what is to be done; its id is a hash of all that decides the result, so that the same work is done once. */
export function packWork(work: FarmedInput, audio: readonly string[]): { readonly id: string; readonly message: FarmMessage } {
  const bytes = serialize(work);
  return { id: hashBytes(new Uint8Array(bytes)), message: { work: bytes.toString('base64'), audio } };
}

export function unpackWork({ work }: FarmMessage): FarmedInput {
  // Only `packWork` writes these messages; a queue is as trusted as the code that fills it.
  return deserialize(Buffer.from(work, 'base64')) as FarmedInput;
}

/** Results are kept as structured clones, because JSON knows neither samples nor the level of silence. */
export function packResult(output: FarmedOutput): Buffer {
  return serialize(output.audio ? { ...output, audio: plain(output.audio) } : output);
}

export function unpackResult(bytes: Buffer): FarmedOutput {
  return deserialize(bytes) as FarmedOutput;
}

/** Shared memory cannot be sent to another machine. */
function plain<T extends { readonly channels: readonly Float32Array[] }>(audio: T): T {
  return { ...audio, channels: audio.channels.map((channel) => new Float32Array(channel)) };
}
