import { maxBlock } from '../../dsp/block';
import type { Frames, Ratio } from '../../units';
import { AttackFinder } from './attack-finder';
import type { Loop } from './player';

/** What is slowed down: gives one frame after the other, and knows where on the time axis it is. */
export interface PlayedSound {
  readonly position: Frames;
  loop: Loop | undefined;
  seek(position: Frames): void;
  readonly channels: number;
  render(into: readonly Float32Array[], frames: Frames): Frames;
}

/** Half of a segment: how far segments lie apart in what is heard. */
const hop: Frames = 1_024;
/** How far a segment may move to meet the one before it. */
const search: Frames = 480;
/** The search looks at every n-th shift and sample first, then at all around the best. */
const coarse = 4;
/** Room for the segments in work: enough for the slowest look ahead. */
const capacity: Frames = 16_384;
const mask = capacity - 1;

/** So much behind the beginning of an attack is heard only once. */
const struck: Frames = 240;
/** In so few frames the sound goes over to an attack. */
const quickFade: Frames = 96;
/**
 * Attacks that follow each other too closely to be kept apart are heard as they come, until that runs so far ahead; then some of it is heard
 * again.
 */
const mostAhead: Frames = 3 * hop;

/**
 * Plays a sound more slowly without changing its pitch, to watch a slow picture with: waveform-similarity overlap-add (Verhelst & Roelands,
 * ICASSP 1993). Segments of 2,048 frames follow each other at the speed of the picture; each is moved by up to 10 ms to where it continues
 * the one before it best. An attack is heard once, when its time has come: segments in front of it end before it, one begins with it, and
 * those behind it begin later (after Röbel, DAFx 2003, who keeps attacks together in the spectrum).
 */
export class SlowPlayer {
  private readonly input: readonly Float32Array[];
  /** Sum of all channels, in which the search compares. */
  private readonly mono = new Float32Array(capacity);
  private readonly output: readonly Float32Array[];
  private readonly block: readonly Float32Array[];
  private readonly rise = Float32Array.from({ length: hop }, (_, i) => 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / hop));
  /** Frames taken from the sound since the last jump. */
  private taken: Frames = 0;
  /** Segments made since the last jump, and where the latest began in the input. */
  private segments = 0;
  private segmentStart: Frames = 0;
  private readonly finder = new AttackFinder();
  /** Segments begin no earlier: what lies in front is an attack that was heard. */
  private earliest: Frames = 0;
  /** Frames of `output` that were given away already. */
  private given: Frames = hop;
  /** Where frames of the input lie on the time axis: from each of these on, one by one. */
  private places: { readonly index: Frames; readonly position: Frames }[];

  /** @param speed 0.1 to 1 */
  constructor(
    private readonly sound: PlayedSound,
    readonly speed: Ratio,
  ) {
    this.places = [{ index: 0, position: sound.position }];
    const channels = (frames: Frames): Float32Array[] => Array.from({ length: sound.channels }, () => new Float32Array(frames));
    this.input = channels(capacity);
    this.output = channels(hop);
    this.block = channels(maxBlock);
  }

  get channels(): number {
    return this.sound.channels;
  }

  get loop(): Loop | undefined {
    return this.sound.loop;
  }

  set loop(loop: Loop | undefined) {
    this.sound.loop = loop;
  }

  /** Position on the time axis of the next frame, with a fraction. */
  get position(): Frames {
    const index = Math.max(0, this.segments * hop - hop + this.given) * this.speed;
    let place = this.places[0]!;
    for (const later of this.places) if (later.index <= index) place = later;
    return place.position + index - place.index;
  }

  seek(position: Frames): void {
    this.sound.seek(position);
    this.taken = this.segments = this.segmentStart = this.earliest = 0;
    this.finder.reset();
    this.given = hop;
    this.places = [{ index: 0, position: this.sound.position }];
  }

  /** Writes the next frames (at most `maxBlock`) and returns how many. */
  render(into: readonly Float32Array[], frames: Frames): Frames {
    const wanted = Math.min(frames, maxBlock);
    for (let done = 0; done < wanted;) {
      if (this.given === hop) this.makeSegment();
      const count = Math.min(wanted - done, hop - this.given);
      for (let c = 0; c < into.length; c++) into[c]!.set(this.output[c]!.subarray(this.given, this.given + count), done);
      this.given += count;
      done += count;
    }
    return wanted;
  }

  /** Crossfades from the second half of the latest segment to the first half of the next one. */
  private makeSegment(): void {
    const follows = this.segmentStart + hop;
    // A segment is heard at its own pace: begun a little early, its middle is heard when its time has come.
    const nominal = Math.round(this.segments * hop * this.speed - hop * (1 - this.speed));
    this.take(Math.max(nominal + search, follows) + 2 * hop + AttackFinder.lookAhead);
    const strike = this.segments === 0 ? undefined : this.strikeWithin(follows);
    const start = this.segments === 0 ? 0 : strike === undefined ? this.chooseStart(Math.max(0, nominal), follows) : strike.start;
    for (let c = 0; c < this.input.length; c++) {
      const input = this.input[c]!;
      const output = this.output[c]!;
      for (let i = 0; i < hop; i++) {
        const next = input[(start + i) & mask]!;
        const last = this.segments === 0 ? next : input[(follows + i) & mask]!;
        const share = strike === undefined ? this.rise[i]! : Math.max(0, Math.min(1, 1 - (strike.at - i) / quickFade));
        output[i] = last + (next - last) * share;
      }
    }
    this.passAttacks(start);
    this.segmentStart = start;
    this.segments++;
    this.given = 0;
    const heard = (this.segments - 1) * hop * this.speed;
    while (this.places.length > 1 && this.places[1]!.index <= heard) this.places.shift();
  }

  /** An attack whose time comes within what is made now: where its segment begins, and how far into it the attack is heard. */
  private strikeWithin(follows: Frames): { start: Frames; at: Frames } | undefined {
    const [attack] = this.finder.attacks;
    if (attack === undefined) return undefined;
    const at = Math.max(0, Math.round(attack / this.speed) - this.segments * hop);
    // What is heard until then must end in front of it.
    return at < hop && follows + at <= attack ? { start: attack - at, at } : undefined;
  }

  /** Where a segment begins that has no attack of its own to bring. */
  private chooseStart(nominal: Frames, follows: Frames): Frames {
    if (follows - nominal >= mostAhead) return this.bestStart(Math.max(0, nominal - search), nominal + search, follows);
    if (follows < this.earliest) return follows;
    const [attack] = this.finder.attacks;
    const latest = attack === undefined ? Infinity : attack - 2 * hop;
    if (latest < this.earliest) return follows;
    const most = Math.min(latest, Math.max(nominal, this.earliest) + search);
    return this.bestStart(Math.max(this.earliest, Math.min(nominal - search, most - 2 * search)), most, follows);
  }

  /** Attacks within the segment that begins at `start` are heard with it; what follows must not bring them again, unless it goes straight on. */
  private passAttacks(start: Frames): void {
    const { attacks } = this.finder;
    while (attacks.length > 0 && attacks[0]! < start + 2 * hop) this.earliest = attacks.shift()! + struck;
  }

  /** Takes from the sound until `end` frames are there. */
  private take(end: Frames): void {
    while (this.taken < end) {
      const expected = this.sound.position;
      const count = this.sound.render(this.block, Math.min(maxBlock, end - this.taken));
      for (let i = 0; i < count; i++) {
        const at = (this.taken + i) & mask;
        let sum = 0;
        for (let c = 0; c < this.input.length; c++) {
          const sample = this.block[c]![i]!;
          this.input[c]![at] = sample;
          sum += sample;
        }
        this.mono[at] = sum;
        this.finder.push(sum);
      }
      // A loop that returned before this block, or an edit's jump, begins a new stretch.
      if (this.sound.position !== expected + count) this.places.push({ index: this.taken, position: this.sound.position - count });
      this.taken += count;
    }
  }

  /** Where from `least` to `most` the input is most like what would follow naturally at `follows`. */
  private bestStart(least: Frames, most: Frames, follows: Frames): Frames {
    let best = least;
    let likeness = -Infinity;
    for (let start = least; start <= most; start += coarse) {
      const found = this.likeness(start, follows, coarse);
      if (found > likeness) {
        likeness = found;
        best = start;
      }
    }
    const around = best;
    likeness = -Infinity;
    for (let start = Math.max(least, around - coarse + 1); start < around + coarse && start <= most; start++) {
      const found = this.likeness(start, follows, 1);
      if (found > likeness) {
        likeness = found;
        best = start;
      }
    }
    return best;
  }

  /** Correlation of two stretches of the input, relative to the energy of the first. */
  private likeness(start: Frames, follows: Frames, step: number): number {
    const { mono } = this;
    let product = 0;
    let energy = 1e-12;
    for (let i = 0; i < hop; i += step) {
      const a = mono[(start + i) & mask]!;
      product += a * mono[(follows + i) & mask]!;
      energy += a * a;
    }
    return product / Math.sqrt(energy);
  }
}
