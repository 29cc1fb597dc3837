import { inject, Injectable } from '@angular/core';
import type { Clip, EditArguments, EditName, Layer, Pin } from '@tangled-choir/core';
import { axisToSource, clipDuration, clipEnd, sourceToAxis, stretchParameter } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { Playback } from '../../state/playback.store';
import { Printing } from '../../state/printing';
import { WorkbenchStore } from '../../state/workbench.store';
import { AskSettings } from '../../ui/settings-dialog';
import { LandingFinder } from '../arrange/landing-finder';
import { echoParameters, lengthParameters, readEcho, readStack, stackParameters, swellParameters } from './stretch-settings';

/** More pins at once would only be in each other's way. */
const mostPins = 60;
/** A moment nearer to an end of a clip or to another pin than this is taken by it. */
const nearest = 0.002;

/** What makes chosen clips longer, ties them to moments, and builds with them; offered by the menu of clips and by keys. */
@Injectable()
export class StretchCommands {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly printing = inject(Printing);
  private readonly settings = inject(AskSettings);
  private readonly notices = inject(Notices);
  private readonly finder = inject(LandingFinder);

  /** Asks for a length, at the pitch that the clips have. */
  async toLength(): Promise<void> {
    const found = this.workbench.selectedClip();
    if (!found) return;
    const duration = clipDuration(found.clip);
    const own = duration / found.clip.stretch;
    const values = await this.settings.ask({
      title: 'Stretch to length',
      explain: 'Changes the length and leaves the pitch. Type seconds, “4 beats”, “1/2” for a note, or “48 f” for frames.',
      action: 'Stretch',
      parameters: lengthParameters(own * stretchParameter.min, own * stretchParameter.max, duration),
      values: { duration },
      preview: (current) => ({
        text: `${(Number(current['duration']) / own).toFixed(3)} times as long as its speed makes it.`,
        possible: true,
      }),
    });
    const lasts = Number(values?.['duration']);
    if (values)
      this.edit('stretchBetween', { to: this.chosen.map(({ clip }) => ({ clip: clip.id, from: clip.start, to: clip.start + lasts })) });
  }

  /** Stretches the clip to what lies between the mark nearest to its start and the one behind that nearest to its end. */
  fillBetweenMarks(): void {
    const found = this.workbench.selectedClip();
    const marks = this.workbench.sound()?.marks ?? [];
    if (!found) return;
    const near = (time: number, among: readonly number[]): number | undefined =>
      among.reduce<number | undefined>(
        (best, mark) => (best === undefined || Math.abs(mark - time) < Math.abs(best - time) ? mark : best),
        undefined,
      );
    const times = marks.map((mark) => mark.time).sort((a, b) => a - b);
    const from = near(found.clip.start, times.slice(0, -1));
    const to =
      from === undefined
        ? undefined
        : near(
            clipEnd(found.clip),
            times.filter((time) => time > from),
          );
    if (from === undefined || to === undefined)
      this.notices.error('There are no two marks to fill between; press N to set one at the playhead.');
    else this.edit('stretchBetween', { to: [{ clip: found.clip.id, from, to }] });
  }

  /** Ties what is heard at the playhead to it. */
  pin(): void {
    const time = this.playback.startPosition();
    const inside = this.chosen.filter(({ clip }) => time > clip.start + nearest && time < clipEnd(clip) - nearest);
    if (inside.length === 0) this.notices.error('The playhead is not inside a chosen clip; put it where the pin should be.');
    for (const { clip } of inside) this.addPins(clip, [{ at: axisToSource(clip, time), time: time - clip.start }]);
  }

  /** Puts a pin on everything that strikes in the clip, where it is heard now. */
  async pinAttacks(): Promise<void> {
    const found = this.workbench.selectedClip();
    if (!found) return;
    const { clip } = found;
    try {
      const attacks = await this.finder.attacks(clip);
      const pins = attacks.map((at) => ({ at, time: sourceToAxis(clip, at) - clip.start }));
      if (this.addPins(clip, pins.slice(0, mostPins)) === 0) this.notices.error('Nothing strikes inside this clip that could be pinned.');
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }

  unpin(): void {
    for (const { clip } of this.chosen) if (clip.pins) this.edit('setPins', { clip: clip.id, pins: [] });
  }

  /** Lays the chosen clips of the selected layer an octave or two below and above it. */
  async octaveStack(): Promise<void> {
    const found = this.workbench.selectedClip();
    if (!found) return;
    const clips = this.chosen.filter(({ layer }) => layer.id === found.layer.id).map(({ clip }) => clip.id);
    const values = await this.settings.ask({
      title: 'Octave stack',
      explain: `Layers of the same length below and above “${found.layer.name}”; the lowest gets weight.`,
      action: 'Stack',
      parameters: stackParameters,
      preview: (current) => ({
        text: readStack(current).length === 0 ? 'Choose at least one octave.' : '',
        possible: readStack(current).length > 0,
      }),
    });
    if (values) this.edit('octaveStack', { layer: found.layer.id, clips, stack: readStack(values) });
  }

  async echoDown(): Promise<void> {
    const chosen = this.chosen;
    if (chosen.length === 0) return;
    const span = Math.max(...chosen.map(({ clip }) => clipEnd(clip))) - Math.min(...chosen.map(({ clip }) => clip.start));
    const values = await this.settings.ask({
      title: 'Echo down',
      explain: 'Repeats that fall: each quieter, lower and longer or shorter than the one before.',
      action: 'Echo',
      parameters: echoParameters(Math.min(30, span)),
    });
    if (values) this.edit('echoDown', { clips: chosen.map(({ clip }) => clip.id), echo: readEcho(values) });
  }

  /** Makes the swell that ends on the attack of the clip. */
  async leadInSwell(): Promise<void> {
    const found = this.workbench.selectedClip();
    if (!found) return;
    const values = await this.settings.ask({
      title: 'Lead-in swell',
      explain: 'The clip backwards in a wet room, turned round again: it grows out of nothing and ends exactly on the clip’s attack.',
      action: 'Make it',
      parameters: swellParameters,
    });
    if (!values) return;
    try {
      const { at } = await this.finder.best(found.clip, found.layer);
      await this.printing.printSwell(found, at, { decay: Number(values['decay']), rise: Number(values['rise']) });
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }

  /** Adds pins that are not there yet; returns how many. */
  private addPins(clip: Clip, pins: readonly Pin[]): number {
    const known = clip.pins ?? [];
    const duration = clipDuration(clip);
    const added = pins.filter(
      ({ time }) => time > nearest && time < duration - nearest && known.every((pin) => Math.abs(pin.time - time) >= nearest),
    );
    if (added.length > 0) this.edit('setPins', { clip: clip.id, pins: [...known, ...added] });
    return added.length;
  }

  private get chosen(): readonly { readonly clip: Clip; readonly layer: Layer }[] {
    return this.workbench.selectedClips();
  }

  private edit<N extends EditName>(name: N, args: Omit<EditArguments<N>, 'sound'>): boolean {
    const sound = this.workbench.sound();
    // Every edit on clips names its sound; the rest is what the caller gave.
    return sound !== undefined && this.document.edit(name, { ...args, sound: sound.id } as unknown as EditArguments<N>);
  }
}

/** Keys for the chosen clips. */
export const stretchKeys: Readonly<Record<string, (commands: StretchCommands) => unknown>> = {
  'shift+f': (commands) => commands.toLength(),
  'shift+e': (commands) => commands.fillBetweenMarks(),
  p: (commands) => commands.pin(),
  'shift+p': (commands) => commands.pinAttacks(),
};
