import type { Audio } from '../audio/audio';
import type { CurvePull, PatchPart } from '../project/patch/patch-schema';
import { offsetValue } from '../project/offset';
import type { ParameterValue, ParameterValues } from '../project/parameters';
import type { Frames, Hertz, Ratio, Seconds, Semitones } from '../units';
import { decibelsToGain, semitonesToRatio } from '../units';
import type { CommonValues } from './common-parameters';
import { isCommon } from './common-parameters';
import type { EnvelopeTimes } from './envelope';
import { Envelope } from './envelope';
import type { PartKind, PartSource, VoiceNote } from './part';
import { voiceStep } from './part';
import { VoiceFilter, voiceFilterKinds } from './voice-filter';

/** Softer than this is silence. */
const silentLevel = -96;

/** What moves the phase of a part: another part of the same voice, and by how many periods. */
interface Modulation {
  /** Undefined for a part that is off. */
  readonly from: PartVoice | undefined;
  amount: number;
  step: number;
}

/** What voices add up in: both sides, and what is the same on both. */
export interface VoiceSum {
  readonly left: Float64Array;
  readonly right: Float64Array;
  readonly middle: Float64Array;
}

/** Where the voices of a part compute, one after the other: what one has left there is added up before the next begins. */
export interface PartRun {
  readonly left: Float64Array;
  readonly right: Float64Array;
  readonly level: Float64Array;
  readonly phase: Float64Array;
}

export function createPartRun(): PartRun {
  const samples = (): Float64Array => new Float64Array(voiceStep);
  return { left: samples(), right: samples(), level: samples(), phase: samples() };
}

/** One part in one voice: its source, its filter, its envelope and where it stands between left and right. */
export class PartVoice {
  /** What it gives behind its envelope, in front of its level: the run of frames rendered last. */
  readonly left: Float64Array;
  readonly right: Float64Array;
  private readonly phase: Float64Array | undefined;
  private readonly level: Float64Array;
  private readonly buffers;
  private readonly source: PartSource;
  private readonly stereo: boolean;
  private readonly filters: readonly VoiceFilter[];
  private readonly times: EnvelopeTimes;
  private readonly envelope: Envelope;
  private readonly modulations: Modulation[] = [];
  /** The values of this voice: those of the part, moved by curves. */
  private readonly own: Record<string, ParameterValue> = {};
  private note: VoiceNote | undefined;
  /** Where it comes among the parts of its voice: modulation of what comes earlier is a frame late. */
  order = 0;
  /** The last frame of the run before. */
  private last = 0;
  private strengthGain: Ratio = 1;
  /** What is still to be done to what was rendered last. */
  private held: Ratio = 1;
  /** True when it moves the phase of another part, or its own. */
  private moves = false;
  private gainLeft: Ratio = 0;
  private gainRight: Ratio = 0;
  private leftStep = 0;
  private rightStep = 0;
  private fresh = true;
  /** True when nothing moves and all steps are 0. */
  private settled = false;
  /** True when its cut-off goes with its envelope. */
  private opens = false;

  constructor(
    readonly part: PatchPart,
    private readonly kind: PartKind,
    initial: ParameterValues,
    private readonly sampleRate: Hertz,
    private readonly pulls: readonly (CurvePull & { readonly curve: number })[],
    recordings: Readonly<Record<string, Audio>>,
    run: PartRun,
  ) {
    ({ left: this.left, right: this.right, level: this.level } = run);
    this.source = kind.createSource({ sampleRate, values: initial, recordings });
    this.stereo = kind.channels(initial) === 2;
    this.phase = kind.modulated && part.from.length > 0 ? run.phase : undefined;
    this.buffers = { left: this.left, right: this.right, phase: this.phase };
    const filter = voiceFilterKinds.find((each) => each === initial['filter']);
    this.filters = filter ? Array.from({ length: this.stereo ? 2 : 1 }, () => new VoiceFilter(filter, sampleRate)) : [];
    this.times = { delay: 0, attack: 0, hold: 0, decay: 0, sustain: 1, release: 0, attackBend: 0, decayBend: 0, releaseBend: 0 };
    this.envelope = new Envelope(this.times);
  }

  modulatedBy(from: PartVoice | undefined): void {
    if (from) from.moves = true;
    this.modulations.push({ from, amount: 0, step: 0 });
  }

  get over(): boolean {
    return this.envelope.over || this.source.silent === true;
  }

  /** @param age how long ago the note began; what it has done since then is left out */
  start(note: VoiceNote, values: ParameterValues, pitch: Semitones, concert: Hertz, age: Frames, heights: Float64Array): void {
    this.note = note;
    this.fresh = true;
    for (const filter of this.filters) filter.reset();
    this.last = 0;
    const own = this.moved(values, heights);
    this.takeTimes(own, note, pitch);
    this.envelope.stop();
    this.envelope.start();
    this.source.start(note, own, this.frequency(own, pitch, concert));
    this.pass(Math.min(age, note.length));
    // Of a note of no length that begins now, the player tells the end.
    if (age === 0 || age < note.length) return;
    this.envelope.release();
    this.pass(age - note.length);
  }

  /** Lets so many frames of the envelope go by. */
  private pass(frames: Frames): void {
    for (let left = frames; left > 0; left -= voiceStep) this.envelope.fill(this.level, 0, Math.min(voiceStep, left));
  }

  /** A voice that sounds takes another note: its envelope begins anew from where it is. */
  strikeAgain(note: VoiceNote, values: ParameterValues, pitch: Semitones, heights: Float64Array): void {
    this.note = note;
    this.takeTimes(this.moved(values, heights), note, pitch);
    this.envelope.start();
    this.source.startAgain?.(note);
  }

  release(): void {
    this.envelope.release();
  }

  stop(): void {
    this.envelope.stop();
  }

  private takeTimes(values: CommonValues, { strength }: VoiceNote, pitch: Semitones): void {
    const pace = semitonesToRatio(-values.keyTimes * (pitch - 60)) * Math.pow(4, values.strengthTimes * (1 - strength));
    const frames = (time: Seconds): Frames => Math.round(time * pace * this.sampleRate);
    const { times } = this;
    times.delay = Math.round(values.delay * this.sampleRate);
    times.attack = frames(values.attack);
    times.hold = frames(values.hold);
    times.decay = frames(values.decay);
    times.sustain = values.sustain;
    times.release = frames(values.release);
    times.attackBend = values.attackBend;
    times.decayBend = values.decayBend;
    times.releaseBend = values.releaseBend;
  }

  private frequency({ follows, ratio, tuning, frequency }: CommonValues, pitch: Semitones, concert: Hertz): Hertz {
    const base = follows ? concert * semitonesToRatio(pitch - 69) * ratio : frequency;
    return base * semitonesToRatio(tuning);
  }

  /** The part's values, moved by the curves that pull at them. */
  private moved(values: ParameterValues, heights: Float64Array): CommonValues {
    if (this.pulls.length === 0) return common(values);
    Object.assign(this.own, values);
    for (const { parameter: key, depth, curve } of this.pulls) {
      const parameter = this.kind.parameters[key];
      const base = this.own[key];
      if (parameter?.kind === 'number' && typeof base === 'number') this.own[key] = offsetValue(parameter, base, depth * heights[curve]!);
    }
    return common(this.own);
  }

  /**
   * Sets out for where everything will be after `frames` frames.
   * @param lean how much further to the right it stands than it would by itself, -1 to 1
   */
  aim(
    values: ParameterValues,
    amounts: Float64Array,
    moves: boolean,
    pitch: Semitones,
    lean: number,
    concert: Hertz,
    heights: Float64Array,
    frames: Frames,
  ): void {
    const { note } = this;
    if (!note || this.over) return;
    if (moves || this.fresh || this.opens || this.pulls.length > 0 || this.source.restless) this.settled = false;
    else if (this.settled) return;
    else this.settled = true;
    const own = this.moved(values, heights);
    this.source.aim(own, this.frequency(own, pitch, concert), frames);
    this.opens = this.filters.length > 0 && own.envelopeCutoff !== 0;
    for (const filter of this.filters) {
      const interval = own.keyCutoff * (pitch - 60) + own.envelopeCutoff * this.envelope.level + own.strengthCutoff * (note.strength - 1);
      filter.aim(own.cutoff * semitonesToRatio(interval), own.resonance, decibelsToGain(own.drive), this.fresh ? 0 : frames);
    }
    const loudness = own.level <= silentLevel ? 0 : decibelsToGain(own.level);
    // The far side falls by a quarter cosine, as with every fader.
    const pan = Math.max(-1, Math.min(1, own.pan + lean));
    const left = loudness * (pan > 0 ? Math.cos((pan * Math.PI) / 2) : 1);
    const right = loudness * (pan < 0 ? Math.cos((pan * Math.PI) / 2) : 1);
    if (this.fresh) {
      this.gainLeft = left;
      this.gainRight = right;
    }
    this.leftStep = (left - this.gainLeft) / frames;
    this.rightStep = (right - this.gainRight) / frames;
    for (const [m, modulation] of this.modulations.entries()) {
      const amount = amounts[m]! / (2 * Math.PI);
      if (this.fresh) modulation.amount = amount;
      modulation.step = (amount - modulation.amount) / frames;
    }
    this.fresh = false;
    this.strengthGain = decibelsToGain(own.strengthLevel * (1 - note.strength));
  }

  /** Computes frames into `left` and `right`; a part that is over is silent. */
  render(from: Frames, to: Frames): void {
    const { left, right, level, stereo } = this;
    if (this.over) {
      left.fill(0, from, to);
      if (stereo) right.fill(0, from, to);
      return;
    }
    if (this.phase) this.gather(this.phase, from, to);
    this.source.render(this.buffers, from, to);
    this.filters[0]?.process(left, from, to);
    if (stereo) this.filters[1]?.process(right, from, to);
    const { strengthGain } = this;
    this.held = 1;
    if (this.envelope.holds(to - from)) {
      const gain = this.envelope.level * strengthGain;
      if (!this.moves) {
        // Nobody else hears it: its level is taken along with its gain.
        this.held = gain;
        return;
      }
      for (let i = from; i < to; i++) left[i] = left[i]! * gain;
      if (stereo) for (let i = from; i < to; i++) right[i] = right[i]! * gain;
      return;
    }
    this.envelope.fill(level, from, to);
    for (let i = from; i < to; i++) left[i] = left[i]! * level[i]! * strengthGain;
    if (stereo) for (let i = from; i < to; i++) right[i] = right[i]! * level[i]! * strengthGain;
  }

  private gather(phase: Float64Array, from: Frames, to: Frames): void {
    phase.fill(0, from, to);
    for (const modulation of this.modulations) {
      const { from: part, step } = modulation;
      if (!part) continue;
      const { left } = part;
      const late = part.order >= this.order;
      for (let i = from; i < to; i++) {
        phase[i] = phase[i]! + modulation.amount * (!late ? left[i]! : i > 0 ? left[i - 1]! : part.last);
        modulation.amount += step;
      }
    }
  }

  /** Adds what was rendered last to a sum, at its level; what is as loud on both sides, to the middle. */
  addTo(sum: VoiceSum, at: Frames, frames: Frames, fade: Ratio, fadeStep: number): void {
    this.last = this.left[frames - 1]!;
    const { left, leftStep, rightStep, held } = this;
    const right = this.stereo ? this.right : left;
    if (leftStep === 0 && rightStep === 0 && fadeStep === 0) {
      const toLeft = this.gainLeft * held * fade;
      const toRight = this.gainRight * held * fade;
      // What only moves others is not heard itself.
      if (toLeft === 0 && toRight === 0) return;
      if (right === left && toLeft === toRight) {
        const { middle } = sum;
        for (let i = 0; i < frames; i++) middle[at + i] = middle[at + i]! + left[i]! * toLeft;
        return;
      }
      for (let i = 0; i < frames; i++) {
        sum.left[at + i] = sum.left[at + i]! + left[i]! * toLeft;
        sum.right[at + i] = sum.right[at + i]! + right[i]! * toRight;
      }
      return;
    }
    let { gainLeft, gainRight } = this;
    let share = fade * held;
    for (let i = 0; i < frames; i++) {
      sum.left[at + i] = sum.left[at + i]! + left[i]! * gainLeft * share;
      sum.right[at + i] = sum.right[at + i]! + right[i]! * gainRight * share;
      gainLeft += leftStep;
      gainRight += rightStep;
      share += fadeStep * held;
    }
    this.gainLeft = gainLeft;
    this.gainRight = gainRight;
  }
}

function common(values: ParameterValues): CommonValues {
  if (!isCommon(values)) throw new Error('These are no values of a part.');
  return values;
}
