import type { ChangeReading, StepTap } from '@tangled-choir/core';
import { BandListener, ChangeListener, ChangeMeter, SpectrumTap, stepLatency } from '@tangled-choir/core';
import type { ChainOfInterest, HeardAlone } from '../protocol';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../protocol';

/** Everybody who listens at the steps of one chain while it plays. */
export class StepListeners {
  readonly taps: ReadonlyMap<string, StepTap>;
  /** Keeps what is heard in the place of everything. */
  readonly alone: ChangeListener | BandListener | undefined;
  private readonly spectra: { readonly step: string; readonly before: SpectrumTap; readonly after: SpectrumTap } | undefined;
  private readonly meters = new Map<string, { readonly latency: number; readonly meter: ChangeMeter }>();
  private readonly aloneKey: string | undefined;

  /** @param previous whoever listens at the same steps already is kept, so that meters do not start anew with every edit */
  constructor({ chain, open, alone }: ChainOfInterest, sampleRate: number, channels: number, previous?: StepListeners) {
    const taps = new Map<string, StepTap>();
    for (const step of chain) {
      const latency = stepLatency(step, { sampleRate });
      const known = previous?.meters.get(step.id);
      const entry = known?.latency === latency ? known : { latency, meter: new ChangeMeter(sampleRate, latency, channels) };
      this.meters.set(step.id, entry);
      const listeners: StepTap[] = [entry.meter];
      if (step.id === open) {
        this.spectra =
          previous?.spectra?.step === step.id
            ? previous.spectra
            : { step: step.id, before: new SpectrumTap(sampleRate), after: new SpectrumTap(sampleRate) };
        const { before, after } = this.spectra;
        listeners.push({ hearBefore: (block) => before.write(block), hearAfter: (block) => after.write(block) });
      }
      if (step.id === alone?.step) {
        this.aloneKey = `${step.id} ${latency} ${channels}`;
        const known = previous?.aloneKey === this.aloneKey ? previous.alone : undefined;
        this.alone = listenerFor(alone, known, sampleRate, latency, channels);
        listeners.push(this.alone);
      }
      taps.set(step.id, {
        hearBefore: (block) => listeners.forEach((listener) => listener.hearBefore(block)),
        hearAfter: (block) => listeners.forEach((listener) => listener.hearAfter(block)),
      });
    }
    this.taps = taps;
  }

  spectrumBefore(): Float32Array | undefined {
    return spectrum(this.spectra?.before);
  }

  spectrumAfter(): Float32Array | undefined {
    return spectrum(this.spectra?.after);
  }

  /** How much each step changes what it hears; steps that heard only silence are missing. */
  changes(): ReadonlyMap<string, ChangeReading> {
    const readings = new Map<string, ChangeReading>();
    for (const [step, { meter }] of this.meters) {
      const reading = meter.read();
      if (reading) readings.set(step, reading);
    }
    return readings;
  }
}

/** A listener of the kind that is wanted; one that listens already goes on. */
function listenerFor(
  { what }: HeardAlone,
  known: StepListeners['alone'],
  sampleRate: number,
  latency: number,
  channels: number,
): ChangeListener | BandListener {
  if (what === 'change') return known instanceof ChangeListener ? known : new ChangeListener(sampleRate, latency, channels);
  if (!(known instanceof BandListener)) return new BandListener(sampleRate, what, channels);
  known.tune(what);
  return known;
}

function spectrum(tap: SpectrumTap | undefined): Float32Array | undefined {
  if (!tap) return undefined;
  const levels = new Float32Array(spectrumPoints);
  tap.levels(levels, spectrumLow, spectrumHigh);
  return levels;
}
