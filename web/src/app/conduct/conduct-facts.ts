import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { NumberParameter } from '@tangled-choir/core';
import { formOf, formText, gameDelivery, groupLoads, repeatsOf, takeBytes } from '@tangled-choir/core';
import { ConductTakes } from '../state/conduct-takes.store';
import { DocumentStore } from '../state/project/document.store';
import { SimulatorCourse } from '../state/simulator-course';
import { Simulator } from '../state/simulator.store';
import { ValueField } from '../ui/value-field';
import { ConductBench } from './conduct-bench';

const megabyte = 1024 * 1024;

/** What the game sets while one tries it, and what it comes to: parameters, moods, memory, repeats, voices. */
@Component({
  selector: 'tc-conduct-facts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ValueField],
  template: `
    <section aria-label="Game parameters">
      <h2>Game parameters</h2>
      @for (row of parameters(); track row.id) {
        <tc-value [parameter]="row.parameter" [value]="row.value" [heard]="row.heard" (valueChange)="simulator.set(row.id, $event.value)" />
      } @empty {
        <p class="quiet">None yet: add them under Parameters.</p>
      }
      @if (moods().length > 0) {
        <p class="moods">
          <span class="quiet">mood</span>
          @for (mood of moods(); track mood.id) {
            <button mat-button class="tonal" [disabled]="!simulator.begun()" (click)="simulator.mood(mood.id)">{{ mood.name }}</button>
          }
        </p>
      }
    </section>
    <div class="two">
      <section aria-label="Load groups">
        <h2>In memory</h2>
        @for (load of loads(); track load.name) {
          <p class="load" [class.over]="load.over" [attr.title]="load.title">
            <span>{{ load.name }}</span><span class="number">{{ load.text }}</span>
            <span class="bar" aria-hidden="true"><span [style.width.%]="load.share"></span></span>
          </p>
        }
      </section>
      <section aria-label="Repeats and voices">
        <h2>Repeats</h2>
        <p class="quiet" data-testid="repeats">{{ repeats() }}</p>
        <p>
          <span class="quiet">Voices:</span>&ngsp;<strong class="number" data-testid="voices">{{ simulator.sounding() }}</strong
          >&ngsp;<span class="quiet">of {{ bench.conduct()?.voices }}</span>
        </p>
      </section>
    </div>
  `,
  styleUrl: './conduct-facts.scss',
})
export class ConductFacts {
  protected readonly simulator = inject(Simulator);
  protected readonly bench = inject(ConductBench);
  private readonly takes = inject(ConductTakes);
  private readonly course = inject(SimulatorCourse);
  private readonly document = inject(DocumentStore);
  protected readonly moods = computed(() => this.bench.conduct()?.moods ?? []);

  protected readonly parameters = computed(() => {
    this.simulator.frame();
    const state = this.simulator.engine()?.state;
    return (this.bench.conduct()?.parameters ?? []).map(({ id, name, low, high, start }) => {
      const parameter: NumberParameter = { kind: 'number', label: name, unit: '', min: low, max: high, default: start, scale: 'linear' };
      const value = Math.min(high, Math.max(low, this.simulator.values().get(id) ?? start));
      return { id, parameter, value, heard: state?.parameters.get(id)?.value };
    });
  });

  protected readonly loads = computed(() => {
    const [data, project] = [this.takes.data(), this.document.project()];
    if (!data || !project) return [];
    const delivery = gameDelivery(project);
    const form = formOf(delivery);
    const assets = this.takes.assets();
    const bytesOf = (asset: string): number => {
      const audio = assets.get(asset);
      if (!audio) return 0;
      const { sampleRate, channels } = audio;
      return takeBytes({ frames: channels[0]!.length, sampleRate, channels: channels.length }, delivery);
    };
    return groupLoads(data, bytesOf)
      .filter(({ group, bytes }) => group !== undefined || bytes > 0)
      .map(({ group, bytes, assets: files }) => {
        const own = data.groups.find(({ id }) => id === group);
        const [now, most] = [bytes / megabyte, own && own.budget / megabyte];
        return {
          name: own?.name ?? 'In no group',
          over: own !== undefined && bytes > own.budget,
          share: own ? Math.min(100, (bytes / own.budget) * 100) : 0,
          text: most === undefined ? `${now.toFixed(1)} MB` : `${now.toFixed(1)} of ${most.toFixed(1)} MB`,
          title: `${files.length} files: ${formText(form)}, ${form.sampleRate / 1000} kHz`,
        };
      });
  });

  protected readonly repeats = computed(() => {
    const chosen = this.bench.chosen();
    if (!chosen) return '';
    const { plays, different, soonest, average } = repeatsOf(this.simulator.events(), new Set(this.course.lineOf(chosen.id)));
    if (plays === 0) return `“${chosen.name}” has played nothing yet.`;
    const heard = `${chosen.name}: ${plays} played, ${different} different. `;
    if (average === undefined) return `${heard}None came again yet.`;
    return `${heard}The same comes again after ${average.toFixed(1)} on average, ${soonest === 1 ? 'once at once' : `${soonest} at the soonest`}.`;
  });
}
