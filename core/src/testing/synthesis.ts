import type { Audio } from '../audio/audio';
import type { ParameterValues } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import type { Patch, PatchPart } from '../project/patch/patch-schema';
import type { PartKind } from '../synthesis/part';
import { voiceStep } from '../synthesis/part';
import type { PlayerNote } from '../synthesis/patch-player';
import { PatchPlayer } from '../synthesis/patch-player';
import { createRandom } from '../dsp/random';
import type { Frames, Hertz, Seconds } from '../units';

const sampleRate = 48_000;

/** What the source of a part gives at one frequency: no envelope, no filter. */
export function runSource(
  kind: PartKind,
  stored: ParameterValues,
  frequency: Hertz,
  frames: Frames,
  seed = 1,
  recordings: Readonly<Record<string, Audio>> = {},
  length: Frames = Infinity,
): [Float64Array, Float64Array] {
  const values = resolveValues(kind.parameters, stored);
  const source = kind.createSource({ sampleRate, values, recordings });
  source.start({ strength: 1, length, age: 0, copy: 0, random: createRandom(seed) }, values, frequency);
  const buffers = { left: new Float64Array(voiceStep), right: new Float64Array(voiceStep), phase: undefined };
  const [left, right] = [new Float64Array(frames), new Float64Array(frames)];
  for (let at = 0; at < frames; at += voiceStep) {
    const count = Math.min(voiceStep, frames - at);
    source.aim(values, frequency, voiceStep);
    source.render(buffers, 0, count);
    left.set(buffers.left.subarray(0, count), at);
    right.set(buffers.right.subarray(0, count), at);
  }
  return [left, kind.channels(values) === 2 ? right : left];
}

/** A part as the document keeps it; from full level at once to silence at once, unless `parameters` says otherwise. */
export function partWith(id: string, kind: string, parameters: ParameterValues = {}, from: PatchPart['from'] = []): PatchPart {
  return { id, kind, name: '', enabled: true, parameters: { level: 0, attack: 0.0001, release: 0.0001, ...parameters }, from };
}

export function patchWith(parts: readonly PatchPart[], rest: Partial<Patch> = {}): Patch {
  return { parameters: {}, curves: [], ...rest, parts: [...parts] };
}

/** A note in seconds, as a player takes it. */
export function playerNote(start: Seconds, length: Seconds, pitch: number, strength = 1): PlayerNote {
  const frames = (time: Seconds): Frames => Math.round(time * sampleRate);
  return { id: `${start} ${pitch}`, start: frames(start), end: frames(start + length), pitch, strength };
}

/** What a patch makes of notes, from 0 on, asked for in portions of `portion` frames. */
export function playPatch(
  patch: Patch,
  notes: readonly PlayerNote[],
  frames: Frames,
  portion: Frames = 1_024,
  from: Frames = 0,
): [Float32Array, Float32Array] {
  const player = new PatchPlayer(patch, notes, sampleRate, sampleRate);
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames; at += portion) {
    const count = Math.min(portion, frames - at);
    player.process(from + at, count, left.subarray(at, at + count), right.subarray(at, at + count));
  }
  return [left, right];
}
