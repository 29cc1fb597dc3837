import type { Frames, Hertz } from '../units';
import { BusCompression } from './bus-compressor';
import type { BusCompressor, GameBus } from './conduct-data';
import { openCut } from './hearing';
import { lowPass } from './plain-voices';
import { GameRoom } from './room';
import { benchFrames } from './voice-bench';

/** A low cut is not heard from here on down. */
const openLowCut: Hertz = 20;

/** What one bus does with all that goes through it: its room, then its cuts, then its compressor. Levels are in the voices. */
export class BusStrip {
  readonly left = new Float32Array(benchFrames);
  readonly right = new Float32Array(benchFrames);
  /** What its room is to answer. */
  readonly roomLeft = new Float32Array(benchFrames);
  readonly roomRight = new Float32Array(benchFrames);
  /** Where it goes; to what is heard where there is none. */
  into: BusStrip | undefined;
  /** The strip of the nearest bus with a room, and how much goes there of what has no place. */
  hall: BusStrip = this;
  wet = 0;
  private room: GameRoom | undefined;
  private readonly cuts: readonly TwoPoles[];
  private readonly compression: BusCompression;
  private compressor: BusCompressor | undefined;

  constructor(private readonly sampleRate: Hertz) {
    this.compression = new BusCompression(sampleRate);
    this.cuts = [true, true, false, false].map((isLow) => new TwoPoles(isLow));
  }

  set(bus: GameBus): void {
    const { sampleRate, cuts } = this;
    if (bus.room) (this.room ??= new GameRoom(sampleRate)).set(bus.room);
    else this.room = undefined;
    this.compressor = bus.compressor;
    for (const [n, cut] of cuts.entries()) {
      const hertz = n < 2 ? bus.lowCut : bus.highCut;
      const open = n < 2 ? hertz <= openLowCut : hertz >= openCut;
      cut.set(open ? undefined : Math.tan((Math.PI * Math.min(hertz, 0.45 * sampleRate)) / sampleRate));
    }
  }

  clear(frames: Frames): void {
    for (const each of [this.left, this.right, this.roomLeft, this.roomRight]) each.fill(0, 0, frames);
  }

  add(left: Float32Array, right: Float32Array, frames: Frames): void {
    mix(left, this.left, frames);
    mix(right, this.right, frames);
  }

  /** Shares what has no place between the bus and the room. */
  share(left: Float32Array, right: Float32Array, frames: Frames): void {
    const { wet, hall } = this;
    const dry = Math.sqrt(1 - wet * wet);
    mix(left, this.left, frames, dry);
    mix(right, this.right, frames, dry);
    mix(left, hall.roomLeft, frames, wet);
    mix(right, hall.roomRight, frames, wet);
  }

  /** Does what it does, and adds what comes of it to the bus that it goes into, or else to what is heard. */
  addTo(left: Float32Array, right: Float32Array, frames: Frames): void {
    this.room?.addTo(this.roomLeft, this.roomRight, this.left, this.right, frames);
    for (const [n, cut] of this.cuts.entries()) cut.run(n % 2 ? this.right : this.left, frames);
    if (this.compressor) this.compression.run(this.compressor, this.left, this.right, frames);
    if (this.into) return this.into.add(this.left, this.right, frames);
    mix(this.left, left, frames);
    mix(this.right, right, frames);
  }
}

function mix(from: Float32Array, into: Float32Array, frames: Frames, by = 1): void {
  for (let i = 0; i < frames; i++) into[i] = into[i]! + by * from[i]!;
}

/** One channel of a cut. */
class TwoPoles {
  private g: number | undefined;
  private readonly held = new Float64Array(2);

  constructor(private readonly isLowCut: boolean) {}

  /** Without a coefficient it is open. */
  set(g: number | undefined): void {
    this.g = g;
    if (g === undefined) this.held.fill(0);
  }

  run(samples: Float32Array, frames: Frames): void {
    const { g, held, isLowCut } = this;
    if (g === undefined) return;
    for (let i = 0; i < frames; i++) {
      const sample = samples[i]!;
      const band = held[0]!;
      const low = lowPass(held, 0, sample, g);
      // What is left without the low and the band, which is the mean of what the filter held before and holds after.
      samples[i] = isLowCut ? sample - low - Math.SQRT1_2 * (band + held[0]!) : low;
    }
    // Numbers that come to no end take a hundred times as long.
    for (let n = 0; n < 2; n++) if (Math.abs(held[n]!) < 1e-18) held[n] = 0;
  }
}

/** The strips of all buses that do something, or go into one that does; each before those that it goes into. What was in a strip before goes on. */
export function stripsOf(
  lines: ReadonlyMap<string, readonly GameBus[]>,
  sampleRate: Hertz,
  before: ReadonlyMap<string, BusStrip>,
): Map<string, BusStrip> {
  const does = ({ lowCut, highCut, room, compressor }: GameBus): boolean =>
    lowCut > openLowCut || highCut < openCut || room !== undefined || compressor !== undefined;
  const strips = new Map<string, BusStrip>();
  const active = [...lines].filter(([, line]) => line.some(does)).sort(([, a], [, b]) => b.length - a.length);
  for (const [id, line] of active) {
    const strip = before.get(id) ?? new BusStrip(sampleRate);
    strip.set(line[0]!);
    strips.set(id, strip);
  }
  for (const [id, line] of active) {
    const strip = strips.get(id)!;
    const next = line[1]?.id;
    strip.into = next === undefined ? undefined : strips.get(next);
    const around = line.find(({ room }) => room);
    strip.hall = (around && strips.get(around.id)) ?? strip;
    strip.wet = Math.sqrt(around?.room?.share ?? 0);
  }
  return strips;
}
