import { computed, inject, Injectable, signal } from '@angular/core';
import type { GameBehaviour, Role } from '@tangled-choir/core';
import { ancestorsOf, withinBehaviour } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { kindLabels, summaryOf } from './behaviour-words';

/** One row of the tree. */
export interface BehaviourRow {
  readonly behaviour: GameBehaviour;
  readonly depth: number;
  readonly summary: string;
  /** Role of what is heard of it first, for its colour. */
  readonly role: Role | undefined;
}

/** What is chosen in Conduct, and the tree as rows. */
@Injectable()
export class ConductBench {
  private readonly document = inject(DocumentStore);
  private readonly chosenId = signal<string | undefined>(undefined);
  readonly conduct = computed(() => this.document.project()?.conduct);

  readonly rows = computed((): readonly BehaviourRow[] => {
    const project = this.document.project();
    if (!project) return [];
    const children = new Map<string | undefined, GameBehaviour[]>();
    for (const behaviour of project.conduct.behaviours) {
      const beside = children.get(behaviour.parent);
      if (beside) beside.push(behaviour);
      else children.set(behaviour.parent, [behaviour]);
    }
    const roles = new Map(project.sounds.map(({ id, layers }) => [id, layers[0]?.role]));
    const below = (parent: string | undefined, depth: number): BehaviourRow[] =>
      (children.get(parent) ?? []).flatMap((behaviour) => {
        const within = below(behaviour.id, depth + 1);
        const own = behaviour.play.kind === 'one' ? roles.get(behaviour.play.sound) : undefined;
        const role = own ?? within.find((row) => row.role !== undefined)?.role;
        return [{ behaviour, depth, summary: summaryOf(behaviour, project), role }, ...within];
      });
    return below(undefined, 0);
  });

  /** The chosen behaviour; the first one where none is. */
  readonly chosen = computed(() => {
    const rows = this.rows();
    return (rows.find(({ behaviour }) => behaviour.id === this.chosenId()) ?? rows[0])?.behaviour;
  });
  /** What the chosen one lies in directly. */
  readonly parent = computed(() => {
    const [conduct, chosen] = [this.conduct(), this.chosen()];
    return conduct && chosen ? ancestorsOf(conduct, chosen)[0] : undefined;
  });
  readonly roots = computed(() => this.rows().filter(({ depth }) => depth === 0));

  choose(id: string): void {
    this.chosenId.set(id);
  }

  /** Goes so many rows up or down. */
  step(by: number): void {
    const rows = this.rows();
    const at = rows.findIndex(({ behaviour }) => behaviour.id === this.chosen()?.id);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (next) this.choose(next.behaviour.id);
  }

  /** Adds a behaviour, and chooses it. */
  add(
    kind: GameBehaviour['play']['kind'],
    options: { readonly parent?: string; readonly sound?: string; readonly name?: string } = {},
  ): void {
    const { name = kindLabels[kind], ...rest } = options;
    if (!this.document.edit('addBehaviour', { kind, name, ...rest })) return;
    const added = this.conduct()?.behaviours.at(-1);
    if (added) this.choose(added.id);
  }

  duplicate(id: string): void {
    const before = new Set(this.conduct()?.behaviours.map((behaviour) => behaviour.id));
    if (!this.document.edit('duplicateBehaviour', { behaviour: id })) return;
    const copy = this.conduct()?.behaviours.find((behaviour) => !before.has(behaviour.id));
    if (copy) this.choose(copy.id);
  }

  remove(id: string): void {
    const rows = this.rows();
    const at = rows.findIndex(({ behaviour }) => behaviour.id === id);
    const depth = rows[at]?.depth ?? 0;
    const next = rows.slice(at + 1).find((row) => row.depth <= depth) ?? rows[at - 1];
    if (this.document.edit('removeBehaviour', { behaviour: id }) && next) this.choose(next.behaviour.id);
  }

  /** Moves a behaviour among those that lie beside it. */
  shift(id: string, by: number): void {
    const behaviour = this.rows().find((row) => row.behaviour.id === id)?.behaviour;
    if (!behaviour) return;
    const beside = this.rows().filter((row) => row.behaviour.parent === behaviour.parent);
    const index = beside.findIndex((row) => row.behaviour.id === id) + by;
    if (index < 0 || index >= beside.length) return;
    const { parent } = behaviour;
    this.document.edit('moveBehaviour', { behaviour: id, index, ...(parent !== undefined && { parent }) });
  }

  /** What a behaviour can be put into. */
  targetsFor(id: string): readonly GameBehaviour[] {
    const conduct = this.conduct();
    if (!conduct) return [];
    const within = new Set(withinBehaviour(conduct, id).map((each) => each.id));
    return this.rows()
      .map(({ behaviour }) => behaviour)
      .filter((behaviour) => behaviour.play.kind !== 'one' && !within.has(behaviour.id));
  }

  moveInto(id: string, parent: string | undefined): void {
    const index = this.rows().filter(({ behaviour }) => behaviour.parent === parent).length;
    this.document.edit('moveBehaviour', { behaviour: id, index, ...(parent !== undefined && { parent }) });
  }
}
