import type { Block } from '../dsp/block';
import type { Reference } from '../project/chain/references';
import type { Layer } from '../project/schema';
import type { Frames } from '../units';
import type { Keys } from './chain/chain-context';

/** The latest output of one layer by its place on the time axis: what was not written is silent. */
export class LayerHistory {
  private readonly channels: readonly Float32Array[];
  private written: Frames = -Infinity;
  private first: Frames = Infinity;

  constructor(
    private readonly capacity: Frames,
    channels: number,
  ) {
    this.channels = Array.from({ length: channels }, () => new Float32Array(capacity));
  }

  /** Appends what lies at `time`; without a block, silence. */
  write(time: Frames, frames: Frames, block?: Block): void {
    if (time !== this.written) this.first = time;
    for (let c = 0; c < this.channels.length; c++) {
      const line = this.channels[c]!;
      const samples = block?.channels[c];
      let at = place(time, this.capacity);
      for (let i = 0; i < frames; i++) {
        line[at] = samples ? samples[i]! : 0;
        if (++at === this.capacity) at = 0;
      }
    }
    this.written = time + frames;
  }

  /** The stretch of the time axis that is remembered. */
  get extent(): { readonly from: Frames; readonly to: Frames } {
    return { from: Math.max(this.first, this.written - this.capacity), to: this.written };
  }

  /** Adds the frames from `time` on to a block. */
  addTo(into: Block, time: Frames): void {
    const oldest = Math.max(this.first, this.written - this.capacity);
    const from = Math.max(0, oldest - time);
    const to = Math.min(into.frames, this.written - time);
    for (let c = 0; c < into.channels.length; c++) {
      const line = this.channels[c % this.channels.length]!;
      const samples = into.channels[c]!;
      let at = place(time + from, this.capacity);
      for (let i = from; i < to; i++) {
        samples[i]! += line[at]!;
        if (++at === this.capacity) at = 0;
      }
    }
  }
}

function place(time: Frames, capacity: Frames): Frames {
  return ((time % capacity) + capacity) % capacity;
}

/** Keys of a sound: layers before their faders, so that one can be a key without being heard; groups as the sum of their layers. */
export class KeyStore implements Keys {
  private readonly histories = new Map<string, LayerHistory>();
  private readonly groups = new Map<string, string[]>();

  /** @param layers those that are taken as keys */
  constructor(layers: readonly Layer[], capacity: Frames, channels: number) {
    for (const { id, group } of layers) {
      this.histories.set(id, new LayerHistory(capacity, channels));
      if (group !== undefined) this.groups.set(group, [...(this.groups.get(group) ?? []), id]);
    }
  }

  historyOf(layer: string): LayerHistory | undefined {
    return this.histories.get(layer);
  }

  /** The stretch of the time axis that all layers behind a key have reached. */
  extent({ kind, id }: Reference): { readonly from: Frames; readonly to: Frames } {
    const ids = kind === 'layer' ? [id] : (this.groups.get(id) ?? []);
    let [from, to] = [-Infinity, ids.length > 0 ? Infinity : -Infinity];
    for (const layer of ids) {
      const extent = this.histories.get(layer)?.extent;
      from = Math.max(from, extent?.from ?? Infinity);
      to = Math.min(to, extent?.to ?? -Infinity);
    }
    return { from, to };
  }

  read({ kind, id }: Reference, time: Frames, into: Block): void {
    for (const channel of into.channels) channel.fill(0, 0, into.frames);
    if (kind === 'layer') this.histories.get(id)?.addTo(into, time);
    else for (const layer of this.groups.get(id) ?? []) this.histories.get(layer)?.addTo(into, time);
  }
}
