import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import type { MidiMessage } from './midi-message';
import { readMidiMessage } from './midi-message';

/** The MIDI keyboards of this machine, as far as the browser lets them be heard. */
@Injectable()
export class MidiInput {
  /** Names of the keyboards that are listened to. */
  readonly devices = signal<readonly string[]>([]);
  readonly problem = signal<string | undefined>(undefined);
  readonly connected = signal(false);
  private access: MIDIAccess | undefined;
  private onMessage: ((message: MidiMessage) => void) | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.close());
  }

  /** Listens to all keyboards that there are and that come; where the browser would have to ask first, only if `ask`. */
  async open(onMessage: (message: MidiMessage) => void, ask: boolean): Promise<void> {
    this.onMessage = onMessage;
    this.problem.set(undefined);
    if (!ask && !(await isGranted())) return;
    try {
      if (!('requestMIDIAccess' in navigator)) throw new Error('This browser has no MIDI.');
      this.access ??= await navigator.requestMIDIAccess();
      this.access.onstatechange = () => this.listen();
      this.connected.set(true);
      this.listen();
    } catch (error) {
      this.problem.set(error instanceof Error && error.message ? error.message : 'MIDI was not allowed.');
    }
  }

  close(): void {
    this.onMessage = undefined;
  }

  private listen(): void {
    const inputs = [...(this.access?.inputs.values() ?? [])].filter(({ state }) => state !== 'disconnected');
    for (const input of inputs)
      input.onmidimessage = ({ data }) => {
        const message = data && readMidiMessage(data);
        if (message) this.onMessage?.(message);
      };
    this.devices.set(inputs.map(({ name }) => name ?? 'MIDI keyboard'));
  }
}

/** Whether MIDI was allowed before, so that nobody has to be asked. */
async function isGranted(): Promise<boolean> {
  try {
    return (await navigator.permissions.query({ name: 'midi' })).state === 'granted';
  } catch {
    return false;
  }
}
