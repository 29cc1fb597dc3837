import type { WritableSignal } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Making, NumberParameter, PatchPreset } from '@tangled-choir/core';
import { makings, patchPresets, reinsOver, rollPatch, shapePatch } from '@tangled-choir/core';
import { ProjectJobs } from '../engine/project-jobs';
import { Notices } from '../state/notices';
import { PlaceInLoft } from '../state/place-in-loft';
import { Printing } from '../state/printing';
import { Playback } from '../state/playback.store';
import { RoleGlyph } from '../ui/role-glyph';
import { ValueField } from '../ui/value-field';

const heightParameter: NumberParameter = { kind: 'number', label: 'Height', unit: 'st', min: -36, max: 36, default: 0, scale: 'linear' };
const lengthParameter: NumberParameter = { kind: 'number', label: 'Length', unit: '×', min: 0.25, max: 8, default: 1, scale: 'log' };
const lightParameter: NumberParameter = { kind: 'number', label: 'Light', unit: '%', min: -1, max: 1, default: 0, scale: 'linear' };
/** A control that was turned stands still when it has not moved for so long, in milliseconds. */
const stillFor = 250;
/** How far the dice go. */
const rollStrength = 0.6;

/** Makes a sound from nothing: a kind, a patch of that kind, three controls, dice; heard at once, and kept as a made layer. */
@Component({
  selector: 'tc-make-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, MatDialogModule, MatIconModule, MatTooltipModule, RoleGlyph, ValueField],
  templateUrl: './make-dialog.html',
  styleUrl: './make-dialog.scss',
})
export class MakeDialog {
  private readonly jobs = inject(ProjectJobs);
  private readonly playback = inject(Playback);
  private readonly placing = inject(PlaceInLoft);
  private readonly notices = inject(Notices);
  private readonly printer = inject(Printing);
  protected readonly printing = signal(false);
  private readonly dialog = inject<MatDialogRef<MakeDialog>>(MatDialogRef);
  protected readonly makings = makings;
  protected readonly heightParameter = heightParameter;
  protected readonly lengthParameter = lengthParameter;
  protected readonly lightParameter = lightParameter;
  protected readonly making = signal<Making>(makings[0]);
  protected readonly presets = computed(() => patchPresets.filter((preset) => preset.making === this.making()));
  private readonly chosenName = signal('');
  protected readonly preset = computed(() => this.presets().find(({ name }) => name === this.chosenName()) ?? this.presets()[0]!);
  protected readonly height = signal(0);
  protected readonly length = signal(1);
  protected readonly light = signal(0);
  /** Whether the layer keeps its three controls, as reins. */
  protected readonly withReins = signal(true);
  /** Rises with every roll of the dice; 0 before the first. */
  protected readonly roll = signal(0);
  protected readonly take = computed(() => {
    const shaped = shapePatch(this.preset(), { height: this.height(), length: this.length(), light: this.light() });
    return this.roll() === 0 ? shaped : { ...shaped, patch: rollPatch(shaped.patch, this.roll(), rollStrength) };
  });
  protected readonly playing = computed(() => this.playback.auditioned() === this.heardAs());
  private closed = false;
  private soon: ReturnType<typeof setTimeout> | undefined;
  private readonly heardAs = computed(() => `Made: ${this.preset().name}`);

  constructor() {
    // Who has gone does not want to hear it any more.
    inject(DestroyRef).onDestroy(() => {
      this.closed = true;
      clearTimeout(this.soon);
      if (this.playing()) this.playback.stop();
    });
  }

  /** A control was turned: what comes of it is heard once it stands still. */
  protected turn(control: WritableSignal<number>, value: number): void {
    control.set(value);
    clearTimeout(this.soon);
    this.soon = setTimeout(() => void this.hear(), stillFor);
  }

  protected chooseMaking(making: Making): void {
    this.making.set(making);
    this.startOver();
  }

  /** Whoever clicks on a patch wants to hear it. */
  protected choosePreset({ name }: PatchPreset): void {
    this.chosenName.set(name);
    this.startOver();
    void this.hear();
  }

  private startOver(): void {
    this.height.set(0);
    this.length.set(1);
    this.light.set(0);
    this.roll.set(0);
  }

  protected rollDice(): void {
    this.roll.update((before) => before + 1);
    void this.hear();
  }

  protected async toggle(): Promise<void> {
    if (this.playing()) this.playback.stop();
    else await this.hear();
  }

  protected async hear(): Promise<void> {
    const take = this.take();
    try {
      const audio = await this.jobs.run('make', take, `Making ${this.preset().name}`, { quiet: true });
      // Somebody may have turned on meanwhile; only the newest is heard.
      if (take === this.take() && !this.closed) this.playback.audition(this.heardAs(), audio);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }

  /** Renders it into a source, as it is now; whoever likes goes on making. */
  protected async print(): Promise<void> {
    // The second press of a double click comes before the button is seen to be off.
    if (this.printing()) return;
    const { name, role } = this.preset();
    this.printing.set(true);
    await this.printer.printMade(this.take(), name, role);
    this.printing.set(false);
  }

  /** Puts it into the sound as a made layer, from the playhead on. */
  protected keep(): void {
    const { name, role } = this.preset();
    this.playback.stop();
    const take = this.take();
    this.placing.asMadeLayer({ name, role, ...take, ...(this.withReins() && { reins: reinsOver(take.patch, name) }) });
    this.dialog.close();
  }
}
