import { computed, inject, Injectable, signal } from '@angular/core';
import type { Place, Walk } from '@tangled-choir/core';
import { walkSpeed } from '@tangled-choir/core';
import { Simulator } from '../state/simulator.store';
import { followPointer } from '../ui/follow-pointer';

/** A way that is being drawn, and for whom: an emitter's id, or nothing for the listener. */
interface Draft {
  readonly who: string | undefined;
  readonly points: readonly Place[];
}

/** As many places as a way has at most. */
const mostPlaces = 1_000;

/** Draws ways on the plan: with the pointer, which begins the walk when it is let go, or with arrow keys and Enter. */
@Injectable()
export class WalkPen {
  private readonly simulator = inject(Simulator);
  /** While it is on, things on the plan are not moved but sent along a way. */
  readonly on = signal(false);
  readonly speed = signal(walkSpeed.default);
  readonly way = signal<Walk['way']>('once');
  private readonly draft = signal<Draft | undefined>(undefined);

  /** All ways on the plan: that which is being drawn, and those that are walked. */
  readonly ways = computed((): readonly { readonly points: readonly Place[]; readonly closed: boolean; readonly drawn: boolean }[] => {
    const draft = this.draft();
    return [
      ...[...this.simulator.walks().values()].map(({ points, way }) => ({ points, closed: way === 'round', drawn: false })),
      ...(draft ? [{ points: draft.points, closed: false, drawn: true }] : []),
    ];
  });

  toggle(): void {
    this.on.update((on) => !on);
    this.draft.set(undefined);
  }

  /** Draws for as long as the pointer is pressed; places are at least `grain` metres apart. */
  draw(press: PointerEvent, who: string | undefined, from: Place, grain: number, metresAt: (event: PointerEvent) => Place): void {
    this.draft.set({ who, points: [from] });
    followPointer(
      press,
      (event) => this.add(metresAt(event), grain),
      (givenUp) => (givenUp ? this.draft.set(undefined) : this.go()),
    );
  }

  /** One step further with the keys; a step on in the same direction makes the last one longer. */
  step(who: string | undefined, from: Place, by: Place): void {
    const draft = this.draft();
    const points = draft?.who === who && draft ? draft.points : [from];
    const [last, before] = [points.at(-1)!, points.at(-2)];
    const next = { x: last.x + by.x, y: last.y + by.y };
    const straight =
      before && (last.x - before.x) * by.y === (last.y - before.y) * by.x && (last.x - before.x) * by.x + (last.y - before.y) * by.y > 0;
    this.draft.set({ who, points: [...(straight ? points.slice(0, -1) : points), next].slice(0, mostPlaces) });
  }

  /** Lets them walk what was drawn. */
  go(): void {
    const draft = this.draft();
    this.draft.set(undefined);
    if (draft && draft.points.length > 1)
      void this.simulator.walk({ points: draft.points, speed: this.speed(), way: this.way() }, draft.who);
  }

  /** Gives up what was drawn; false where nothing was. */
  drop(): boolean {
    const had = this.draft() !== undefined;
    this.draft.set(undefined);
    return had;
  }

  /** Everybody stays where they are. */
  standStill(): void {
    for (const who of this.simulator.walks().keys()) {
      const { x, y, facing } = this.simulator.listener();
      if (who === '') this.simulator.listen(x, y, facing);
      else {
        const place = this.simulator.emitters().get(who);
        if (place) this.simulator.place(who, place.x, place.y);
      }
    }
  }

  private add(place: Place, grain: number): void {
    this.draft.update((draft) => {
      const last = draft?.points.at(-1);
      if (!draft || !last || draft.points.length >= mostPlaces || Math.hypot(place.x - last.x, place.y - last.y) < grain) return draft;
      return { ...draft, points: [...draft.points, place] };
    });
  }
}
