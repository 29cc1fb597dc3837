import { betweenReach } from '../dsp/fractional-read';
import type { Frames, Hertz } from '../units';
import type { BusStrip } from './bus-strip';
import type { ConductEvent, Heard } from './conduct-data';
import { openCut } from './hearing';
import { tick } from './state';
import type { VoiceBench } from './voice-bench';
import { stateOf, windowLength } from './voice-bench';

type Started = Extract<ConductEvent, { readonly do: 'play' }>;

/** From here on a cut is not heard, and takes no filter. */
const filterEnd: Hertz = openCut * 0.995;
/** So far a voice may go through its recording at a time. */
const roomForPlaces = windowLength - 2 * betweenReach - 4;

/** One value that goes to another in a straight line, frame by frame. */
class Line {
  step = 0;
  left: Frames = 0;
  goal: number;

  constructor(public value: number) {
    this.goal = value;
  }

  aim(goal: number, frames: Frames): void {
    this.goal = goal;
    this.left = frames;
    this.step = (goal - this.value) / frames;
  }

  /** For how many frames it goes on as it goes. */
  get evenly(): Frames {
    return this.left > 0 ? this.left : Infinity;
  }

  /** Where it is after some frames, no more than are left. */
  pass(value: number, frames: Frames): void {
    if (this.left === 0) return;
    this.left -= frames;
    this.value = this.left === 0 ? this.goal : value;
    if (this.left === 0) this.step = 0;
  }
}

/** Plays one voice of a recording: at any speed, through its loop, panned, filtered by two poles, faded. */
export class VoicePlayer {
  /** True once nothing more comes of it. */
  over = false;
  private place = 0;
  private readonly left: Line;
  private readonly right: Line;
  private readonly ratio: Line;
  /** The filter's coefficient. */
  private readonly cut: Line;
  private readonly fade: Line;
  /** What goes to the bus itself, and what to the room. */
  private readonly direct: Line;
  private readonly send: Line;
  /** All of them, as they lie in the state of a bench. */
  private readonly lines: readonly Line[];
  private filtered: boolean;
  /** What the filter holds of each channel. */
  private readonly held = new Float64Array(4);
  private readonly loop: { readonly from: Frames; readonly to: Frames } | undefined;
  /** Before here lies the end of the loop, once it has come round. */
  private low = -Infinity;
  private stopping = false;
  /** From which frame of a block on it is summed up with all others that are shared alike. */
  joins: Frames = 0;
  readonly bus: string | undefined;

  constructor(
    private readonly channels: readonly Float32Array[],
    private readonly sampleRate: Hertz,
    { loop, fadeIn, bus, ...heard }: Started,
  ) {
    this.bus = bus;
    this.direct = new Line(Math.sqrt(1 - heard.room));
    this.send = new Line(Math.sqrt(heard.room));
    const length = channels[0]?.length ?? 0;
    // What the data says of a file may be more than there is of it.
    this.loop = loop && loop.from >= 0 && loop.to <= length && loop.to - loop.from >= 1 ? loop : undefined;
    const { left, right } = sides(heard);
    this.left = new Line(left);
    this.right = new Line(right);
    this.ratio = new Line(heard.ratio);
    this.cut = new Line(this.coefficient(heard.highCut));
    this.filtered = heard.highCut < filterEnd;
    this.fade = new Line(fadeIn > 0 ? 0 : 1);
    if (fadeIn > 0) this.fade.aim(1, fadeIn);
    this.lines = [this.left, this.right, this.ratio, this.cut, this.fade];
    this.over = length === 0;
  }

  turn(heard: Heard): void {
    const { left, right } = sides(heard);
    this.left.aim(left, tick);
    this.right.aim(right, tick);
    this.ratio.aim(heard.ratio, tick);
    this.cut.aim(this.coefficient(heard.highCut), tick);
    this.direct.aim(Math.sqrt(1 - heard.room), tick);
    this.send.aim(Math.sqrt(heard.room), tick);
    if (heard.highCut < filterEnd) this.filtered = true;
  }

  stop(fade: Frames): void {
    this.stopping = true;
    if (fade > 0) this.fade.aim(0, fade);
    else this.over = true;
  }

  private coefficient(highCut: Hertz): number {
    return Math.tan((Math.PI * Math.min(highCut, 0.45 * this.sampleRate)) / this.sampleRate);
  }

  /** Adds the next frames to what a bench sums up, from `from` on. */
  addTo(bench: VoiceBench, from: Frames, to: Frames): void {
    const { loop } = this;
    const end = loop ? loop.to : this.channels[0]!.length;
    for (let i = from; i < to;) {
      if (loop && this.place >= end) {
        this.place = loop.from + ((this.place - loop.from) % (loop.to - loop.from));
        this.low = loop.from;
      }
      if (this.place >= end || (this.stopping && this.fade.left === 0)) {
        this.over = true;
        return;
      }
      const frames = this.evenFrames(to - i, end);
      this.addEven(bench, i, frames);
      i += frames;
    }
  }

  /** Whether a room hears so much of it, or is about to. */
  standsAt(wet: number): boolean {
    return this.send.goal === wet;
  }

  /** For how many of the next frames that still moves. */
  shareMoves(frames: Frames): Frames {
    return Math.min(frames, this.send.left);
  }

  /** Shares what a bench holds of it alone between its bus and its room. */
  share({ left, right }: VoiceBench, { left: busLeft, right: busRight, hall }: BusStrip, frames: Frames): void {
    const { direct, send } = this;
    const { roomLeft, roomRight } = hall;
    // Both go and stand at the same time.
    const going = Math.min(frames, direct.left);
    for (let i = 0; i < going; i++) {
      busLeft[i] = busLeft[i]! + left[i]! * direct.value;
      busRight[i] = busRight[i]! + right[i]! * direct.value;
      roomLeft[i] = roomLeft[i]! + left[i]! * send.value;
      roomRight[i] = roomRight[i]! + right[i]! * send.value;
      direct.pass(direct.value + direct.step, 1);
      send.pass(send.value + send.step, 1);
    }
    const dry = direct.value;
    const wet = send.value;
    for (let i = going; i < frames; i++) {
      const one = left[i]!;
      const two = right[i]!;
      busLeft[i] = busLeft[i]! + one * dry;
      busRight[i] = busRight[i]! + two * dry;
      roomLeft[i] = roomLeft[i]! + one * wet;
      roomRight[i] = roomRight[i]! + two * wet;
    }
  }

  /** For how many frames all lines go on as they go, the end is not reached, and the bench has room for what is read; at least one. */
  private evenFrames(most: Frames, end: Frames): Frames {
    let frames = Math.min(most, this.left.evenly, this.right.evenly, this.ratio.evenly);
    frames = Math.min(frames, this.cut.evenly, this.fade.evenly);
    const { value, step } = this.ratio;
    const fastest = Math.max(value, value + step * frames);
    // The last frame before the end is one of them; whether the next one is behind it, is seen then.
    return Math.max(1, Math.min(frames, Math.floor(Math.min(end - this.place, roomForPlaces) / fastest)));
  }

  /** Adds frames through which all lines go evenly: sample by sample the same as in any other parts. */
  private addEven(bench: VoiceBench, from: Frames, frames: Frames): void {
    const { state } = bench;
    const { ratio, held, lines } = this;
    const stereo = this.channels.length > 1;
    const base = Math.floor(this.place) - betweenReach + 1;
    const farthest = frames > 1 ? frames * Math.max(ratio.value, ratio.value + ratio.step * frames) : 0;
    const length = Math.floor(this.place + farthest) + betweenReach + 2 - base;
    this.layOut(bench.first, this.channels[0]!, base, length);
    if (stereo) this.layOut(bench.second, this.channels[1]!, base, length);
    state[stateOf.place] = this.place;
    for (let n = 0; n < lines.length; n++) {
      state[stateOf.left + n] = lines[n]!.value;
      state[stateOf.leftStep + n] = lines[n]!.step;
    }
    for (let n = 0; n < 4; n++) state[stateOf.held + n] = held[n]!;
    bench.play(base, stereo, from, frames, this.filtered);
    this.place = state[stateOf.place]!;
    for (let n = 0; n < 4; n++) held[n] = state[stateOf.held + n]!;
    for (let n = 0; n < lines.length; n++) lines[n]!.pass(state[stateOf.left + n]!, frames);
  }

  /** What the recording has from `base` on, as it is heard: a loop goes on behind its end at its begin, and once it has come round also lies before it. */
  private layOut(window: Float32Array, samples: Float32Array, base: number, length: number): void {
    const { loop, low } = this;
    const end = loop ? loop.to : samples.length;
    if (base >= Math.max(0, low) && base + length <= end) {
      // Several times as fast as sample by sample, though it leaves a view behind.
      window.set(samples.subarray(base, base + length));
      return;
    }
    for (let k = 0; k < length; k++) {
      let index = base + k;
      if (loop && (index >= end || index < low)) {
        const round = loop.to - loop.from;
        index = loop.from + ((((index - loop.from) % round) + round) % round);
      }
      window[k] = samples[index] ?? 0;
    }
  }
}

/** Even power from side to side; in the middle both are as loud as they are. */
function sides({ gain, pan }: Heard): { readonly left: number; readonly right: number } {
  const angle = ((Math.min(1, Math.max(-1, pan)) + 1) * Math.PI) / 4;
  return pan === 0
    ? { left: gain, right: gain }
    : { left: Math.SQRT2 * Math.cos(angle) * gain, right: Math.SQRT2 * Math.sin(angle) * gain };
}
