import type { Audio } from '../audio/audio';
import type { Block } from '../dsp/block';
import { maxBlock } from '../dsp/block';
import { Glide } from '../dsp/glide';
import { fadeGain } from '../audio/fade';
import { effectCatalogue } from '../catalogue';
import { heardNotes } from '../project/patch/clip-notes';
import { patchSources } from '../project/chain/references';
import type { Patch } from '../project/patch/patch-schema';
import type { Clip, Layer } from '../project/schema';
import { clipEnd } from '../project/time/clip-times';
import type { PatchMoves, PlayerNote, RecordingById } from '../synthesis/patch-player';
import { PatchPlayer, stillPatch } from '../synthesis/patch-player';
import { patchTail } from '../synthesis/patch-tail';
import type { Frames, Hertz } from '../units';
import { decibelsToGain } from '../units';
import type { Moves } from './automation';
import { noMoves } from './automation';
import type { LayerContent } from './layer-content';
import type { RenderContext } from './library';
import { sourceAudio } from './library';

const glideFrames: Frames = 512;

/** What of a made layer cannot change without a new mix: its notes, and what its patch is built from. */
export function notesStructure({ clips, patch }: Layer): string {
  const parts = patch?.parts.map(({ id, kind, enabled, parameters, from }) => {
    const definitions = Object.entries(effectCatalogue.part(kind)?.parameters ?? {});
    const built = definitions.flatMap(([key, parameter]) => (parameter.builds || parameter.kind === 'reference' ? [parameters[key]] : []));
    return [id, kind, enabled, built, from.map(({ part }) => part)];
  });
  const { mode, voices, chance, unison } = patch?.parameters ?? {};
  const shown = clips.map((clip) => ({ ...clip, gain: 0, locked: false, group: undefined, sync: undefined }));
  return JSON.stringify([shown, parts, patch?.curves, mode, voices, chance, unison]);
}

/** What moves a layer's patch, by addresses relative to it. */
export function patchMoves(automation: Moves, layer: string): PatchMoves {
  return { bpm: automation.bpm, below: (owner) => automation.below(`layer/${layer}/${owner}`) };
}

/** Frames that a layer's patch can go on sounding after its last note. */
export function layerPatchTail(layer: string, patch: Patch, sampleRate: Hertz, automation: Moves): Frames {
  return patchTail(patch, sampleRate, patchMoves(automation, layer));
}

/** Adds what a patch gives to the front pair of a block, from frame `at` on; of one channel, the mean of both. */
export function addStereo({ channels }: Block, at: Frames, left: Float32Array, right: Float32Array, frames: Frames): void {
  const [first, second] = channels;
  for (let i = 0; i < frames; i++) {
    if (second) {
      first![at + i] = first![at + i]! + left[i]!;
      second[at + i] = second[at + i]! + right[i]!;
    } else first![at + i] = first![at + i]! + (left[i]! + right[i]!) / 2;
  }
}

/** The clips of a made layer: each has voices of its own, so that it fades and ends by itself. */
export class NoteMix implements LayerContent {
  readonly waits: boolean;
  readonly firstStart: Frames;
  lastEnd: Frames = 0;
  private readonly players: readonly NotePlayer[];
  private readonly sampleRate: Hertz;

  constructor(layer: Layer, patch: Patch, context: RenderContext) {
    const { sampleRate } = context;
    this.sampleRate = sampleRate;
    const recording = (source: string): Audio | undefined => sourceAudio(context, source);
    this.waits = patchSources(patch).some((id) => context.identities.has(id) && !recording(id));
    this.players = layer.clips.map((clip) => new NotePlayer(clip, patch, sampleRate, recording)).sort((a, b) => a.start - b.start);
    this.firstStart = this.players[0]?.start ?? Infinity;
    this.aim(layer, noMoves);
  }

  get lacks(): boolean {
    return this.waits;
  }

  aim({ id, clips, patch }: Layer, automation: Moves): void {
    if (!patch) return;
    const moves = patchMoves(automation, id);
    const tail = layerPatchTail(id, patch, this.sampleRate, automation);
    const gains = new Map(clips.map((clip) => [clip.id, clip.gain]));
    for (const player of this.players) player.aim(patch, moves, gains.get(player.id) ?? 0, tail);
    this.lastEnd = this.players.reduce((end, player) => Math.max(end, player.end), 0);
  }

  hasClipsOf(): boolean {
    return false;
  }

  isSounding(position: Frames, frames: Frames): boolean {
    return this.players.some(({ start, end }) => start < position + frames && end > position);
  }

  mix(position: Frames, block: Block): void {
    for (const player of this.players) player.mix(position, block);
  }
}

/** One clip of notes. Its voices are there only while it sounds. */
class NotePlayer {
  readonly id: string;
  readonly start: Frames;
  /** Where its last note has died away. */
  end: Frames = 0;
  private tail: Frames = 0;
  private readonly clipEnd: Frames;
  private readonly notes: readonly PlayerNote[];
  private player: PatchPlayer | undefined;
  private moves: PatchMoves = stillPatch;
  private readonly gain = new Glide(glideFrames);
  private readonly left = new Float32Array(maxBlock);
  private readonly right = new Float32Array(maxBlock);

  constructor(
    private readonly clip: Clip,
    private patch: Patch,
    private readonly sampleRate: Hertz,
    private readonly recording: RecordingById,
  ) {
    const frame = (time: number): Frames => Math.round(time * sampleRate);
    this.id = clip.id;
    this.start = frame(clip.start);
    this.clipEnd = frame(clipEnd(clip));
    this.notes = heardNotes(clip).map((note) => ({ ...note, start: frame(note.start), end: frame(note.end) }));
  }

  aim(patch: Patch, moves: PatchMoves, gain: number, tail: Frames): void {
    this.tail = tail;
    // Where it fades out, it is over at its end.
    this.end = this.clipEnd + (this.clip.fadeOut.length > 0 ? 0 : tail);
    this.patch = patch;
    this.moves = moves;
    this.gain.aim(decibelsToGain(gain));
    this.player?.apply(patch, moves);
  }

  mix(position: Frames, block: Block): void {
    const from = Math.max(position, this.start);
    const to = Math.min(position + block.frames, this.end);
    if (from >= to) {
      this.player = undefined;
      return;
    }
    if (!this.player) {
      this.player = new PatchPlayer(this.patch, this.notes, this.sampleRate, this.tail, this.recording);
      this.player.apply(this.patch, this.moves);
    }
    const { left, right } = this;
    const frames = to - from;
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
    this.player.process(from, frames, left, right);
    for (let i = 0; i < frames; i++) {
      const gain = this.gain.next() * this.fade(from + i);
      left[i] = left[i]! * gain;
      right[i] = right[i]! * gain;
    }
    addStereo(block, from - position, left, right, frames);
  }

  private fade(at: Frames): number {
    const { fadeIn, fadeOut } = this.clip;
    const inFrames = fadeIn.length * this.sampleRate;
    const outFrames = fadeOut.length * this.sampleRate;
    let gain = 1;
    if (at - this.start < inFrames) gain *= fadeGain(fadeIn.shape, (at - this.start + 0.5) / inFrames);
    // Without a fade, what is let go rings on behind the clip.
    if (outFrames > 0 && this.clipEnd - at <= outFrames) gain *= fadeGain(fadeOut.shape, (this.clipEnd - at - 0.5) / outFrames);
    return gain;
  }
}
