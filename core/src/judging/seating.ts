import type { Block } from '../dsp/block';
import { Cancelled } from '../cancelled';
import { maxBlock } from '../dsp/block';
import { channelsOf } from '../audio/layout';
import { FrameQueue, SpectralFrame } from '../dsp/spectral-frames';
import type { Sound } from '../project/schema';
import type { RenderContext } from '../render/library';
import { SoundGraph } from '../render/sound-graph';
import { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Frames, Hertz, Seconds, Unit } from '../units';

const size = 4_096;
const hop = 2_048;
/** Centres of the bands, a third of an octave wide (IEC 61260), from 25 Hz to 16 kHz. */
export const seatingBands: readonly Hertz[] = Array.from({ length: 29 }, (_, i) => 1_000 * 2 ** ((i - 16) / 3));
/** A noise masks what is this much weaker in its own band (Schroeder, Atal & Hall 1979: 5.5 dB for noise). */
const maskingOffset: Decibels = 5.5;
/** What lies this far below the loudest band of everything does not count as heard in the first place. */
const heardRange: Decibels = -50;
/** What lies this far below a layer's own loudest band is not what the layer is for. */
const ownRange: Decibels = -26;
/** A band of the sum that lies this far below the loudest one is empty. */
const emptyBelow: Decibels = -36;
/** Three bands are an octave: fewer are no gap. */
const smallestGap = 3;
/** A layer is covered in a band when this much of what it gives there is masked. */
const coveredFrom: Unit = 0.5;
const edge = 2 ** (1 / 6);

export interface LayerSeat {
  readonly layer: string;
  /** Where its weight lies, as a place among the bands: layers are shown in this order. */
  readonly register: number;
  /** Mean level per band in dBFS; -Infinity where it is silent. */
  readonly levels: readonly Decibels[];
  /** Its part of what all layers together give, per band. */
  readonly shares: readonly Unit[];
  /** Part of its own energy that other layers mask, per band; 0 where it gives next to nothing anyway. */
  readonly masked: readonly Unit[];
}

/** One layer hides another in a stretch of bands. */
export interface MaskedPair {
  readonly masker: string;
  readonly masked: string;
  readonly from: Hertz;
  readonly to: Hertz;
  /** Part of the hidden layer's energy in the stretch that is masked. */
  readonly share: Unit;
}

/** Who sits where, who hides whom, and where nobody sits. */
export interface Seating {
  readonly layers: readonly LayerSeat[];
  /** The level of all layers together, per band. */
  readonly sum: readonly Decibels[];
  readonly pairs: readonly MaskedPair[];
  readonly gaps: readonly { readonly from: Hertz; readonly to: Hertz }[];
}

/** Critical-band rate in Bark (Zwicker & Terhardt 1980). */
function bark(frequency: Hertz): number {
  return 13 * Math.atan(0.00076 * frequency) + 3.5 * Math.atan((frequency / 7_500) ** 2);
}

/** How far what masks has fallen `distance` Bark above (or, below 0, beneath) its own place (Schroeder, Atal & Hall 1979). */
export function spreading(distance: number): Decibels {
  const z = distance + 0.474;
  return 15.81 + 7.5 * z - 17.5 * Math.sqrt(1 + z * z);
}

/** `spread[to * bands + from]`: part of the power in one band that masks in another. */
const spread = (() => {
  const count = seatingBands.length;
  const table = new Float64Array(count * count);
  for (let to = 0; to < count; to++)
    for (let from = 0; from < count; from++)
      table[to * count + from] = 10 ** (spreading(bark(seatingBands[to]!) - bark(seatingBands[from]!)) / 10);
  return table;
})();

interface LayerTrack {
  readonly queue: FrameQueue;
  readonly powers: Float64Array;
  readonly energy: Float64Array;
  readonly maskedEnergy: Float64Array;
  /** Energy of this layer that the layer of the same index masks, band after band. */
  readonly maskedBy: Float64Array;
}

/**
 * Measures how the layers of a sound sit together: third-octave energies of every layer, window by window, and in each window which
 * layers are masked by the sum of the others, by a published spreading function. Time counts: layers that sound one after the other
 * do not hide each other.
 */
export class SeatingMeter {
  private readonly frame = new SpectralFrame(size);
  /** The lower of the two bands that a bin belongs to, and how much of it belongs to the upper one. */
  private readonly bandOf = new Int8Array(size / 2 + 1).fill(-2);
  private readonly upperShare = new Float64Array(size / 2 + 1);
  private readonly tracks = new Map<string, LayerTrack>();
  private readonly ids: readonly string[];
  private windows = 0;

  /** @param keep how much of the earlier windows a new one leaves; 1 counts all of them alike */
  constructor(
    layers: readonly string[],
    sampleRate: Hertz,
    channels: number,
    private readonly keep: Unit = 1,
  ) {
    this.ids = layers;
    const bands = seatingBands.length;
    for (const id of layers)
      this.tracks.set(id, {
        queue: new FrameQueue(channels, size, hop, maxBlock),
        powers: new Float64Array(bands),
        energy: new Float64Array(bands),
        maskedEnergy: new Float64Array(bands),
        maskedBy: new Float64Array(bands * layers.length),
      });
    // Bands at the bottom are hardly wider than a bin: a bin that lies across an edge counts for both sides.
    const place = (bin: number): number => 16.5 + 3 * Math.log2((bin * sampleRate) / size / 1_000);
    for (let bin = 1; bin < this.bandOf.length; bin++) {
      const low = place(bin - 0.5);
      const high = place(bin + 0.5);
      const band = Math.floor(low);
      this.bandOf[bin] = band < -1 || band >= bands ? -2 : band;
      this.upperShare[bin] = Math.max(0, Math.min(1, (high - band - 1) / (high - low)));
    }
  }

  /** Takes what a layer gives; a layer that is silent in a block need not be told of. */
  hear(layer: string, block: Block): void {
    this.tracks.get(layer)?.queue.write(block);
  }

  /** Ends a block of `frames` frames after all layers have been heard. */
  advance(frames: Frames): void {
    for (const { queue } of this.tracks.values()) queue.advance(frames);
    const [first] = this.tracks.values();
    if (!first?.queue.full) return;
    this.analyse();
    for (const { queue } of this.tracks.values()) queue.next();
  }

  private analyse(): void {
    const bands = seatingBands.length;
    for (const { queue, powers } of this.tracks.values()) {
      powers.fill(0);
      for (const channel of queue.channels) {
        this.frame.take(channel, 0);
        for (let bin = 1; bin < this.bandOf.length; bin++) {
          const band = this.bandOf[bin]!;
          if (band === -2) continue;
          const power = this.frame.power(bin);
          const upper = power * this.upperShare[bin]!;
          if (band >= 0) powers[band]! += power - upper;
          if (upper > 0 && band + 1 < bands) powers[band + 1]! += upper;
        }
      }
    }
    const list = this.ids.map((id) => this.tracks.get(id)!);
    const offset = 10 ** (-maskingOffset / 10);
    this.windows = this.windows * this.keep + 1;
    // What one band of each layer masks in another, once for all.
    const reach = list.map(({ powers }) =>
      Float64Array.from({ length: bands }, (_, to) => {
        let sum = 0;
        for (let from = 0; from < bands; from++) sum += powers[from]! * spread[to * bands + from]!;
        return sum;
      }),
    );
    list.forEach((track, own) => {
      for (let band = 0; band < bands; band++) {
        const power = track.powers[band]!;
        track.energy[band] = track.energy[band]! * this.keep + power;
        track.maskedEnergy[band]! *= this.keep;
        let masking = 0;
        for (let other = 0; other < list.length; other++) if (other !== own) masking += reach[other]![band]!;
        const hidden = power > 0 && power < masking * offset;
        if (hidden) track.maskedEnergy[band]! += power;
        for (let other = 0; other < list.length; other++) {
          const at = band * list.length + other;
          track.maskedBy[at]! *= this.keep;
          if (hidden && other !== own) track.maskedBy[at]! += (power * reach[other]![band]!) / masking;
        }
      }
    });
  }

  /** Everything that was heard so far. */
  read(): Seating {
    const bands = seatingBands.length;
    const list = this.ids.map((id) => this.tracks.get(id)!);
    // A sine of full scale in both channels reads 0 dB: the window spreads it over three bins, with 1.5 times the power of the middle one.
    const scale = 16 / (3 * size * size) / Math.max(1, this.windows);
    const total = Float64Array.from({ length: bands }, (_, band) => list.reduce((sum, { energy }) => sum + energy[band]!, 0));
    const loudest = Math.max(...total, 1e-30);
    const level = (power: number): Decibels => (power * scale > 1e-14 ? 10 * Math.log10(power * scale) : -Infinity);
    const counts = (power: number, own: number): boolean =>
      power > loudest * 10 ** (heardRange / 10) && power > own * 10 ** (ownRange / 10);
    const layers = list.map((track, index): LayerSeat => ({
      layer: this.ids[index]!,
      register: registerOf(track.energy),
      levels: Array.from(track.energy, level),
      shares: Array.from(track.energy, (power, band) => (total[band]! > 0 ? power / total[band]! : 0)),
      masked: Array.from(track.energy, (power, band) => (counts(power, Math.max(...track.energy)) ? track.maskedEnergy[band]! / power : 0)),
    }));
    return { layers, sum: Array.from(total, level), pairs: this.pairs(layers, list), gaps: gapsOf(total, loudest) };
  }

  private pairs(layers: readonly LayerSeat[], list: readonly LayerTrack[]): MaskedPair[] {
    const bands = seatingBands.length;
    const pairs: (MaskedPair & { weight: number })[] = [];
    layers.forEach((seat, own) => {
      const { energy, maskedBy, maskedEnergy } = list[own]!;
      const whole = energy.reduce((sum, power) => sum + power, 0);
      const mainMasker = (band: number): number | undefined => {
        if (seat.masked[band]! < coveredFrom) return undefined;
        let most = -1;
        for (let other = 0; other < list.length; other++)
          if (other !== own && (most < 0 || maskedBy[band * list.length + other]! > maskedBy[band * list.length + most]!)) most = other;
        return most < 0 ? undefined : most;
      };
      for (let band = 0; band < bands;) {
        const masker = mainMasker(band);
        let end = band + 1;
        if (masker !== undefined) {
          let power = energy[band]!;
          let hidden = maskedEnergy[band]!;
          for (; end < bands && mainMasker(end) === masker; end++) {
            power += energy[end]!;
            hidden += maskedEnergy[end]!;
          }
          pairs.push({
            masker: this.ids[masker]!,
            masked: seat.layer,
            from: seatingBands[band]! / edge,
            to: seatingBands[end - 1]! * edge,
            share: hidden / power,
            // What matters most is what is lost of a layer as a whole.
            weight: hidden / whole,
          });
        }
        band = end;
      }
    });
    return pairs.sort((a, b) => b.weight - a.weight).map(({ weight: _, ...pair }) => pair);
  }
}

function registerOf(energy: Float64Array): number {
  const whole = energy.reduce((sum, power) => sum + power, 0);
  return whole > 0 ? energy.reduce((sum, power, band) => sum + power * band, 0) / whole : 0;
}

/** Stretches of an octave or more, inside what the sound reaches, that hold next to nothing. */
function gapsOf(total: Float64Array, loudest: number): { from: Hertz; to: Hertz }[] {
  const empty = (band: number): boolean => total[band]! < loudest * 10 ** (emptyBelow / 10);
  const gaps: { from: Hertz; to: Hertz }[] = [];
  for (let band = 0; band < seatingBands.length;) {
    let end = band;
    while (end < seatingBands.length && empty(end)) end++;
    if (end - band >= smallestGap) gaps.push({ from: seatingBands[band]! / edge, to: seatingBands[end - 1]! * edge });
    band = Math.max(band + 1, end);
  }
  return gaps;
}

/** Layers that can be heard at all and have clips, in their order. */
export function seatedLayers(sound: Sound): string[] {
  return sound.layers.filter((layer) => layer.clips.length > 0).map((layer) => layer.id);
}

/** Measures the seating of a stretch of a sound. Throws Cancelled when `progress` returns false. */
export function measureSeating(
  sound: Sound,
  context: RenderContext,
  { from, to }: { readonly from: Seconds; readonly to: Seconds },
  progress: (share: Unit) => boolean = () => true,
): Seating {
  const { sampleRate } = context;
  const graph = new SoundGraph(sound, { ...context, offline: true }, new TreatmentCache());
  const meter = new SeatingMeter(seatedLayers(sound), sampleRate, channelsOf(sound.layout));
  const start = Math.round(from * sampleRate);
  const frames = Math.max(size, Math.round(to * sampleRate) - start);
  graph.startAt(start, Math.round(Math.min(from, 0.2) * sampleRate));
  graph.listener = meter;
  for (let at = 0; at < frames; at += maxBlock) {
    const count = Math.min(maxBlock, frames - at);
    graph.next(count);
    meter.advance(count);
    if ((at / maxBlock) % 32 === 0 && !progress(at / frames)) throw new Cancelled();
  }
  return meter.read();
}
