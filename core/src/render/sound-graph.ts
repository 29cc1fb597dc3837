import type { Block } from '../dsp/block';
import { addBlock, clearBlock, createBlock, maxBlock } from '../dsp/block';
import { channelsOf } from '../audio/layout';
import { followedLayers, keyLayers, keyOrder } from '../project/chain/references';
import { withoutSolos } from '../project/listening';
import type { Bus, BusKind, Follower, Layer, Sound } from '../project/schema';
import type { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Frames, Hertz, Unit } from '../units';
import { Automation, effectStep } from './automation';
import { BusProcessor } from './bus-processor';
import type { ChainContext } from './chain/chain-context';
import { ChainProcessor } from './chain/chain';
import type { LatencyContext } from './chain/chain-measures';
import { chainLatency, chainStructure, chainTail } from './chain/chain-measures';
import { DelayLine } from '../dsp/delay-line';
import { Fader } from './fader';
import { FollowerTracks } from './follower-tracks';
import { KeyStore } from './key-store';
import type { Hands } from './live/hands';
import { LayerProcessor } from './layer-processor';
import { layerPatchTail } from './note-mix';
import { pulledClips } from './pulled-clips';
import type { RenderContext } from './library';
import { sourceAudio } from './library';
import type { StepTaps } from './chain/step-processor';

/** Hears what every layer gives, behind its chain and its fader. */
export interface LayerListener {
  hear(layer: string, block: Block): void;
}

/** Measures what the parts of a sound cost, with a clock from outside: layers with their clips and chains, buses, the sound's chain. */
export interface LoadListener {
  readonly now: () => number;
  /** @param owner `layer/<id>`, `bus/<id>` or `sound` */
  add(owner: string, spent: number): void;
}

/** The layers that can be heard, by id: neither they nor their group are muted, and if anything is soloed, they or their group are. */
export function audibleLayers({ layers, buses, soloing }: Pick<Sound, 'layers' | 'buses' | 'soloing'>): ReadonlySet<string> {
  const someSoloed = soloing && [...layers, ...buses].some(({ soloed }) => soloed);
  const groups = new Map(buses.map((bus) => [bus.id, bus]));
  const audible = layers.filter(({ group: id, muted, soloed }) => {
    const group = id === undefined ? undefined : groups.get(id);
    return !muted && !group?.muted && (!someSoloed || soloed || group?.soloed);
  });
  return new Set(audible.map(({ id }) => id));
}

/** What of a sound cannot change without building its graph anew; everything else glides. */
export function soundStructure(sound: Sound, sampleRate: Hertz): string {
  const targets = ({ sends }: Layer | Bus): string[] => sends.map((send) => send.bus);
  const layers = sound.layers.map((layer) => [[layer.id, layer.group, targets(layer)], chainStructure(layer.chain, sampleRate)]);
  const buses = sound.buses.map((bus) => [bus.id, bus.kind, targets(bus), chainStructure(bus.chain, sampleRate)]);
  const owners = [...sound.layers.map(({ id }) => `layer/${id}`), ...sound.buses.map(({ id }) => `bus/${id}`), 'sound'];
  const followed = sound.movers.some(({ kind }) => kind === 'follower') ? owners.map((owner) => followedLayers(sound, owner)) : [];
  return JSON.stringify([sound.id, sound.layout, layers, buses, chainStructure(sound.chain, sampleRate), followed]);
}

/** Frames that a sound can go on after its last clip: the longest chains of layers, groups and shared buses behind each other. */
export function soundTail(sound: Sound, context: RenderContext): Frames {
  const { sampleRate } = context;
  const at = { sampleRate, source: (id: string) => sourceAudio(context, id) };
  const automation = new Automation(sound, sampleRate);
  const busTail = (kind: BusKind): Frames =>
    sound.buses
      .filter((bus) => bus.kind === kind)
      .reduce((most, bus) => Math.max(most, chainTail(bus.chain, at, automation, `bus/${bus.id}`)), 0);
  const layers = sound.layers.reduce((most, layer) => {
    const chain = chainTail(layer.chain, at, automation, `layer/${layer.id}`);
    return Math.max(most, chain + (layer.patch ? layerPatchTail(layer.id, layer.patch, sampleRate, automation) : 0));
  }, 0);
  return layers + busTail('group') + busTail('shared') + chainTail(sound.chain, at, automation, 'sound');
}

/** How far the layers that are keys must run ahead of where they are heard, so that those who take them can look that far ahead. */
function keyLeads(sound: Sound, context: LatencyContext): ReadonlyMap<string, Frames> {
  const leads = new Map<string, Frames>();
  const order = keyOrder(sound);
  // Layers that take each other in a circle have no keys at all.
  if (!order) return leads;
  // What is moved looks a step ahead, so what it follows must be there by then.
  const need = (owner: string, chain: Sound['chain'], reach: Frames): void => {
    const ahead = followedLayers(sound, owner).length > 0 ? reach + effectStep : reach;
    for (const key of keyLayers(sound, owner, chain)) leads.set(key, Math.max(leads.get(key) ?? 0, ahead));
  };
  for (const bus of sound.buses) need(`bus/${bus.id}`, bus.chain, 0);
  need('sound', sound.chain, 0);
  for (const id of order.toReversed()) {
    const layer = sound.layers.find((candidate) => candidate.id === id)!;
    need(`layer/${id}`, layer.chain, (leads.get(id) ?? 0) + chainLatency(layer.chain, context));
  }
  return leads;
}

/**
 * A sound at work, block by block in its layout: clips are mixed into layers, layers run their chains and go into their groups, both send
 * to shared buses, and the sum of all runs the sound's chain. Latency is compensated by reading ahead: a layer whose chain lags by n
 * frames takes its clips n frames early, and all layers run ahead by what the slowest group, the slowest shared bus and the sound's
 * chain lag. Delay lines are only needed where paths past slow and quick buses meet. A layer that is a key of others runs ahead of them
 * by as much as they read ahead, and is heard late.
 */
export class SoundGraph {
  /** In the order in which they are computed: keys before those that they are taken by. */
  private readonly layers: LayerProcessor[];
  private readonly keys: KeyStore;
  private readonly followers: FollowerTracks;
  private following: readonly Follower[] = [];
  private applied: { readonly layers: readonly Layer[]; readonly automation: Automation } | undefined;
  private hands: Hands | undefined;
  /** How far layers that are keys run ahead of the others. */
  private readonly keyLeads: ReadonlyMap<string, Frames>;
  private readonly groups: BusProcessor[];
  private readonly shared: BusProcessor[];
  private readonly chain: ChainProcessor;
  private readonly fader: Fader;
  private readonly sum: Block;
  private readonly late: Block;
  /** What layers send to shared buses, which runs ahead by what groups lag. */
  private readonly early: ReadonlyMap<string, { readonly block: Block; readonly delay: DelayLine }>;
  private readonly earlyInputs: ReadonlyMap<string, Block>;
  private readonly sharedInputs: ReadonlyMap<string, Block>;
  private readonly groupInputs: ReadonlyMap<string, Block>;
  private readonly pastGroups: DelayLine;
  private readonly pastShared: DelayLine;
  private readonly groupLead: Frames;
  private readonly sharedLead: Frames;
  private position: Frames = 0;
  listener: LayerListener | undefined;
  load: LoadListener | undefined;
  /** Frames that must run through before the output is in place. */
  private readonly lead: Frames;

  constructor(
    given: Sound,
    private context: RenderContext,
    cache: TreatmentCache,
  ) {
    const { sampleRate } = context;
    const sound = pulledClips(given, sampleRate);
    const channels = channelsOf(sound.layout);
    this.fader = new Fader(channels);
    this.sum = createBlock(channels);
    this.late = createBlock(channels);
    const longest = (owners: readonly { chain: Sound['chain'] }[]): Frames =>
      owners.reduce((most, { chain }) => Math.max(most, chainLatency(chain, context)), 0);
    this.keyLeads = keyLeads(sound, context);
    const slowest = longest(sound.layers) + Math.max(0, ...this.keyLeads.values());
    this.groupLead = longest(sound.buses.filter(({ kind }) => kind === 'group'));
    this.sharedLead = longest(sound.buses.filter(({ kind }) => kind === 'shared'));
    this.lead = slowest + this.groupLead + this.sharedLead + chainLatency(sound.chain, context);
    const keyed = sound.layers.filter((layer) => this.keyLeads.has(layer.id));
    const remembered = this.lead + 4 * maxBlock;
    this.keys = new KeyStore(keyed, remembered, channels);
    this.followers = new FollowerTracks(this.keys, sampleRate, remembered, channels);
    const chainContext: ChainContext = {
      sampleRate,
      channels,
      keys: this.keys,
      source: (id) => sourceAudio(context, id),
      ...(context.offline && { offline: true }),
    };
    const order = keyOrder(sound) ?? sound.layers.map(({ id }) => id);
    this.layers = order.flatMap((id) => {
      const layer = sound.layers.find((candidate) => candidate.id === id);
      return layer ? [new LayerProcessor(layer, context, sound.layout, chainContext, cache)] : [];
    });
    const busesOf = (kind: BusKind, lead: Frames): BusProcessor[] =>
      sound.buses.filter((bus) => bus.kind === kind).map((bus) => new BusProcessor(bus, chainContext, lead));
    this.groups = busesOf('group', this.groupLead);
    this.shared = busesOf('shared', this.sharedLead);
    this.chain = new ChainProcessor(sound.chain, chainContext);
    this.pastGroups = new DelayLine(this.groupLead, channels);
    this.pastShared = new DelayLine(this.sharedLead, channels);
    this.early = new Map(
      this.shared.map((bus) => [bus.id, { block: createBlock(channels), delay: new DelayLine(this.groupLead, channels) }]),
    );
    this.earlyInputs = new Map([...this.early].map(([id, { block }]) => [id, block]));
    this.sharedInputs = new Map(this.shared.map((bus) => [bus.id, bus.input]));
    this.groupInputs = new Map(this.groups.map((bus) => [bus.id, bus.input]));
    this.take(sound);
  }

  /**
   * Takes over everything that can change without a new structure; `context` may bring treated clips, and recordings that were not there yet, but no
   * others in the place of those that were.
   */
  apply(changed: Sound, context = this.context): void {
    this.take(pulledClips(changed, context.sampleRate), context);
  }

  private take(changed: Sound, context = this.context): void {
    // Solos that are set aside are those of branches, too.
    const sound = changed.soloing ? changed : withoutSolos(changed);
    this.context = context;
    const automation = new Automation(sound, this.context.sampleRate, this.followers);
    this.applied = { layers: sound.layers, automation };
    if (this.hands) this.aimHands(this.hands);
    this.following = sound.movers.filter((mover) => mover.kind === 'follower');
    const processors = new Map(this.layers.map((layer) => [layer.id, layer]));
    const audible = audibleLayers(sound);
    for (const layer of sound.layers) processors.get(layer.id)?.apply(layer, audible.has(layer.id), automation, context);
    const buses = [...this.groups, ...this.shared];
    for (const bus of sound.buses) buses.find(({ id }) => id === bus.id)?.apply(bus, automation);
    this.chain.apply(sound.chain, automation, 'sound');
    this.fader.aim({ gain: sound.gain, pan: 0 }, true, { gain: automation.reader('sound', 'gain') });
  }

  /** Lets somebody play on its layers by hand, from now on; nothing ends that. */
  set played(hands: Hands | undefined) {
    this.hands = hands;
    for (const layer of this.layers) layer.hands = hands;
    if (hands) this.aimHands(hands);
  }

  private aimHands(hands: Hands): void {
    for (const layer of this.applied?.layers ?? []) hands.aim(layer, this.applied!.automation, this.context);
  }

  /** Goes to `position` and lets filters and detectors settle on what comes before it. */
  startAt(position: Frames, settle: Frames): void {
    let remaining = this.lead + settle;
    this.position = position - remaining;
    while (remaining > 0) {
      const frames = Math.min(maxBlock, remaining);
      this.next(frames);
      remaining -= frames;
    }
  }

  /** The next `frames` frames (at most `maxBlock`); valid until the next call. */
  next(frames: Frames): Block {
    const { sum, position } = this;
    const atSum = position + this.chain.latency;
    const atShared = atSum + this.sharedLead;
    const atGroups = atShared + this.groupLead;
    clearBlock(sum, frames);
    for (const bus of this.groups) clearBlock(bus.input, frames);
    for (const { block } of this.early.values()) clearBlock(block, frames);
    this.addLayers(atGroups, frames);
    this.pastGroups.process(sum);
    for (const bus of this.shared) {
      const { block, delay } = this.early.get(bus.id)!;
      delay.process(block);
      clearBlock(bus.input, frames);
      addBlock(bus.input, block);
    }
    for (const bus of this.groups) {
      const output = this.timed(bus, atGroups);
      addBlock(sum, output);
      bus.sends.addTo(this.sharedInputs, output, atShared);
    }
    this.pastShared.process(sum);
    for (const bus of this.shared) addBlock(sum, this.timed(bus, atShared));
    const started = this.load?.now() ?? 0;
    this.chain.process(sum, atSum);
    this.load?.add('sound', this.load.now() - started);
    this.fader.process(sum, position);
    this.position += frames;
    return sum;
  }

  private addLayers(position: Frames, frames: Frames): void {
    for (const layer of this.layers) {
      const started = this.load?.now() ?? 0;
      const given = this.keys.historyOf(layer.id) ? this.nextKey(layer, position, frames) : layer.next(position, frames);
      const block = given && layer.fade(given, position);
      this.load?.add(layer.address, this.load.now() - started);
      if (!block) continue;
      this.listener?.hear(layer.id, block);
      addBlock((layer.group !== undefined && this.groupInputs.get(layer.group)) || this.sum, block);
      layer.sends.addTo(this.earlyInputs, block, position);
    }
  }

  private timed(bus: BusProcessor, time: Frames): Block {
    const started = this.load?.now() ?? 0;
    const output = bus.process(time);
    this.load?.add(bus.address, this.load.now() - started);
    return output;
  }

  /** Lets a layer that is a key run ahead, and takes from what it has given. */
  private nextKey(layer: LayerProcessor, position: Frames, frames: Frames): Block {
    const history = this.keys.historyOf(layer.id)!;
    const ahead = position + this.keyLeads.get(layer.id)!;
    history.write(ahead, frames, layer.next(ahead, frames));
    clearBlock(this.late, frames);
    history.addTo(this.late, position);
    return this.late;
  }

  private get chains(): ChainProcessor[] {
    return [this.chain, ...this.layers.map(({ chain }) => chain), ...[...this.groups, ...this.shared].map(({ chain }) => chain)];
  }

  /** How far every follower has gone by now, by its id. */
  followerValues(into: Map<string, Unit>): void {
    for (const follower of this.following) into.set(follower.id, this.followers.at(follower, this.position));
  }

  /** Listens at steps of any chains. */
  set taps(taps: StepTaps) {
    for (const chain of this.chains) chain.taps = taps;
  }

  gainReductions(into: Map<string, Decibels>): void {
    for (const layer of this.layers) layer.gainReductions(into);
    for (const bus of [...this.groups, ...this.shared]) bus.chain.gainReductions(into);
    this.chain.gainReductions(into);
  }
}
