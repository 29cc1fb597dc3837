import type { Semitones, Unit } from '../units';

/** A note that is held as long as a key is. */
export interface HeldNote {
  /** Told apart by it from others that are held at the same time. */
  readonly id: string;
  readonly pitch: Semitones;
  readonly strength: Unit;
}

export type KeyPress = { readonly down: HeldNote } | { readonly up: string };

/** The keys that somebody plays: those that are down, and what has happened to them since it was last asked for. */
export class HeldKeys {
  private presses: KeyPress[] = [];
  /** Those that are down, the one pressed last at the end. */
  private down: HeldNote[] = [];

  strike(note: HeldNote): void {
    this.presses.push({ down: note });
  }

  letGo(id: string): void {
    this.presses.push({ up: id });
  }

  /** True when nothing has happened since it was last asked for. */
  get quiet(): boolean {
    return this.presses.length === 0;
  }

  /** What has happened, in its order. A key that went down and up at once goes up the next time, so that it is heard. */
  take(): readonly KeyPress[] {
    const struck = new Set<string>();
    const taken: KeyPress[] = [];
    const later: KeyPress[] = [];
    for (const press of this.presses) {
      if ('down' in press) {
        struck.add(press.down.id);
        this.down = [...this.down.filter(({ id }) => id !== press.down.id), press.down];
      } else if (struck.has(press.up)) {
        later.push(press);
        continue;
      } else this.down = this.down.filter(({ id }) => id !== press.up);
      taken.push(press);
    }
    this.presses = later;
    return taken;
  }

  /** The key that is down and was pressed last. */
  get last(): HeldNote | undefined {
    return this.down.at(-1);
  }
}
