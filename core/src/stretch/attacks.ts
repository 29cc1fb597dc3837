import type { Audio } from '../audio/audio';
import { copyPadded } from '../audio/audio';
import { extrapolate } from '../dsp/linear-prediction';
import type { Progress } from '../cancelled';
import type { Frames, Unit } from '../units';
import { PhaseVocoder } from './phase-vocoder';
import { TimeMap } from './time-map';

/** Frames over which what was before an attack gives way to it. */
const handOver: Frames = 96;
const shortestFrame: Frames = 512;
/** From this stretch on, noise whose phases are kept would sound like tones. */
const muchLonger = 1.7;
/** What is learned from in front of an attack, and from how many samples each of what follows is predicted. */
const learned: Frames = 1024;
const order = 48;

interface Span {
  readonly from: Frames;
  readonly to: Frames;
}

/** An attack in the input, and when it is heard. */
interface Heard {
  readonly at: Frames;
  readonly heard: Frames;
}

/** What lies from one attack to the next: where it is read, and how it passes. */
interface Piece {
  readonly from: Frames;
  readonly to: Frames;
  /** When it is heard. */
  readonly begin: Frames;
  readonly end: Frames;
  /** Its length, before or after, whichever is shorter. */
  readonly room: Frames;
  /** Its beginning at its own pace, the rest in what time is left. */
  readonly map: TimeMap;
}

/**
 * Stretches what lies between attacks and copies the attacks: the input is cut where they begin, each piece is stretched by itself, its first
 * frames at their own pace, and what the frames at its end would see of the next attack is replaced by what the sound before it leads one to expect. So
 * nothing of an attack is heard before it (no pre-echo), and the attack lasts as long as it did (cf. Röbel 2003, who resets phases).
 */
export function stretchBetweenAttacks(
  audio: Audio,
  map: TimeMap,
  span: Span,
  {
    attacks,
    size,
    wear,
    noisy,
    progress,
  }: {
    readonly attacks: readonly Frames[];
    readonly size: Frames;
    readonly wear: Unit;
    readonly noisy: boolean;
    readonly progress?: Progress | undefined;
  },
): Audio {
  const { sampleRate, channels } = audio;
  const outputs = channels.map(() => new Float32Array(span.to - span.from));
  const vocoders = new Map<Frames, PhaseVocoder>();
  /** Frames no longer than a piece: a longer one would see more than one attack. */
  const vocoderFor = ({ room, map: pace, begin }: Piece): PhaseVocoder => {
    const fitting = Math.min(size, Math.max(shortestFrame, 2 ** Math.floor(Math.log2(room))));
    const middle = Number.isFinite(begin) ? begin + 2 * fitting : span.from;
    const slow = pace.inputAt(middle + fitting) - pace.inputAt(middle) < fitting / muchLonger;
    const key = slow && noisy ? -fitting : fitting;
    const known = vocoders.get(key) ?? new PhaseVocoder(fitting, channels.length, { wear, noise: slow && noisy ? 'scattered' : 'kept' });
    vocoders.set(key, known);
    return known;
  };
  for (const piece of piecesBetween(attacks, map, span, size)) {
    const from = Math.max(span.from, piece.begin - handOver);
    const to = Math.min(span.to, piece.end);
    if (to <= from) continue;
    const vocoder = vocoderFor(piece);
    const { inputs, first } = readPiece(channels, piece, { from, to }, size);
    const heard = channels.map(() => new Float32Array(Math.max(0, to - from)));
    const done = (share: Unit): boolean => progress?.((from + share * (to - from) - span.from) / (span.to - span.from)) ?? true;
    vocoder.run(inputs, heard, { from, to, origin: from }, (output) => piece.map.inputAt(output) - first, done);
    outputs.forEach((output, c) => addPiece(output, heard[c]!, piece, from, span));
  }
  return { sampleRate, channels: outputs };
}

/** The pieces of which something is heard within the span. */
function piecesBetween(attacks: readonly Frames[], map: TimeMap, span: Span, size: Frames): Piece[] {
  const cuts = attacks.map((at) => ({ at, heard: Math.round(map.outputAt(at)) })).filter(({ heard }) => heard < span.to);
  const starts: Heard[] = [{ at: -Infinity, heard: -Infinity }, ...cuts];
  return starts.flatMap(({ at, heard }, n) => {
    const next = cuts[n];
    const end = next?.heard ?? Infinity;
    if (end <= span.from || end <= heard) return [];
    const room = next ? Math.min(next.at - at, next.heard - heard) : Infinity;
    return [{ from: at, to: next?.at ?? Infinity, begin: heard, end, room, map: n === 0 ? map : paceOf(map, at, heard, next, size) }];
  });
}

/**
 * A piece's own map: its beginning at its own pace, for as long as a frame could see the attack and at most half of the piece; what follows has the time
 * that is left until the next attack, or until the map's last corner.
 */
function paceOf(map: TimeMap, at: Frames, heard: Frames, next: Heard | undefined, size: Frames): TimeMap {
  const target = next ?? { at: map.end.input, heard: map.end.output };
  const room = Math.min(target.at - at, target.heard - heard) / 2;
  // An attack behind the last corner has nothing to be in time for.
  if (room < 1) return map.shifted(heard - map.outputAt(at));
  const hold = Math.min(size / 2 + handOver, room);
  const behind = map.outputAt(at + hold);
  const scale = (target.heard - heard - hold) / (map.outputAt(target.at) - behind);
  const corners = [
    { input: at - 1, output: heard - 1 },
    { input: at, output: heard },
    { input: at + hold, output: heard + hold },
    ...map.cornersBetween(at + hold, target.at).map(({ input, output }) => ({ input, output: heard + hold + (output - behind) * scale })),
    { input: target.at, output: target.heard },
    { input: target.at + 1, output: target.heard + map.outputAt(target.at + 1) - map.outputAt(target.at) },
  ];
  return TimeMap.through(corners);
}

/** The piece's input with a frame around what is read; from the next attack on, what the sound before it leads one to expect. */
function readPiece(
  channels: readonly Float32Array[],
  { to, map }: Piece,
  heard: { readonly from: Frames; readonly to: Frames },
  size: Frames,
): { readonly inputs: readonly Float32Array[]; readonly first: Frames } {
  const reach = 2 * size;
  const first = Math.floor(map.inputAt(heard.from - size)) - reach;
  const last = Math.ceil(map.inputAt(heard.to + size)) + reach;
  const inputs = channels.map((channel) => {
    const input = new Float32Array(last - first);
    copyPadded(channel, first, input);
    const end = Math.round(to) - first;
    if (end < input.length) {
      // Nothing is learned from silence before the recording begins, nor more than what a frame can see is foretold.
      const seen = Math.ceil(size * Math.max(1.25, 2 * (map.inputAt(heard.to + 1) - map.inputAt(heard.to))));
      extrapolate(input, end, Math.min(input.length - end, reach, seen), learned, order);
      input.fill(0, Math.min(input.length, end + reach));
    }
    return input;
  });
  return { inputs, first };
}

/** Adds what is heard of a piece: it takes over in front of its attack from the piece before, which lets go meanwhile. */
function addPiece(output: Float32Array, heard: Float32Array, { begin, end }: Piece, from: Frames, span: Span): void {
  for (let i = 0; i < heard.length; i++) {
    const at = from + i;
    const enters = rise((at - begin + handOver) / handOver);
    const leaves = 1 - rise((at - end + handOver) / handOver);
    output[at - span.from]! += heard[i]! * enters * leaves;
  }
}

/** From 0 to 1, with no corner; what rises and what falls add up to 1. */
function rise(x: Unit): Unit {
  if (!(x > 0)) return 0;
  return x >= 1 ? 1 : 0.5 - 0.5 * Math.cos(Math.PI * x);
}

/** How long an attack lasts where it is laid over a stretched sound, and over what time it goes. */
const attackLasts: Frames = 3840;

/** Lays the attacks over a sound that was stretched without them; what lies below gives way. */
export function overlayAttacks(stretched: Audio, audio: Audio, map: TimeMap, span: Span, attacks: readonly Frames[], amount: Unit): Audio {
  const channels = stretched.channels.map((channel) => Float32Array.from(channel));
  attacks.forEach((attack, n) => {
    const begin = Math.round(map.outputAt(attack)) - span.from;
    const room = Math.min(attackLasts, (attacks[n + 1] ?? Infinity) - attack);
    for (let i = -handOver; i < room; i++) {
      const at = begin + i;
      if (at < 0 || at >= span.to - span.from) continue;
      const share = amount * (i < 0 ? rise(1 + i / handOver) : 1 - rise(i / room));
      const below = Math.sqrt(1 - share * share);
      channels.forEach((channel, c) => (channel[at] = channel[at]! * below + (audio.channels[c]![attack + i] ?? 0) * share));
    }
  });
  return { sampleRate: stretched.sampleRate, channels };
}
