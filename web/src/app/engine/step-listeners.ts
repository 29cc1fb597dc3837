import type { ChangeReading, EffectStep, StepTap } from '@tangled-choir/core';
import { ChangeListener, ChangeMeter, SpectrumTap, stepLatency } from '@tangled-choir/core';
import { spectrumHigh, spectrumLow, spectrumPoints } from './protocol';

/** The chain that the page shows, the step whose spectra it draws, and the step of which only the change is to be heard. */
export interface ChainOfInterest {
  readonly chain: readonly EffectStep[];
  readonly open: string | undefined;
  readonly difference: string | undefined;
}

/** Everybody who listens at the steps of one chain while it plays. */
export class StepListeners {
  readonly taps: ReadonlyMap<string, StepTap>;
  readonly difference: ChangeListener | undefined;
  private readonly spectra: { readonly step: string; readonly before: SpectrumTap; readonly after: SpectrumTap } | undefined;
  private readonly meters = new Map<string, { readonly latency: number; readonly meter: ChangeMeter }>();
  private readonly differenceKey: string | undefined;

  /** @param previous whoever listens at the same steps already is kept, so that meters do not start anew with every edit */
  constructor({ chain, open, difference }: ChainOfInterest, sampleRate: number, previous?: StepListeners) {
    const taps = new Map<string, StepTap>();
    for (const step of chain) {
      const latency = stepLatency(step, sampleRate);
      const known = previous?.meters.get(step.id);
      const entry = known?.latency === latency ? known : { latency, meter: new ChangeMeter(sampleRate, latency) };
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
      if (step.id === difference) {
        this.differenceKey = `${step.id} ${latency}`;
        this.difference =
          previous?.differenceKey === this.differenceKey && previous.difference
            ? previous.difference
            : new ChangeListener(sampleRate, latency);
        listeners.push(this.difference);
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

function spectrum(tap: SpectrumTap | undefined): Float32Array | undefined {
  if (!tap) return undefined;
  const levels = new Float32Array(spectrumPoints);
  tap.levels(levels, spectrumLow, spectrumHigh);
  return levels;
}
