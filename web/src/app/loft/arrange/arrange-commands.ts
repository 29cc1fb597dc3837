import { inject, Injectable } from '@angular/core';
import type { Clip, EditArguments, EditName, Layer, Sound, SyncKind } from '@tangled-choir/core';
import { axisToSource, choice, chopSlices, clipDuration, clipEnd, syncTime } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { signed } from '../../ui/quantity';
import type { SettingValues } from '../../ui/settings-dialog';
import { AskSettings } from '../../ui/settings-dialog';
import {
  carveParameters,
  chopParameters,
  fitParameters,
  loopParameters,
  readChop,
  readHole,
  readLoop,
  readRepeat,
  readStutter,
  repeatParameters,
  stutterParameters,
} from './arrange-settings';
import { ZeroCrossings } from '../timeline/zero-crossings';
import { AudioLibrary } from '../../engine/audio-library';
import { LayerCopies } from '../channels/layer-copies';
import { LandingFinder } from './landing-finder';

interface Chosen {
  readonly clip: Clip;
  readonly layer: Layer;
}

/** What can be done to the chosen clips. The menu, the toolbar and the keys all call these. */
@Injectable()
export class ArrangeCommands {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly finder = inject(LandingFinder);
  private readonly zeros = inject(ZeroCrossings);
  private readonly settings = inject(AskSettings);
  private readonly notices = inject(Notices);
  private readonly layers = inject(LayerCopies);
  private readonly library = inject(AudioLibrary);

  split(): void {
    // Without a choice the playhead cuts through the whole selected layer.
    const clips = this.ids.length > 0 ? this.ids : (this.workbench.layer()?.clips.map((clip) => clip.id) ?? []);
    const time = this.playback.startPosition();
    const [only] = clips.length === 1 ? this.chosen : [];
    this.editAndChooseNew('splitClips', { clips, time: only ? this.zeros.near(only.clip, time) : time });
  }

  trimToPlayhead(side: 'start' | 'end'): void {
    const time = this.playback.startPosition();
    const to = this.chosen
      .filter(({ clip }) => time > clip.start && time < clipEnd(clip))
      .map(({ clip }) => ({ clip: clip.id, time: this.zeros.near(clip, time) }));
    if (to.length === 0) this.notices.error('Nothing to trim: the playhead is not inside a chosen clip.');
    else this.edit('trimClips', { side, to });
  }

  reverse(): void {
    this.edit('reverseClips', { clips: this.ids });
  }

  move(by: number): void {
    const shift = Math.max(by, -Math.min(...this.chosen.map(({ clip }) => clip.start)));
    this.edit('moveClips', { to: this.chosen.map(({ clip }) => ({ clip: clip.id, start: clip.start + shift })) });
  }

  trim(side: 'start' | 'end', by: number): void {
    const edge = side === 'start' ? (clip: Clip) => clip.start : clipEnd;
    this.edit('trimClips', { side, to: this.chosen.map(({ clip }) => ({ clip: clip.id, time: edge(clip) + by })) });
  }

  slip(by: number): void {
    this.edit('slipClips', { to: this.chosen.map(({ clip }) => ({ clip: clip.id, offset: clip.offset - by })) });
  }

  louder(by: number): void {
    const values = Object.fromEntries(this.chosen.map(({ clip, layer }) => [`layer/${layer.id}/clip/${clip.id}/gain`, clip.gain + by]));
    this.edit('setValues', { values, label: this.ids.length === 1 ? 'Clip level' : `Level of ${this.ids.length} clips` });
  }

  duplicate(): void {
    this.editAndChooseNew('duplicateClips', { clips: this.ids });
  }

  remove(): void {
    this.edit('removeClips', { clips: this.ids });
  }

  copy(): void {
    const clips = this.chosen.map(({ clip, layer }) => ({ clip, layer: layer.id }));
    if (clips.length > 0) this.workbench.setClipboard({ kind: 'clips', clips });
  }

  cut(): void {
    this.copy();
    this.remove();
  }

  paste(where: 'at the playhead' | 'in place'): void {
    const clipboard = this.workbench.clipboard();
    if (clipboard?.kind === 'layers') this.layers.paste();
    if (clipboard?.kind !== 'clips') return;
    const copied = clipboard.clips;
    const first = Math.min(...copied.map(({ clip }) => clip.start));
    const shift = where === 'in place' ? 0 : this.playback.startPosition() - first;
    const layer = this.workbench.layer()?.id;
    this.editAndChooseNew('pasteClips', { copied, shift, ...(layer && { layer }) });
  }

  /** Asks for a source whose recording takes the place of that of the chosen clips; all else of them stays. */
  async chooseReplacement(): Promise<void> {
    const sources = this.document.project()?.sources ?? [];
    const names = sources.map(({ name }, n) => (sources.findIndex((other) => other.name === name) === n ? name : `${name} (${n + 1})`));
    const [first] = names;
    if (first === undefined || this.ids.length === 0) return;
    const clips = this.ids;
    const values = await this.settings.ask({
      title: 'Replace the recording',
      explain:
        'Place, speed, fades, level and everything that moves the clip stay. A clip that lands by a point lands by the attack of the new recording.',
      action: 'Replace',
      parameters: { by: choice('By', names, first) },
    });
    const chosen = sources[names.indexOf(String(values?.['by']))];
    if (chosen) this.replaceRecording(clips, chosen.id);
  }

  replaceRecording(clips: readonly string[], source: string): void {
    const hash = this.document.project()?.sources.find(({ id }) => id === source)?.audio ?? '';
    const attack = this.library.facts(hash)?.character.attackAt;
    this.edit('replaceRecording', { clips, source, ...(attack !== undefined && { attack }) });
  }

  /** Copies the layer that is selected while no clip is. */
  copyLayer(): void {
    const layer = this.workbench.layer();
    if (layer) this.layers.copy([layer.id]);
  }

  closeGaps(): void {
    const clips = this.ids.length > 1 ? this.ids : (this.workbench.layer()?.clips.map((clip) => clip.id) ?? []);
    this.edit('closeGaps', { clips });
  }

  group(together: boolean): void {
    this.edit('groupClips', { clips: this.ids, together });
  }

  lock(): void {
    this.edit('lockClips', { clips: this.ids, locked: !this.chosen.every(({ clip }) => clip.locked) });
  }

  chooseAll(): void {
    this.workbench.selectClips(this.workbench.sound()?.layers.flatMap((layer) => layer.clips.map((clip) => clip.id)) ?? []);
  }

  /** Sets the sync points of the chosen clips to what is found in them, or to the playhead. */
  async setSync(kind: SyncKind | undefined): Promise<void> {
    const chosen = this.chosen;
    if (kind === undefined || kind === 'by hand') {
      const time = this.playback.startPosition();
      const inside = chosen.filter(({ clip }) => kind === undefined || (time >= clip.start && time <= clipEnd(clip)));
      if (inside.length === 0) this.notices.error('The playhead is not inside a chosen clip; put it where the sync point should be.');
      else
        this.edit('setSyncPoints', {
          to: inside.map(({ clip }) => ({
            clip: clip.id,
            sync: kind === undefined ? undefined : { at: Math.max(0, axisToSource(clip, time)), kind },
          })),
        });
      return;
    }
    if (kind === 'end') {
      this.edit('setSyncPoints', {
        to: chosen.map(({ clip }) => ({ clip: clip.id, sync: { at: axisToSource(clip, clipEnd(clip)), kind } })),
      });
      return;
    }
    const found = await this.finding(
      Promise.all(chosen.map(async ({ clip }) => ({ clip: clip.id, sync: await this.finder.find(clip, kind) }))),
    );
    const to = found?.filter(({ sync }) => sync !== undefined) ?? [];
    if (found && to.length < found.length) this.notices.error(`${found.length - to.length} of the clips have no ${kind}.`);
    if (to.length > 0) this.edit('setSyncPoints', { to });
  }

  /** Moves the chosen clips so that each lands by its sync point, which is found when it has none. */
  async land(on: 'mark' | 'playhead' | 'sync point'): Promise<void> {
    const sound = this.workbench.sound();
    const chosen = this.chosen;
    if (!sound || chosen.length === 0) return;
    const moments = this.momentsToLandOn(on, sound);
    if (moments.length === 0) {
      this.notices.error(
        on === 'mark' ? 'There is no mark to land on; press N to set one at the playhead.' : 'No other clip has a sync point.',
      );
      return;
    }
    const landings = await this.finding(
      Promise.all(
        chosen.map(async ({ clip, layer }) => {
          const sync = await this.finder.best(clip, layer);
          const now = syncTime({ ...clip, sync });
          const time = moments.reduce((best, moment) => (Math.abs(moment - now) < Math.abs(best - now) ? moment : best));
          return { clip: clip.id, time, sync };
        }),
      ),
    );
    if (landings) this.edit('landClips', { to: landings });
  }

  /** Lands all chosen clips on the sync point of the one that was chosen last, and says how far each moved. */
  async align(): Promise<void> {
    const chosen = this.chosen;
    const reference = this.workbench.selectedClip();
    if (!reference || chosen.length < 2) {
      this.notices.error('Choose at least two clips; the one chosen last stays, the others come to it.');
      return;
    }
    const moved = await this.finding(
      (async () => {
        const sync = await this.finder.best(reference.clip, reference.layer);
        const time = syncTime({ ...reference.clip, sync });
        return Promise.all(
          chosen.map(async ({ clip, layer }) => {
            const own = await this.finder.best(clip, layer);
            return { clip: clip.id, time, sync: own, by: time - syncTime({ ...clip, sync: own }), name: this.nameOf(clip) };
          }),
        );
      })(),
    );
    if (!moved || !this.edit('landClips', { to: moved.map(({ clip, time, sync }) => ({ clip, time, sync })) })) return;
    const others = moved.filter(({ clip }) => clip !== reference.clip.id);
    this.notices.info(
      `Aligned to “${this.nameOf(reference.clip)}”: ${others.map(({ name, by }) => `${name} ${signed(by * 1_000, 2)} ms`).join(', ')}`,
    );
  }

  async repeat(): Promise<void> {
    const chosen = this.chosen;
    if (chosen.length === 0) return;
    const span = Math.max(...chosen.map(({ clip }) => clipEnd(clip))) - Math.min(...chosen.map(({ clip }) => clip.start));
    const parameters = repeatParameters(span);
    const values = await this.settings.ask({
      title: 'Repeat',
      explain: 'Copies at a steady interval, each a step quieter or louder, higher or lower than the one before.',
      action: 'Repeat',
      parameters,
      preview: (current) => {
        const { times, interval, levelStep, pitchStep } = readRepeat(current);
        const overlap = interval < span && chosen.some(({ layer }) => layer.overlaps === 'crossfade');
        return {
          text: `The last one at +${(times * interval).toFixed(2)} s, ${signed(times * levelStep, 1)} dB, ${signed(times * pitchStep, 1)} st.${
            overlap ? ' They overlap, and this layer crossfades overlaps.' : ''
          }`,
          possible: true,
        };
      },
    });
    if (values) this.editAndChooseNew('repeatClips', { clips: this.ids, ...readRepeat(values) });
  }

  async chop(): Promise<void> {
    const found = this.workbench.selectedClip();
    const sound = this.workbench.sound();
    const project = this.document.project();
    if (!found || !sound || !project) return;
    const values = await this.settings.ask({
      title: 'Chop',
      explain: `Cuts the clip into notes of the tempo grid (${sound.tempo.bpm.toFixed(1)} bpm).`,
      action: 'Chop',
      parameters: chopParameters,
      preview: (current) => this.possible(() => `${chopSlices(project, sound.id, found.clip, readChop(current)).length} slices`),
    });
    if (values) this.editAndChooseNew('chopClip', { clip: found.clip.id, settings: readChop(values) });
  }

  async stutter(): Promise<void> {
    const found = this.workbench.selectedClip();
    const sound = this.workbench.sound();
    if (!found || !sound) return;
    const values = await this.settings.ask({
      title: 'Stutter',
      explain: `Fills the length of the clip with repeats of its beginnings on the tempo grid (${sound.tempo.bpm.toFixed(1)} bpm).`,
      action: 'Stutter',
      parameters: stutterParameters,
    });
    if (values) this.editAndChooseNew('stutterClip', { clip: found.clip.id, settings: readStutter(values) });
  }

  /** Ducks or cuts a hole into other layers, so that the chosen clip's sync point comes through. */
  async carve(): Promise<void> {
    const found = this.workbench.selectedClip();
    const sound = this.workbench.sound();
    if (!found || !sound) return;
    const sync = await this.finding(this.finder.best(found.clip, found.layer));
    if (!sync) return;
    const time = syncTime({ ...found.clip, sync });
    const sounding = sound.layers.filter(
      (layer) => layer.id !== found.layer.id && layer.clips.some((clip) => clip.start < time + 2 && clipEnd(clip) > time - 1),
    );
    if (sounding.length === 0) {
      this.notices.error('No other layer sounds around this clip’s sync point; there is nothing to carve.');
      return;
    }
    const chosenLayers = (values: SettingValues): string[] => sounding.filter((layer) => values[layer.id] === true).map(({ id }) => id);
    const values = await this.settings.ask({
      title: 'Carve',
      explain: `Makes a short, faded hole around ${time.toFixed(3)} s, so that “${this.nameOf(found.clip)}” comes through: turned down by its depth, or cut out at −60 dB.`,
      action: 'Carve',
      parameters: carveParameters(sounding),
      preview: (current) => ({
        text: chosenLayers(current).length === 0 ? 'Choose at least one layer.' : '',
        possible: chosenLayers(current).length > 0,
      }),
    });
    if (values) this.edit('carve', { layers: chosenLayers(values), hole: readHole(values, time) });
  }

  async loopInside(): Promise<void> {
    const found = this.workbench.selectedClip();
    const project = this.document.project();
    const source = project?.sources.find((candidate) => candidate.id === found?.clip.source);
    if (!found || !project || !source) return;
    const { clip } = found;
    const end = source.frames / project.sampleRate;
    const to = clip.loop?.to ?? clip.offset + Math.min(clip.length, end - clip.offset) * 0.8;
    const from = clip.loop?.from ?? clip.offset + Math.min(clip.length, end - clip.offset) * 0.2;
    const values = await this.settings.ask({
      title: 'Loop inside the clip',
      explain: 'Repeats a part of the source until the clip is as long as you want; every return crossfades.',
      action: 'Loop',
      parameters: loopParameters(end, from, to, clipDuration(clip) * 2),
      values: clip.loop ? { ...clip.loop, duration: clipDuration(clip) } : { from, to, duration: clipDuration(clip) * 2 },
      preview: (current) => {
        const loop = readLoop(current);
        return loop.to - loop.from < 0.005
          ? { text: 'The part to loop is shorter than 5 ms.', possible: false }
          : { text: `A round lasts ${(loop.to - loop.from).toFixed(3)} s of the source.`, possible: true };
      },
    });
    if (values) this.edit('loopClip', { clip: clip.id, loop: readLoop(values) });
  }

  endLoop(): void {
    const found = this.workbench.selectedClip();
    if (found?.clip.loop) this.edit('loopClip', { clip: found.clip.id, loop: undefined });
  }

  async fitLength(): Promise<void> {
    const found = this.workbench.selectedClip();
    if (!found) return;
    const duration = clipDuration(found.clip);
    const values = await this.settings.ask({
      title: 'Fit to length',
      explain: 'Changes the speed so that the clip lasts this long; its pitch follows.',
      action: 'Fit',
      parameters: fitParameters(duration),
      values: { duration },
    });
    if (values && typeof values['duration'] === 'number') this.edit('fitClips', { clips: this.ids, duration: values['duration'] });
  }

  private get chosen(): readonly Chosen[] {
    return this.workbench.selectedClips();
  }

  private get ids(): string[] {
    return this.chosen.map(({ clip }) => clip.id);
  }

  private nameOf(clip: Clip): string {
    return this.document.project()?.sources.find((source) => source.id === clip.source)?.name ?? 'clip';
  }

  private momentsToLandOn(on: 'mark' | 'playhead' | 'sync point', sound: Sound): number[] {
    if (on === 'playhead') return [this.playback.startPosition()];
    if (on === 'mark') return sound.marks.map((mark) => mark.time);
    const chosen = this.workbench.isChosen();
    return sound.layers.flatMap((layer) => layer.clips.filter((clip) => clip.sync && !chosen.has(clip.id)).map((clip) => syncTime(clip)));
  }

  private edit<N extends EditName>(name: N, args: Omit<EditArguments<N>, 'sound'>): boolean {
    const sound = this.workbench.sound();
    // Every edit on clips names its sound; the rest is what the caller gave.
    return sound !== undefined && this.document.edit(name, { ...args, sound: sound.id } as unknown as EditArguments<N>);
  }

  /** Makes an edit that adds clips, and chooses these afterwards. */
  private editAndChooseNew<N extends EditName>(name: N, args: Omit<EditArguments<N>, 'sound'>): void {
    const before = new Set(this.workbench.sound()?.layers.flatMap((layer) => layer.clips.map((clip) => clip.id)));
    if (!this.edit(name, args)) return;
    const added =
      this.workbench.sound()?.layers.flatMap((layer) => layer.clips.map((clip) => clip.id).filter((id) => !before.has(id))) ?? [];
    if (added.length > 0) this.workbench.selectClips(added);
  }

  /** Waits for what is found in audio; a failure becomes a message. */
  private async finding<T>(promise: Promise<T>): Promise<T | undefined> {
    try {
      return await promise;
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
      return undefined;
    }
  }

  private possible(text: () => string): { text: string; possible: boolean } {
    try {
      return { text: text(), possible: true };
    } catch (error) {
      return { text: error instanceof Error ? error.message : String(error), possible: false };
    }
  }
}
