import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { Layer, Sound } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { RoleGlyph } from '../../ui/role-glyph';
import type { MenuPlace } from '../../ui/menu-anchor';
import { MenuAnchor } from '../../ui/menu-anchor';
import { ChannelNames } from './channel-names';
import { LayerCopies } from './layer-copies';

/** What can be done to a layer as a whole, as one menu for all of them. */
@Component({
  selector: 'tc-layer-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatIconModule, MatMenuModule, MenuAnchor, RoleGlyph],
  templateUrl: './layer-menu.html',
})
export class LayerMenu {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly names = inject(ChannelNames);
  private readonly copies = inject(LayerCopies);
  private readonly anchor = viewChild.required(MenuAnchor);
  private readonly layerId = signal<string | undefined>(undefined);

  protected readonly layer = computed(() => this.sound()?.layers.find((layer) => layer.id === this.layerId()));
  protected readonly index = computed(() => this.sound()?.layers.findIndex((layer) => layer.id === this.layerId()) ?? -1);
  protected readonly last = computed(() => this.index() === (this.sound()?.layers.length ?? 0) - 1);
  /** The layers of the chosen clips, this one among them; otherwise this one alone. */
  protected readonly together = computed((): string[] => {
    const own = this.layerId();
    const chosen = [...new Set(this.workbench.selectedClips().map(({ layer }) => layer.id))];
    return own === undefined ? [] : chosen.length > 1 && chosen.includes(own) ? chosen : [own];
  });
  protected readonly otherGroups = computed(
    () => this.sound()?.buses.filter((bus) => bus.kind === 'group' && bus.id !== this.layer()?.group) ?? [],
  );
  protected readonly buses = computed(() => this.sound()?.buses.filter((bus) => bus.kind === 'shared') ?? []);
  protected readonly templates = computed(() => this.document.project()?.templates ?? []);

  openFor(layer: string, place: MenuPlace): void {
    this.layerId.set(layer);
    this.anchor().openAt(place);
  }

  protected switchOverlaps(layer: Layer): void {
    this.document.edit('setOverlaps', { ...this.base, overlaps: layer.overlaps === 'sum' ? 'crossfade' : 'sum' });
  }

  protected duplicate(): void {
    this.document.edit('duplicateLayer', this.base);
  }

  protected copy(): void {
    this.copies.copy(this.together());
  }

  protected readonly copied = computed(() => {
    const clipboard = this.workbench.clipboard();
    return clipboard?.kind === 'layers' ? clipboard.layers.layers.length : 0;
  });

  protected paste(): void {
    this.copies.paste(this.layerId());
  }

  protected move(by: number): void {
    this.document.edit('reorderLayer', { ...this.base, index: this.index() + by });
  }

  protected remove(): void {
    this.document.edit('removeLayer', this.base);
  }

  protected async group(): Promise<void> {
    const layers = this.together();
    const name = await this.names.ask('Group layers', 'The layers get one fader, one mute and solo, and a chain of their own.', 'Group');
    if (name) this.document.edit('groupLayers', { sound: this.base.sound, layers, name });
  }

  protected setGroup(group: string | undefined): void {
    this.document.edit('setLayerGroup', { ...this.base, group });
  }

  protected sendsTo(layer: Layer, bus: string): boolean {
    return layer.sends.some((send) => send.bus === bus);
  }

  protected toggleSend(layer: Layer, bus: string): void {
    this.document.edit('setSend', { sound: this.base.sound, owner: { layer: layer.id }, bus, on: !this.sendsTo(layer, bus) });
  }

  protected async sendToNewBus(layer: Layer): Promise<void> {
    await this.names.addBusFor({ layer: layer.id });
  }

  protected nameAll(): void {
    this.document.edit('nameLayers', { sound: this.base.sound });
  }

  protected async saveTemplate(layer: Layer): Promise<void> {
    const { base } = this;
    const explain = `Keeps the chain, the gain and the pan of “${layer.name}” for other ${layer.role} layers of this project.`;
    const name = await this.names.ask('Save as a template', explain, 'Save', layer.name);
    if (name) this.document.edit('saveTemplate', { ...base, name });
  }

  protected applyTemplate(template: string): void {
    this.document.edit('applyTemplate', { ...this.base, template });
  }

  protected removeTemplate(template: string): void {
    this.document.edit('removeTemplate', { template });
  }

  private sound(): Sound | undefined {
    return this.workbench.sound();
  }

  private get base(): { sound: string; layer: string } {
    return { sound: this.sound()?.id ?? '', layer: this.layerId() ?? '' };
  }
}
