import { ChangeDetectionStrategy, Component, computed, ElementRef, effect, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Simulator } from '../state/simulator.store';
import { roleColour } from '../ui/roles';
import { RoleGlyph } from '../ui/role-glyph';
import { ConductBench } from './conduct-bench';
import { CoursePicture, rowHeight } from './course-picture';

/** The behaviours as rows, each with what it did and what it will do. */
@Component({
  selector: 'tc-behaviour-tree',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CoursePicture, MatButtonModule, MatIconModule, MatMenuModule, RoleGlyph],
  template: `
    <p class="captions quiet" aria-hidden="true">
      <span class="was">what it did</span><span class="comes">what it will do next, with this seed</span>
    </p>
    <div class="scroll">
      <div class="rows" [style.height.px]="rows().length * rowHeight">
        <div role="tree" aria-label="Behaviours">
          @for (row of rows(); track row.behaviour.id) {
            <div
              class="row"
              role="treeitem"
              [attr.data-id]="row.behaviour.id"
              [attr.aria-level]="row.depth + 1"
              [attr.aria-selected]="row.behaviour.id === bench.chosen()?.id"
              [tabindex]="row.behaviour.id === bench.chosen()?.id ? 0 : -1"
              [class.chosen]="row.behaviour.id === bench.chosen()?.id"
              [style.height.px]="rowHeight"
              (click)="bench.choose(row.behaviour.id)"
              (focus)="bench.choose(row.behaviour.id)"
            >
              <span class="name" [style.padding-left.px]="10 + row.depth * 18">
                <tc-role-glyph [role]="row.role" [style.color]="colourOf(row.role)" />
                <span class="words"
                  ><span class="title">{{ row.behaviour.name }}</span
                  ><span class="summary quiet" [title]="row.summary">{{ row.summary }}</span></span
                >
                <button
                  mat-icon-button
                  tabindex="-1"
                  [attr.aria-label]="'Call ' + row.behaviour.name"
                  (click)="simulator.trigger(row.behaviour.id)"
                >
                  <mat-icon svgIcon="call" />
                </button>
                <span class="slot">
                  @if ((row.depth === 0 && endless().has(row.behaviour.id)) || playing().has(row.behaviour.id)) {
                    <button
                      mat-icon-button
                      tabindex="-1"
                      [disabled]="!playing().has(row.behaviour.id)"
                      [attr.aria-label]="'Stop ' + row.behaviour.name"
                      (click)="simulator.stop(row.behaviour.id)"
                    >
                      <mat-icon svgIcon="callOff" />
                    </button>
                  }
                </span>
                <button
                  mat-icon-button
                  tabindex="-1"
                  class="more"
                  [attr.aria-label]="'More of ' + row.behaviour.name"
                  [matMenuTriggerFor]="menu"
                  [matMenuTriggerData]="{ id: row.behaviour.id }"
                >
                  <mat-icon svgIcon="more" />
                </button>
              </span>
            </div>
          }
        </div>
        <tc-course-picture class="picture" [rows]="rows()" />
      </div>
    </div>
    <mat-menu #menu="matMenu">
      <ng-template matMenuContent let-id="id">
        <button mat-menu-item (click)="bench.duplicate(id)">Duplicate <kbd>Ctrl D</kbd></button>
        <button mat-menu-item (click)="bench.shift(id, -1)">Up <kbd>Alt ↑</kbd></button>
        <button mat-menu-item (click)="bench.shift(id, 1)">Down <kbd>Alt ↓</kbd></button>
        <button mat-menu-item [matMenuTriggerFor]="moveMenu">Move into…</button>
        <button mat-menu-item (click)="bench.remove(id)">Remove <kbd>Delete</kbd></button>
        <mat-menu #moveMenu="matMenu">
          <button mat-menu-item (click)="bench.moveInto(id, undefined)">the roots</button>
          @for (target of bench.targetsFor(id); track target.id) {
            <button mat-menu-item (click)="bench.moveInto(id, target.id)">{{ target.name }}</button>
          }
        </mat-menu>
      </ng-template>
    </mat-menu>
  `,
  styleUrl: './behaviour-tree.scss',
})
export class BehaviourTree {
  protected readonly bench = inject(ConductBench);
  protected readonly simulator = inject(Simulator);
  protected readonly rows = this.bench.rows;
  protected readonly rowHeight = rowHeight;
  protected readonly colourOf = roleColour;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  /** Roots that go on until they are stopped. */
  protected readonly endless = computed(() => {
    const found = new Set<string>();
    let root = '';
    for (const { behaviour, depth } of this.rows()) {
      if (depth === 0) root = behaviour.id;
      const { play } = behaviour;
      const goesOn =
        play.kind === 'hold' ||
        play.kind === 'sprinkle' ||
        (play.kind === 'burst' && play.shots === 0) ||
        (play.kind === 'one' && play.loops) ||
        (play.kind === 'line' && play.step === 'through' && play.again);
      if (goesOn) found.add(root);
    }
    return found;
  });
  /** Roots that play now. */
  protected readonly playing = computed(() => {
    this.simulator.frame();
    this.simulator.revision();
    const runs = this.simulator.engine()?.state.runs.values() ?? [];
    return new Set([...runs].filter(({ parent }) => parent === 0).map(({ behaviour }) => behaviour));
  });

  constructor() {
    effect(() => {
      const id = this.bench.chosen()?.id;
      this.rows();
      // By its id, never by its place: where rows have moved, those on the screen have not yet.
      const row = [...this.host.nativeElement.querySelectorAll<HTMLElement>('.row')].find(({ dataset }) => dataset['id'] === id);
      // Whoever goes through the rows by keys takes the focus along.
      if (row && this.host.nativeElement.contains(document.activeElement)) row.focus();
      row?.scrollIntoView({ block: 'nearest' });
    });
  }
}
