import { inject, Injectable } from '@angular/core';
import type { Bus, Clip, Layer, PatchTake, PrintedPart, Role, Sound } from '@tangled-choir/core';
import type { StoredPrint } from '@tangled-choir/jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import {
  choice,
  count,
  effectCatalogue,
  layersToPrint,
  patchSound,
  printRecipe,
  printTakes,
  seconds,
  soundEnd,
  sourceToAxis,
  swellRecipe,
  whyNotPrinted,
} from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { AskSettings } from '../ui/settings-dialog';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { PartlyHeard } from './partly-heard';
import { Playback } from './playback.store';
import { Renderables } from './renderables';
import { ProjectTransfer } from './project/project-transfer.store';
import { WorkbenchStore } from './workbench.store';

const takeParameters = {
  takes: count({ label: 'Takes', min: 2, max: 100, default: 8 }),
  as: choice('As', ['separate sources', 'one source, end to end'], 'separate sources'),
  gap: seconds({ label: 'Gap between them', min: 0.01, max: 10, default: 0.25 }),
};

/** Prints: renders live layers into sources that remember their recipes. */
@Injectable()
export class Printing {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly library = inject(AudioLibrary);
  private readonly renderables = inject(Renderables);
  private readonly jobs = inject(ProjectJobs);
  private readonly transfer = inject(ProjectTransfer);
  private readonly settings = inject(AskSettings);
  private readonly notices = inject(Notices);
  private readonly partly = inject(PartlyHeard);

  /** Says what was done, and what a print holds when not everything is heard at the moment. */
  private tell(done: string): void {
    const whole = this.partly.solo() ? 'Solos are only for listening: the print holds everything that is not muted.' : '';
    const text = `${done} ${whole}`.trim();
    if (text !== '') this.notices.info(text);
  }

  /** Prints layers into one that takes their place. */
  async printLayers(layers: readonly Layer[]): Promise<void> {
    const sound = this.workbench.sound();
    if (!sound || layers.length === 0) return;
    const ids = layersToPrint(
      sound,
      layers.map(({ id }) => id),
    );
    const printed = layers.filter(({ id }) => ids.includes(id));
    const name = printed.length === 1 ? `${printed[0]!.name} print` : `${sound.name} · ${printed.length} layers`;
    await this.replace(sound, { layers: ids }, name, printed.map((layer) => layer.name).join(', '));
  }

  /** Prints a group with its chain and its fader into one layer. */
  async printGroup(group: Bus): Promise<void> {
    const sound = this.workbench.sound();
    if (sound) await this.replace(sound, { group: group.id }, `${group.name} print`, group.name);
  }

  /** Prints the whole sound into one layer that takes the place of all that are not muted. */
  async printInPlace(): Promise<void> {
    const sound = this.workbench.sound();
    if (sound) await this.replace(sound, 'whole sound', `${sound.name} print`, 'whole sound');
  }

  /** Prints the whole sound into one more layer, which is muted, or into a source. Nothing is taken away. */
  async printSound(into: 'layer' | 'source'): Promise<void> {
    const sound = this.workbench.sound();
    if (!sound || this.refused(sound, 'whole sound')) return;
    const printed = await this.render(sound, [printRecipe(sound, 'whole sound')], [`${sound.name} print`], 'whole sound');
    const [print] = printed ?? [];
    if (!print) return;
    if (into === 'source') await this.keepAll([print]);
    else {
      const told = `“${print.source.name}” is the last layer; it is muted, because what was printed still plays.`;
      await this.place(print, ({ source, start }) => this.document.edit('addPrint', { sound: sound.id, source, start }), told);
    }
  }

  /** Prints what is heard between the ends of the loop into a source; the layers stay. */
  async printRange(): Promise<void> {
    const sound = this.workbench.sound();
    const range = this.playback.loopRange();
    if (!sound) return;
    if (!range || range.from >= soundEnd(sound)) {
      this.notices.error('Drag over the ruler first, to choose a stretch; what lies in it is printed.');
      return;
    }
    const name = `${sound.name} ${range.from.toFixed(2)}–${range.to.toFixed(2)} s`;
    const printed = await this.render(sound, [printRecipe(sound, 'whole sound')], [name], 'a stretch of the whole sound', { range });
    if (printed) await this.keepAll(printed);
  }

  /** Prints takes of a layer, each with its sways drawn anew. */
  async printTakes(layer: Layer): Promise<void> {
    const sound = this.workbench.sound();
    if (!sound) return;
    if (!sound.family.sways.some(({ kind, address }) => kind === 'range' && address.startsWith(`layer/${layer.id}/`))) {
      this.notices.error(`“${layer.name}” has no sways, so all takes would be equal. Set some in Kin first.`);
      return;
    }
    const values = await this.settings.ask({
      title: 'Print takes',
      explain: `Renders “${layer.name}” again and again, its sways drawn anew for each take.`,
      action: 'Print',
      parameters: takeParameters,
    });
    if (!values) return;
    const takes = Number(values['takes']);
    const joined = values['as'] !== 'separate sources';
    const recipes = printTakes(sound, { layers: [layer.id] }, takes, effectCatalogue);
    const names = joined ? [`${layer.name} × ${takes}`] : recipes.map((_, n) => `${layer.name} take ${String(n + 1).padStart(2, '0')}`);
    const printed = await this.render(sound, recipes, names, layer.name, { ...(joined && { endToEnd: Number(values['gap']) }) });
    if (printed) await this.keepAll(printed);
  }

  /** Prints what a patch makes of its notes into a source, with a sound of one made layer as its recipe. */
  async printMade(take: PatchTake, name: string, role: Role): Promise<void> {
    const sound = patchSound(take, name, role);
    const printed = await this.render(sound, [printRecipe(sound, 'whole sound')], [name], name);
    if (printed) await this.keepAll(printed);
  }

  /** Renders a clip backwards in a room, and adds what that gives, turned round, as a layer that ends on the moment `at` of the clip's source. */
  async printSwell(
    { clip, layer }: { readonly clip: Clip; readonly layer: Layer },
    at: number,
    room: { decay: number; rise: number },
  ): Promise<void> {
    const sound = this.workbench.sound();
    if (!sound) return;
    const { recipe, attack } = swellRecipe(sound, clip, layer, at, room.decay);
    const [print] = (await this.render(sound, [recipe], [`${layer.name} lead-in`], layer.name)) ?? [];
    if (!print) return;
    const end = sourceToAxis(clip, at);
    const swell = { sound: sound.id, layer: layer.id, attack: attack - print.start, end, rise: room.rise };
    await this.place(print, ({ source }) => this.document.edit('addSwell', { ...swell, source }));
  }

  private async replace(sound: Sound, part: PrintedPart, name: string, partText: string): Promise<void> {
    if (this.refused(sound, part)) return;
    const printed = await this.render(sound, [printRecipe(sound, part)], [name], partText);
    const [print] = printed ?? [];
    if (print) await this.place(print, ({ source, start }) => this.document.edit('printLayers', { sound: sound.id, part, source, start }));
  }

  /** Says why a part cannot be printed, if so. */
  private refused(sound: Sound, part: PrintedPart): boolean {
    const obstacle = whyNotPrinted(sound, part);
    if (obstacle !== undefined) this.notices.error(obstacle);
    return obstacle !== undefined;
  }

  /** Puts a print into the sound, and selects its layer. */
  private async place(print: StoredPrint, edit: (print: StoredPrint) => boolean, told = ''): Promise<void> {
    const placed = await this.told(() =>
      this.transfer.keep([print], async () => {
        // It is there before it takes a place in what may be playing.
        await this.library.load(print.source);
        return edit(print);
      }),
    );
    if (!placed) return;
    this.tell(told);
    const added = this.document.project()?.sources.at(-1)?.id;
    const layer = this.workbench.sound()?.layers.find((each) => each.clips.some((clip) => clip.source === added));
    if (layer) this.workbench.selectLayer(layer.id);
  }

  private async keepAll(printed: readonly StoredPrint[]): Promise<void> {
    if (!(await this.told(() => this.transfer.storeSources(printed)))) return;
    this.tell(printed.length === 1 ? `“${printed[0]!.source.name}” is in Gather.` : `${printed.length} takes are in Gather.`);
  }

  /** Renders recipes into sources; undefined when that failed, which is told. */
  private async render(
    sound: Sound,
    recipes: readonly Sound[],
    names: readonly string[],
    part: string,
    options: { readonly range?: { readonly from: number; readonly to: number }; readonly endToEnd?: number } = {},
  ): Promise<readonly StoredPrint[] | undefined> {
    const project = this.document.project();
    if (!project) return undefined;
    return this.told(async () => {
      const input = {
        ...(await this.renderables.load(project, recipes)),
        recipes,
        names,
        part,
        sources: project.sources,
        endToEnd: options.endToEnd,
        range: options.range,
      };
      return this.jobs.run('print', input, `Printing ${part === 'whole sound' ? sound.name : part}`);
    });
  }

  /** Does something that may fail, which is told; nothing then, or when it was cancelled. */
  private async told<T>(work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
      return undefined;
    }
  }
}
