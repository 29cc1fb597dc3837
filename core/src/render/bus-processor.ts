import type { Block } from '../dsp/block';
import { createBlock } from '../dsp/block';
import type { Bus, Layer } from '../project/schema';
import type { Frames } from '../units';
import type { Automation } from './automation';
import type { ChainContext } from './chain/chain-context';
import { ChainProcessor } from './chain/chain';
import { DelayLine } from '../dsp/delay-line';
import { Fader, faderLanes } from './fader';

/** The sends of a layer or a group: adds what comes out of it to shared buses. */
export class Sends {
  private readonly faders: { readonly bus: string; readonly fader: Fader }[];

  constructor(sends: Layer['sends'], channels: number) {
    this.faders = sends.map(({ bus }) => ({ bus, fader: new Fader(channels) }));
  }

  apply(sends: Layer['sends'], automation: Automation, owner: string): void {
    sends.forEach(({ bus, gain }, index) =>
      this.faders[index]?.fader.aim({ gain, pan: 0 }, true, { gain: automation.reader(`${owner}/send`, bus) }),
    );
  }

  /** @param inputs the blocks that collect what is sent, by bus */
  addTo(inputs: ReadonlyMap<string, Block>, block: Block, time: Frames): void {
    for (const { bus, fader } of this.faders) {
      const input = inputs.get(bus);
      if (input) fader.addTo(input, block, time);
    }
  }
}

/**
 * A group or a shared bus at work: what was added to `input` runs through its chain and its fader. Its output comes `lead` frames later
 * than its input, whatever the latency of its chain, so that all buses of a kind stay aligned.
 */
export class BusProcessor {
  readonly id: string;
  readonly address: string;
  readonly chain: ChainProcessor;
  readonly input: Block;
  readonly sends: Sends;
  private readonly delay: DelayLine;
  private readonly fader: Fader;

  constructor(
    bus: Bus,
    context: ChainContext,
    private readonly lead: Frames,
  ) {
    this.id = bus.id;
    this.address = `bus/${bus.id}`;
    const { channels } = context;
    this.input = createBlock(channels);
    this.chain = new ChainProcessor(bus.chain, context);
    this.sends = new Sends(bus.sends, channels);
    this.delay = new DelayLine(lead - this.chain.latency, channels);
    this.fader = new Fader(channels);
  }

  apply(bus: Bus, automation: Automation): void {
    const owner = this.address;
    this.chain.apply(bus.chain, automation, owner);
    this.fader.aim(bus, !bus.muted, faderLanes(automation, owner));
    this.sends.apply(bus.sends, automation, owner);
  }

  /** Turns the input, which lies at `time`, into the output of the bus, which lies `lead` frames earlier. */
  process(time: Frames): Block {
    const { input } = this;
    this.chain.process(input, time);
    this.delay.process(input);
    this.fader.process(input, time - this.lead);
    return input;
  }
}
