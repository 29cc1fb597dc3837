import type { OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import { AskAboutFaults } from '../state/ask-about-faults';
import { ConductTakes } from '../state/conduct-takes.store';
import { Deliveries } from '../state/deliveries.store';
import { Notices } from '../state/notices';
import { DocumentStore } from '../state/project/document.store';
import { Simulator } from '../state/simulator.store';
import { Transport } from '../state/transport';
import { isTyping } from '../ui/typing';
import { BehaviourPulls } from './behaviour-pulls';
import { BehaviourSettings } from './behaviour-settings';
import { BehaviourTree } from './behaviour-tree';
import { kindLabels, kindPurposes, kinds } from './behaviour-words';
import { ConductBench } from './conduct-bench';
import { ConductFacts } from './conduct-facts';
import { ConductLog } from './conduct-log';
import { ConductPlan } from './conduct-plan';
import { ConductScripts } from './conduct-scripts';
import { DistanceSettings } from './distance-settings';
import { GameParts } from './game-parts';

const panels = ['Settings', 'Pulled', 'Distance', 'Parameters', 'Buses', 'Moods', 'Load groups', 'Log'] as const;
type Panel = (typeof panels)[number];

/** How sounds behave in a game: the tree of behaviours with what each did and will do, and a simulator to try them. */
@Component({
  selector: 'tc-conduct-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    BehaviourPulls,
    BehaviourSettings,
    BehaviourTree,
    ConductFacts,
    ConductLog,
    ConductPlan,
    ConductScripts,
    DistanceSettings,
    GameParts,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatTooltipModule,
  ],
  providers: [ConductBench],
  templateUrl: './conduct-view.html',
  styleUrl: './conduct-view.scss',
  host: { '(document:keydown)': 'key($event)' },
})
export class ConductView implements OnDestroy {
  protected readonly bench = inject(ConductBench);
  protected readonly document = inject(DocumentStore);
  protected readonly simulator = inject(Simulator);
  protected readonly takes = inject(ConductTakes);
  protected readonly kinds = kinds;
  protected readonly kindLabels = kindLabels;
  protected readonly kindPurposes = kindPurposes;
  protected readonly panels = panels;
  protected readonly panel = signal<Panel>('Settings');
  protected readonly sounds = computed(() => this.document.project()?.sounds ?? []);
  /** New behaviours can lie in the chosen one. */
  protected readonly into = computed(() => {
    const chosen = this.bench.chosen();
    return chosen && chosen.play.kind !== 'one' ? chosen : this.bench.parent();
  });
  protected readonly deliveries = inject(Deliveries);
  private readonly faults = inject(AskAboutFaults);
  private readonly notices = inject(Notices);
  private readonly endTransport: () => void;

  constructor() {
    this.takes.watch(true);
    this.endTransport = inject(Transport).play({
      name: 'simulator',
      playing: () => this.simulator.running(),
      seconds: () => this.simulator.seconds(),
      peak: () => this.simulator.peak(),
      levels: () => this.simulator.levels(),
      toggle: () => this.toggle(),
    });
  }

  ngOnDestroy(): void {
    this.simulator.hold();
    this.endTransport();
    this.takes.watch(false);
  }

  protected toggle(): void {
    if (this.simulator.running()) this.simulator.hold();
    else void this.simulator.run();
  }

  /** Once all recordings are heard here, and nothing else is being written. */
  protected readonly canExport = computed(() => {
    const [ready, wanted] = [this.takes.ready(), this.takes.wanted().length];
    return wanted > 0 && ready === wanted && this.deliveries.progress() === undefined && !this.deliveries.packing();
  });

  /** Writes what a game takes. */
  protected async export(): Promise<void> {
    try {
      const count = await this.deliveries.deliverGame(this.faults.mayWrite);
      if (count > 0) this.notices.info(`A zip of ${count} files was written: conduct.json and its recordings, with manifest and report.`);
    } catch (error) {
      this.notices.error(`The files for the game were not written: ${error instanceof Error ? error.message : String(error)}`);
    }
  }

  protected setSeed(text: string): void {
    const seed = Number(text);
    if (Number.isFinite(seed) && text.trim() !== '') this.document.edit('setConduct', { seed });
  }

  protected add(kind: (typeof kinds)[number], within: boolean): void {
    const parent = within ? this.into()?.id : undefined;
    this.bench.add(kind, { ...(parent !== undefined && { parent }) });
    this.panel.set('Settings');
  }

  protected addSound(sound: { readonly id: string; readonly name: string }, within: boolean): void {
    const parent = within ? this.into()?.id : undefined;
    this.bench.add('one', { sound: sound.id, name: sound.name, ...(parent !== undefined && { parent }) });
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.defaultPrevented) return;
    // Who stands on a tab, a dial or a menu means that.
    if (
      event.target instanceof HTMLElement &&
      event.target.closest('[role="slider"], [role="tab"], [role="menu"], [role="combobox"], tc-conduct-plan')
    )
      return;
    const chosen = this.bench.chosen();
    const command = event.ctrlKey || event.metaKey;
    if (event.altKey && event.key === 'ArrowUp' && chosen) this.bench.shift(chosen.id, -1);
    else if (event.altKey && event.key === 'ArrowDown' && chosen) this.bench.shift(chosen.id, 1);
    else if (command && event.key.toLowerCase() === 'd' && chosen) this.bench.duplicate(chosen.id);
    else if (command || event.altKey) return;
    else if (event.key === 'ArrowDown') this.bench.step(1);
    else if (event.key === 'ArrowUp') this.bench.step(-1);
    else if (event.key === 'Enter' && chosen && !(event.target instanceof HTMLButtonElement)) void this.simulator.trigger(chosen.id);
    else if (event.key.toLowerCase() === 'x' && chosen) this.simulator.stop(chosen.id);
    else if (event.key === 'Backspace') this.simulator.rewind();
    else if (event.key === 'Delete' && chosen) this.bench.remove(chosen.id);
    else return;
    event.preventDefault();
  }

  protected keyOnTab(event: KeyboardEvent): void {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!step) return;
    const at = (panels.indexOf(this.panel()) + step + panels.length) % panels.length;
    this.panel.set(panels[at]!);
    event.preventDefault();
    const tabs = (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role="tab"]');
    tabs[at]?.focus();
  }
}
