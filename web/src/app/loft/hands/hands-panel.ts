import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import { nearestInScale, noteLength, noteName, semitones, share } from '@tangled-choir/core';
import { OpenMake } from '../../sounds/open-make';
import { Freezing } from '../../state/freezing.store';
import type { WheelBy } from '../../state/hands.store';
import { HandsStore } from '../../state/hands.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { Offer } from '../../ui/choice-field';
import { ChoiceField } from '../../ui/choice-field';
import { followPointer } from '../../ui/follow-pointer';
import { isTyping } from '../../ui/typing';
import { ValueField } from '../../ui/value-field';
import { TimeDisplay } from '../timeline/time-display';
import type { NoteKey } from './key-rows';
import { highestInterval, intervalOf, keyRows } from './key-rows';

const octave = 12;
const controllers: readonly { readonly value: WheelBy; readonly name: string }[] = [
  { value: 'any', name: 'any controller' },
  { value: 1, name: 'modulation' },
  { value: 2, name: 'breath' },
  { value: 4, name: 'foot' },
  { value: 11, name: 'expression' },
  { value: 'pressure', name: 'pressure' },
];
const strength = share({ label: 'Strength', min: 0.01, default: 0.8 });
const quantise = share({ label: 'Quantise', default: 0 });
const bendReach = semitones({ label: 'Bends by', min: 0, max: 24, default: 2 });

/** Plays the selected made layer by hand: the computer's keyboard, a MIDI keyboard, a wheel; and records what is played. */
@Component({
  selector: 'tc-hands-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatIconModule, MatTooltipModule, ValueField],
  templateUrl: './hands-panel.html',
  styleUrl: './hands-panel.scss',
  host: { '(window:blur)': 'hands.letAllGo()' },
})
export class HandsPanel {
  protected readonly hands = inject(HandsStore);
  protected readonly making = inject(OpenMake);
  private readonly freezing = inject(Freezing);
  private readonly workbench = inject(WorkbenchStore);
  private readonly display = inject(TimeDisplay);
  protected readonly strength = strength;
  protected readonly quantise = quantise;
  protected readonly bendReach = bendReach;

  protected readonly rows = computed(() => {
    const lowest = this.hands.lowest();
    const scale = this.workbench.sound()?.key ?? { root: 0, kind: 'major' as const };
    const down = new Set(this.hands.held().map(({ pitch }) => pitch));
    return keyRows
      .map((row) =>
        row.map((key) => {
          const pitch = lowest + key.interval;
          return { ...key, pitch, name: noteName(pitch), outside: nearestInScale(scale, pitch) !== pitch, down: down.has(pitch) };
        }),
      )
      .reverse();
  });
  protected readonly range = computed(() => `${noteName(this.hands.lowest())} – ${noteName(this.hands.lowest() + highestInterval)}`);
  protected readonly frozen = computed(() => this.freezing.playable().has(this.hands.layer()?.id ?? ''));
  protected readonly devices = computed(() => this.hands.midi.devices().join(', '));
  protected readonly told = computed(() => {
    const take = this.hands.take();
    if (!take) return '';
    return take.notes.length === 1 ? '1 note' : `${take.notes.length} notes`;
  });
  protected readonly wheelName = computed(() => {
    const property = this.hands.onWheel();
    return property ? `${property.owner}: ${property.parameter.label.toLowerCase()}` : undefined;
  });

  /** What can move the wheel: what keyboards have, what moves it now, and the controller that was moved last. */
  protected readonly wheelOffers = computed((): readonly Offer<WheelBy>[] => {
    const known = new Set<WheelBy>(controllers.map(({ value }) => value));
    const others = new Set<WheelBy>([this.hands.wheelBy(), this.hands.controller() ?? 'any']);
    return [...controllers, ...[...others].filter((value) => !known.has(value)).map((value) => ({ value, name: `controller ${value}` }))];
  });

  constructor() {
    // Before anybody else: a letter that plays a note must not split a clip, too.
    const listen = (event: KeyboardEvent): void => this.key(event);
    document.addEventListener('keydown', listen, { capture: true });
    document.addEventListener('keyup', listen, { capture: true });
    inject(DestroyRef).onDestroy(() => {
      document.removeEventListener('keydown', listen, { capture: true });
      document.removeEventListener('keyup', listen, { capture: true });
      this.hands.close();
    });
    // What is held on one layer does not sound on under another.
    let before: string | undefined;
    effect(() => {
      const now = this.hands.layer()?.id;
      if (before !== undefined && now !== before) this.hands.letAllGo();
      before = now;
    });
  }

  private key(event: KeyboardEvent): void {
    if (event.type === 'keyup') {
      this.hands.letGo(event.code);
      return;
    }
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
    const interval = intervalOf(event.code);
    if (event.code === 'Escape' && !event.defaultPrevented) this.hands.close();
    else if (interval !== undefined && !event.shiftKey && this.hands.layer()) {
      if (!event.repeat) this.hands.press(event.code, this.hands.lowest() + interval);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Whoever slides over the keys plays them one after the other. */
  protected press(event: PointerEvent, key: NoteKey): void {
    if (event.button !== 0) return;
    let code = key.code;
    const strike = (at: string): void => this.hands.press(`pointer ${at}`, this.hands.lowest() + (intervalOf(at) ?? 0));
    strike(code);
    followPointer(
      event,
      ({ clientX, clientY }) => {
        const under = document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('[data-code]')?.dataset['code'] ?? '';
        if (under === code) return;
        this.hands.letGo(`pointer ${code}`);
        code = under;
        if (under) strike(under);
      },
      () => this.hands.letGo(`pointer ${code}`),
    );
  }

  protected moveOctave(by: number): void {
    this.hands.moveRange(by * octave);
  }

  protected toggleRecording(): void {
    if (this.hands.recording()) {
      this.hands.finish();
      return;
    }
    const { tempo } = this.workbench.sound()!;
    const step = noteLength(tempo, this.display.division());
    this.hands.record((time) => tempo.offset + Math.round((time - tempo.offset) / step) * step);
  }

  protected moveWheel(event: Event): void {
    if (event.target instanceof HTMLInputElement) this.hands.moveWheel(event.target.valueAsNumber);
  }
}
