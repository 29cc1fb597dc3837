import { deserialize, serialize } from 'node:v8';
import { hashBytes } from '@tangled-choir/core';
import type { JobInput, JobOutput } from '@tangled-choir/jobs';

/** The jobs that a farm does: one file, or one recording for a game. All others are small, and done where they are wanted. */
export const farmedJobs = ['deliver', 'take'] as const;
export type FarmedName = (typeof farmedJobs)[number];

/** Inputs without recordings and treated clips, which workers fetch and make by themselves. */
type Bare<Input> = Input extends unknown ? Omit<Input, 'audio' | 'treated'> : never;
export type FarmedInput = { [N in FarmedName]: { readonly name: N; readonly input: Bare<JobInput<N>> } }[FarmedName];

/** A job on its way through Redis. */
export interface FarmMessage {
  /** Structured clone of a FarmedInput, base64. */
  readonly work: string;
  /** SHA-256 of the WAV files that it needs. */
  readonly audio: readonly string[];
}

/** Packs a job; its id is a hash of all that decides its result, so that the same work is done once. */
export function packWork(work: FarmedInput, audio: readonly string[]): { readonly id: string; readonly message: FarmMessage } {
  const bytes = serialize(work);
  return { id: hashBytes(new Uint8Array(bytes)), message: { work: bytes.toString('base64'), audio } };
}

export function unpackWork({ work }: FarmMessage): FarmedInput {
  // Only `packWork` writes these messages; a queue is as trusted as the code that fills it.
  return deserialize(Buffer.from(work, 'base64')) as FarmedInput;
}

/** Results are kept as structured clones, because JSON knows neither samples nor the level of silence. */
export function packResult(output: JobOutput<FarmedName>): Buffer {
  return serialize('channels' in output ? plain(output) : output.audio ? { ...output, audio: plain(output.audio) } : output);
}

export function unpackResult(bytes: Buffer): JobOutput<FarmedName> {
  return deserialize(bytes) as JobOutput<FarmedName>;
}

/** Shared memory cannot be sent to another machine. */
function plain<T extends { readonly channels: readonly Float32Array[] }>(audio: T): T {
  return { ...audio, channels: audio.channels.map((channel) => new Float32Array(channel)) };
}
