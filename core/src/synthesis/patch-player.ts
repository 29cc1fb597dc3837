import type { Audio } from '../audio/audio';
import { createRandom, seedOf } from '../dsp/random';
import { readReference } from '../project/chain/references';
import type { Patch, PatchPart } from '../project/patch/patch-schema';
import { modulationParameter, patchParameters } from '../project/patch/patch-parameters';
import { resolveValues } from '../project/parameters';
import type { Frames, Hertz, Semitones, Unit } from '../units';
import { partsById } from './index';
import { semitonesToRatio } from '../units';
import { modulationGroups } from './modulation-groups';
import type { HeldNote } from './held-keys';
import { HeldKeys } from './held-keys';
import type { PartKind, VoiceNote } from './part';
import { voiceStep } from './part';
import type { PartRun, VoiceSum } from './part-voice';
import { createPartRun, PartVoice } from './part-voice';
import type { MovedParameter } from './part-values';
import { PartValues } from './part-values';
import type { UnisonPlace, VoiceWeather } from './voice';
import { alone, Voice } from './voice';

/** A note as a player plays it: on its clock, in frames. */
export interface PlayerNote {
  /** Tells its chance apart from those of others. */
  readonly id: string;
  readonly start: Frames;
  readonly end: Frames;
  readonly pitch: Semitones;
  readonly strength: Unit;
}

/** What moves the values of a patch; addresses are relative to it: `patch`, `part/<id>`, `part/<id>/from`. */
export interface PatchMoves {
  readonly bpm: number;
  below(owner: string): readonly MovedParameter[];
}

/** A recording by the id of its source. */
export type RecordingById = (source: string) => Audio | undefined;

/** The recordings that a part plays, by the parameters that chose them. */
function recordingsOf({ parameters }: PatchPart, kind: PartKind, recording: RecordingById): Record<string, Audio> {
  const found: Record<string, Audio> = {};
  for (const [key, parameter] of Object.entries(kind.parameters)) {
    const reference = parameter.kind === 'reference' ? readReference(parameters[key]) : undefined;
    const audio = reference && recording(reference.id);
    if (audio) found[key] = audio;
  }
  return found;
}

export const stillPatch: PatchMoves = { bpm: 120, below: () => [] };

/** A voice that is taken away for another note falls silent within so many frames. */
const leaveFrames: Frames = 192;
/** Voices of all notes together, where each has several. */
const mostInUnison = 64;
/** Voices that may be leaving while all others sound. */
const spareVoices = 4;
/** How long a held note counts for curves that last as long as their note. */
const heldSeconds = 1;
/** How much of what sounds at a moment is computed before it, when somebody jumps there. */
const chaseSeconds = 0.5;

/**
 * A patch at work: takes notes and gives sound, frame by frame, the same whenever it is asked for the same. Values move in straight lines from step to
 * step of a fixed grid, so that it does not matter in which portions frames are asked for.
 */
export class PatchPlayer {
  private readonly parts: readonly {
    readonly part: PatchPart;
    readonly kind: PartKind;
    readonly values: PartValues;
    readonly amounts: PartValues;
    readonly run: PartRun;
  }[];
  private readonly shared: PartValues;
  private readonly voices: Voice[] = [];
  private readonly makeVoice: () => Voice;
  /** Notes at once, and the voices of each. */
  private readonly most: number;
  private readonly places: readonly UnisonPlace[];
  private readonly mode: string;
  private readonly chance: number;
  private readonly weather: { -readonly [K in keyof VoiceWeather]: VoiceWeather[K] } & { moving: boolean[] };
  /** Up to where it has computed, a multiple of the step between two cells; NaN before it has begun. */
  private clock: Frames = NaN;
  /** Up to where it has given. */
  private given: Frames = NaN;
  private nextNote = 0;
  private lastPitch: Semitones | undefined;
  private readonly keys = new HeldKeys();
  /** True while it computes what came before where somebody has jumped to; keys are pressed now, not then. */
  private catchingUp = false;
  private readonly sum: VoiceSum = {
    left: new Float64Array(voiceStep),
    right: new Float64Array(voiceStep),
    middle: new Float64Array(voiceStep),
  };
  private readonly longest: Frames;

  /**
   * @param notes in the order of their starts
   * @param recording what parts play, by the ids of sources
   */
  constructor(
    patch: Patch,
    private readonly notes: readonly PlayerNote[],
    private readonly sampleRate: Hertz,
    private readonly tail: Frames,
    recording: RecordingById = () => undefined,
  ) {
    const playing = patch.parts.filter(({ enabled, kind }) => enabled && partsById.has(kind));
    this.parts = playing.map((part) => {
      const kind = partsById.get(part.kind)!;
      return { part, kind, values: new PartValues(kind.parameters, part.parameters), amounts: amountValues(part), run: createPartRun() };
    });
    const values = resolveValues(patchParameters, patch.parameters);
    this.shared = new PartValues(patchParameters, patch.parameters);
    this.mode = String(values['mode']);
    this.chance = Number(values['chance']);
    const copies = Number(values['unison']);
    this.places = Array.from({ length: copies }, (_, copy) =>
      copies === 1 ? alone : { away: (2 * copy) / (copies - 1) - 1, share: 1 / Math.sqrt(copies) },
    );
    const notesAtOnce = Math.max(1, Math.floor(mostInUnison / copies));
    this.most = this.mode === 'many voices' ? Math.min(Number(values['voices']), notesAtOnce) : 1;
    this.weather = {
      values: this.parts.map(({ values: { now } }) => now),
      amounts: this.parts.map(({ part }) => new Float64Array(part.from.length)),
      moving: this.parts.map(() => true),
      concert: 440,
      glide: 0,
      bpm: 120,
      detune: 0,
      apart: 0,
    };
    const groups = modulationGroups(playing);
    this.makeVoice = () => {
      const parts = this.parts.map(({ part, kind, run, values: { now } }) => {
        const pulls = patch.curves.flatMap((each, curve) =>
          each.pulls.flatMap((pull) => (pull.part === part.id ? [{ ...pull, curve }] : [])),
        );
        return new PartVoice(part, kind, now, sampleRate, pulls, recordingsOf(part, kind, recording), run);
      });
      const order = groups.flatMap((group) => group.parts);
      for (const [place, p] of order.entries()) parts[p]!.order = place;
      for (const part of parts) {
        for (const { part: from } of part.part.from) {
          const other = parts.find((candidate) => candidate.part.id === from);
          part.modulatedBy(other);
        }
      }
      const voiceGroups = groups.map((group) => ({ loops: group.loops, parts: group.parts.map((p) => parts[p]!) }));
      return new Voice(parts, voiceGroups, patch.curves, sampleRate);
    };
    this.longest = notes.reduce((most, { start, end }) => Math.max(most, end - start), 0) + tail;
  }

  /** Takes over changed values of a patch with the same structure, and what moves them. */
  apply(patch: Patch, moves: PatchMoves): void {
    this.weather.bpm = moves.bpm;
    this.shared.apply(patch.parameters, moves.below('patch'));
    for (const each of this.parts) {
      const part = patch.parts.find(({ id }) => id === each.part.id);
      if (!part) continue;
      each.values.apply(part.parameters, moves.below(`part/${part.id}`));
      each.amounts.apply(
        Object.fromEntries(part.from.map(({ part: from, amount }) => [from, amount])),
        moves.below(`part/${part.id}/from`),
      );
    }
  }

  /** Adds frames from `position` on to two channels. Where it was somewhere else before, it begins with what sounds there. */
  process(position: Frames, frames: Frames, left: Float32Array, right: Float32Array): void {
    if (position !== this.given) this.jump(position);
    const { sum } = this;
    for (let done = 0; done < frames;) {
      const cell = Math.floor((position + done) / voiceStep) * voiceStep;
      if (cell === this.clock) this.computeCell();
      const from = (position + done - cell) | 0;
      const count = Math.min(frames - done, voiceStep - from) | 0;
      for (let i = 0; i < count; i++) {
        left[done + i] = left[done + i]! + sum.left[from + i]!;
        right[done + i] = right[done + i]! + sum.right[from + i]!;
      }
      done += count;
    }
    this.given = position + frames;
  }

  /** Begins a note with the next step of the grid, and holds it until it is let go. */
  strike(note: HeldNote): void {
    this.keys.strike(note);
  }

  letGo(id: string): void {
    this.keys.letGo(id);
  }

  /** True while no voice sounds and none is about to. */
  get silent(): boolean {
    return this.keys.quiet && this.voices.every(({ idle }) => idle);
  }

  private playKeys(): void {
    if (this.catchingUp || this.keys.quiet) return;
    for (const press of this.keys.take()) {
      if ('down' in press) this.hold(press.down);
      else this.raise(press.up);
    }
  }

  private hold(note: HeldNote): void {
    this.begin({ ...note, start: this.clock, end: Infinity }, 0);
  }

  /** A key goes up. Where one voice plays all, it goes back to the key that is still down. */
  private raise(key: string): void {
    const playing = this.voices.filter((voice) => !voice.idle && voice.note === key && voice.end === Infinity);
    const before = this.mode === 'many voices' ? undefined : this.keys.last;
    if (before && playing.length > 0) this.hold(before);
    else for (const voice of playing) voice.end = this.clock;
  }

  private jump(position: Frames): void {
    for (const voice of this.voices) voice.stop();
    const from = Math.floor((position - chaseSeconds * this.sampleRate) / voiceStep) * voiceStep;
    this.clock = from;
    this.lastPitch = undefined;
    this.settle(from);
    this.catchingUp = true;
    this.nextNote = firstFrom(this.notes, from - this.longest);
    for (; this.nextNote < this.notes.length && this.notes[this.nextNote]!.start < from; this.nextNote++) {
      const note = this.notes[this.nextNote]!;
      if (note.end + this.tail > from) this.begin(note, from - note.start);
    }
    while (this.clock <= position - voiceStep) this.computeCell();
    // The cell that the position lies in.
    if (this.clock < position) this.computeCell();
    this.catchingUp = false;
  }

  private settle(frame: Frames): void {
    this.shared.settle(frame);
    for (const { values, amounts } of this.parts) {
      values.settle(frame);
      amounts.settle(frame);
    }
    this.forecast();
  }

  private forecast(): void {
    const { concert, bend, glide, detune, apart } = this.shared.now;
    this.weather.detune = Number(detune);
    this.weather.apart = Number(apart);
    this.weather.concert = Number(concert) * semitonesToRatio(Number(bend));
    this.weather.glide = Math.round(Number(glide) * this.sampleRate);
    for (const [p, { part, amounts }] of this.parts.entries())
      for (let m = 0; m < part.from.length; m++) this.weather.amounts[p]![m] = Number(amounts.now[part.from[m]!.part]);
  }

  /** Computes the next cell of the grid, whole: values are set out for its end, and notes begin and end within it on their frames. */
  private computeCell(): void {
    const { notes, voices } = this;
    const cell = this.clock;
    this.step(cell + voiceStep);
    this.playKeys();
    const { left, right, middle } = this.sum;
    for (const buffer of [left, right, middle]) buffer.fill(0);
    while (this.clock < cell + voiceStep) {
      const { clock } = this;
      for (; this.nextNote < notes.length && notes[this.nextNote]!.start <= clock; this.nextNote++) this.begin(notes[this.nextNote]!, 0);
      let until = Math.min(cell + voiceStep, notes[this.nextNote]?.start ?? Infinity);
      for (const voice of voices) {
        if (voice.idle || voice.released) continue;
        if (voice.end <= clock) voice.release();
        else until = Math.min(until, voice.end);
      }
      // Whole numbers for whoever counts frames: the clock itself is a fraction to the engine, because it begins as none.
      const at = (clock - cell) | 0;
      const frames = (until - clock) | 0;
      for (const voice of voices) if (!voice.idle) voice.render(this.sum, at, frames);
      this.clock = until;
    }
    for (let i = 0; i < voiceStep; i++) {
      left[i] = left[i]! + middle[i]!;
      right[i] = right[i]! + middle[i]!;
    }
  }

  private step(end: Frames): void {
    this.shared.step(end);
    let any = this.shared.moving;
    for (let p = 0; p < this.parts.length; p++) {
      const { values, amounts } = this.parts[p]!;
      values.step(end);
      amounts.step(end);
      this.weather.moving[p] = values.moving || amounts.moving || this.shared.moving;
      any ||= this.weather.moving[p]!;
    }
    if (any) this.forecast();
    for (const voice of this.voices) if (!voice.idle) voice.aim(this.weather, voiceStep);
  }

  private begin(note: PlayerNote, age: Frames): void {
    const seconds = note.end === Infinity ? heldSeconds : (note.end - note.start) / this.sampleRate;
    const { places } = this;
    const chancesOf = (copy: number): VoiceNote[] =>
      this.parts.map(({ part }) => ({
        strength: note.strength,
        length: note.end - note.start,
        age,
        copy,
        random: createRandom(copy === 0 ? seedOf(this.chance, note.id, part.id) : seedOf(this.chance, note.id, part.id, copy)),
      }));
    const from = this.weather.glide > 0 ? (this.lastPitch ?? note.pitch) : note.pitch;
    this.lastPitch = note.pitch;
    const sounding = this.mode === 'many voices' ? [] : this.voices.filter((voice) => !voice.idle && !voice.leaving);
    for (const [copy, voice] of sounding.entries()) {
      const bound = this.mode === 'one voice, bound' && !voice.released;
      voice.goOn(chancesOf(copy), note.pitch, !bound, seconds, this.weather);
      voice.note = note.id;
      voice.end = note.end;
      this.setOut(voice);
    }
    if (sounding.length > 0) return;
    this.makeRoom();
    for (const [copy, place] of places.entries()) {
      const voice = this.freeVoice();
      voice.start(chancesOf(copy), note.pitch, from, age, seconds, this.weather, place);
      voice.note = note.id;
      voice.begun = note.start;
      voice.end = note.end;
      this.setOut(voice);
    }
  }

  /** A voice that begins between two steps goes along with the one that is under way. */
  private setOut(voice: Voice): void {
    voice.aim(this.weather, voiceStep - (this.clock - Math.floor(this.clock / voiceStep) * voiceStep));
  }

  /** When as many notes sound as may, the one that has sounded longest makes room, those that are let go first. */
  private makeRoom(): void {
    const { places } = this;
    const sounding = this.voices.filter((voice) => !voice.idle && !voice.leaving);
    if (sounding.length < this.most * places.length) return;
    const { note, begun } = oldest(sounding);
    for (const voice of sounding) if (voice.note === note && voice.begun === begun) voice.leave(leaveFrames);
  }

  /** One that is silent; if there is none, one of those that make room already. */
  private freeVoice(): Voice {
    const free = this.voices.find((voice) => voice.idle);
    if (free) return free;
    if (this.voices.length < (this.most + spareVoices) * this.places.length) {
      const voice = this.makeVoice();
      this.voices.push(voice);
      return voice;
    }
    const cut = oldest(this.voices.filter((voice) => voice.leaving));
    cut.stop();
    return cut;
  }
}

function oldest(voices: readonly Voice[]): Voice {
  return voices.reduce((first, voice) =>
    voice.released !== first.released ? (voice.released ? voice : first) : voice.begun < first.begun ? voice : first,
  );
}

/** The first note that begins at a moment or behind it. */
function firstFrom(notes: readonly PlayerNote[], frame: Frames): number {
  let low = 0;
  let high = notes.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (notes[middle]!.start < frame) low = middle + 1;
    else high = middle;
  }
  return low;
}

function amountValues({ from }: PatchPart): PartValues {
  const parameters = Object.fromEntries(from.map(({ part }) => [part, modulationParameter]));
  return new PartValues(parameters, Object.fromEntries(from.map(({ part, amount }) => [part, amount])));
}
