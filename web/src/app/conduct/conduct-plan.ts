import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, viewChild } from '@angular/core';
import type { GameBehaviour, Place, Walk } from '@tangled-choir/core';
import { walkSpeed } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Simulator } from '../state/simulator.store';
import { ChoiceField, offersOf } from '../ui/choice-field';
import { followPointer } from '../ui/follow-pointer';
import { roleColour } from '../ui/roles';
import { newGesture, ValueField } from '../ui/value-field';
import { ConductBench } from './conduct-bench';
import { WalkPen } from './walk-pen';

const width = 316;
const height = 236;
/** The plan shows so many metres to each side at least. */
const leastReach = 12;
const step = 0.5;
const turn = 15;
const ways = offersOf<Walk['way']>(['once', 'round', 'to and fro']);

/** The plan from above: the listener, whom one turns and moves, and what has a place; north is up. */
@Component({
  selector: 'tc-conduct-plan',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, ValueField],
  providers: [WalkPen],
  template: `
    <header>
      <h2>Plan</h2>
      <button class="text-button" [attr.aria-pressed]="pen.on()" (click)="pen.toggle()">
        {{ pen.on() ? 'Done' : 'Draw a way' }}
      </button>
      @if (simulator.walks().size > 0) {
        <button class="text-button" (click)="pen.standStill()">Stand still</button>
      }
      <span class="space"></span>
      <span class="quiet number">{{ reach() }} m</span>
    </header>
    @if (pen.on()) {
      <div class="pen">
        <tc-value [parameter]="speed" [value]="pen.speed()" (valueChange)="pen.speed.set($event.value)" />
        <tc-choice bare label="How the way is walked" [offers]="ways" [value]="pen.way()" (chosen)="pen.way.set($event)" />
        <p class="quiet">Drag from the listener or from a place along a way: they walk it when you let go.</p>
      </div>
    }
    <svg #plan [attr.viewBox]="viewBox" role="group" aria-label="Plan from above">
      @for (ring of rings(); track ring.metres) {
        <circle class="ring" [attr.r]="ring.radius" />
        <text class="metres" [attr.y]="-ring.radius - 3">{{ ring.metres }}</text>
      }
      @for (way of drawnWays(); track $index) {
        <path class="way" [class.drawn]="way.drawn" [attr.d]="way.path" />
      }
      @for (emitter of emitters(); track emitter.id) {
        <g
          class="emitter"
          role="button"
          tabindex="0"
          [class.chosen]="emitter.chosen"
          [attr.aria-label]="emitter.label"
          [attr.transform]="'translate(' + emitter.x + ' ' + emitter.y + ')'"
          [style.color]="emitter.colour"
          (pointerdown)="dragEmitter(emitter.id, $event)"
          (keydown)="keyOnEmitter(emitter.id, $event)"
          (focus)="bench.choose(emitter.id)"
        >
          <circle class="size" [attr.r]="emitter.inner" />
          <circle class="core" r="5" />
          <text y="-9">{{ emitter.name }}</text>
          <text class="fact" y="17">{{ emitter.metres.toFixed(1) }} m</text>
        </g>
      }
      <g
        class="listener"
        role="button"
        tabindex="0"
        aria-label="Listener"
        [attr.aria-description]="
          (pen.on() ? 'Arrow keys draw a way, Enter walks it; ' : 'Arrow keys move, with Shift they turn; ') + told()
        "
        [attr.transform]="'translate(' + here().x + ' ' + here().y + ') rotate(' + simulator.listener().facing + ')'"
        (pointerdown)="dragListener($event)"
        (keydown)="keyOnListener($event)"
      >
        <path d="M0 -12 8 9 0 5 -8 9z" />
        <circle class="nose" cy="-20" r="5" (pointerdown)="dragFacing($event)" />
      </g>
    </svg>
  `,
  styleUrl: './conduct-plan.scss',
})
export class ConductPlan {
  protected readonly bench = inject(ConductBench);
  protected readonly simulator = inject(Simulator);
  protected readonly pen = inject(WalkPen);
  protected readonly speed = walkSpeed;
  protected readonly ways = ways;
  private readonly document = inject(DocumentStore);
  private readonly plan = viewChild.required<ElementRef<SVGSVGElement>>('plan');
  protected readonly viewBox = `${-width / 2} ${-height / 2} ${width} ${height}`;

  private readonly placed = computed(() => this.bench.roots().filter(({ behaviour }) => behaviour.distance !== undefined));
  /** Metres from the middle to the upper edge: a round number around everything. */
  protected readonly reach = computed(() => {
    const places = this.placed().map(({ behaviour }) => this.placeOf(behaviour));
    const walked = this.pen.ways().flatMap(({ points, drawn }) => (drawn ? [] : points));
    const far = Math.max(
      leastReach,
      ...[...places, ...walked, this.simulator.listener()].map(({ x, y }) => Math.max(Math.abs(x) * (height / width), Math.abs(y))),
    );
    const rounded = Math.pow(10, Math.floor(Math.log10(far * 1.15)));
    return [1, 1.5, 2, 3, 5, 7.5, 10].map((factor) => factor * rounded).find((reach) => reach >= far * 1.15) ?? far;
  });
  private readonly scale = computed(() => (height / 2 - 12) / this.reach());
  protected readonly rings = computed(() =>
    [1, 2, 3].map((n) => {
      const metres = (this.reach() * n) / 3;
      return { metres: Math.round(metres * 10) / 10, radius: metres * this.scale() };
    }),
  );
  protected readonly here = computed(() => this.shown(this.simulator.listener()));
  protected readonly told = computed(() => {
    const { x, y, facing } = this.simulator.listener();
    return `${x.toFixed(1)} m east, ${y.toFixed(1)} m north, facing ${Math.round(facing)}°`;
  });
  protected readonly emitters = computed(() =>
    this.placed().map(({ behaviour, role }) => {
      const place = this.placeOf(behaviour);
      const listener = this.simulator.listener();
      const metres = Math.hypot(place.x - listener.x, place.y - listener.y);
      return {
        id: behaviour.id,
        name: behaviour.name,
        ...this.shown(place),
        inner: Math.max(8, (behaviour.distance?.inner ?? 0) * this.scale()),
        colour: roleColour(role),
        metres,
        chosen: behaviour.id === this.bench.chosen()?.id,
        label: `${behaviour.name}, ${metres.toFixed(1)} m away`,
      };
    }),
  );

  protected readonly drawnWays = computed(() =>
    this.pen.ways().map(({ points, closed, drawn }) => {
      const places = points.map((point) => this.shown(point));
      return { drawn, path: `M${places.map(({ x, y }) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}` };
    }),
  );

  /** Where it was put or has walked, or where it stands by itself. */
  private placeOf({ id, place }: GameBehaviour): Place {
    return this.simulator.emitters().get(id) ?? place ?? { x: 0, y: 0 };
  }

  private shown({ x, y }: { readonly x: number; readonly y: number }): { readonly x: number; readonly y: number } {
    return { x: x * this.scale(), y: -y * this.scale() };
  }

  /** Metres of a place on the screen. */
  private metresAt({ clientX, clientY }: PointerEvent): { readonly x: number; readonly y: number } {
    const box = this.plan().nativeElement.getBoundingClientRect();
    const zoom = Math.min(box.width / width, box.height / height);
    return {
      x: (clientX - box.left - box.width / 2) / zoom / this.scale(),
      y: -(clientY - box.top - box.height / 2) / zoom / this.scale(),
    };
  }

  protected dragListener(press: PointerEvent): void {
    const { x, y, facing } = this.simulator.listener();
    if (this.pen.on()) return this.drawWay(press, undefined, { x, y });
    followPointer(press, (event) => {
      const to = this.metresAt(event);
      this.simulator.listen(to.x, to.y, facing);
    });
  }

  protected dragFacing(press: PointerEvent): void {
    if (this.pen.on()) return;
    press.stopPropagation();
    const { x, y } = this.simulator.listener();
    followPointer(press, (event) => {
      const to = this.metresAt(event);
      this.simulator.listen(x, y, Math.round((Math.atan2(to.x - x, to.y - y) * 180) / Math.PI));
    });
  }

  protected keyOnListener(event: KeyboardEvent): void {
    const { x, y, facing } = this.simulator.listener();
    const turned = event.shiftKey ? { ArrowLeft: -turn, ArrowRight: turn }[event.key] : undefined;
    const moved = wayOf(event.key);
    if (this.keyOfPen(event, undefined, { x, y })) return;
    if (turned !== undefined) this.simulator.listen(x, y, facing + turned);
    else if (moved) this.simulator.listen(x + moved.x * step, y + moved.y * step, facing);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected dragEmitter(id: string, press: PointerEvent): void {
    this.bench.choose(id);
    if (this.pen.on()) return this.drawWay(press, id, this.placeNow(id));
    const gesture = newGesture();
    followPointer(press, (event) => this.put(id, this.metresAt(event), gesture));
  }

  protected keyOnEmitter(id: string, event: KeyboardEvent): void {
    const moved = wayOf(event.key);
    const place = this.placeNow(id);
    if (this.keyOfPen(event, id, place) || !moved) return;
    this.put(id, { x: place.x + moved.x * step, y: place.y + moved.y * step }, newGesture());
    event.preventDefault();
    event.stopPropagation();
  }

  private put(behaviour: string, place: { readonly x: number; readonly y: number }, gesture: string): void {
    this.document.edit('setBehaviour', { behaviour, change: { place }, label: 'Place' }, gesture);
    // It has walked: where it was put last is what counts.
    if (this.simulator.emitters().has(behaviour)) this.simulator.place(behaviour, place.x, place.y);
  }

  private placeNow(id: string): Place {
    const found = this.placed().find(({ behaviour }) => behaviour.id === id)?.behaviour;
    return found ? this.placeOf(found) : { x: 0, y: 0 };
  }

  private drawWay(press: PointerEvent, who: string | undefined, from: Place): void {
    press.stopPropagation();
    this.pen.draw(press, who, from, this.reach() / 40, (event) => this.metresAt(event));
  }

  /** While a way is drawn keys draw it; true where that was one of them. */
  private keyOfPen(event: KeyboardEvent, who: string | undefined, from: Place): boolean {
    if (!this.pen.on()) return false;
    const moved = wayOf(event.key);
    if (moved) this.pen.step(who, from, moved);
    else if (event.key === 'Enter') this.pen.go();
    else if (event.key !== 'Escape' || !this.pen.drop()) return false;
    event.preventDefault();
    event.stopPropagation();
    return true;
  }
}

function wayOf(key: string): { readonly x: number; readonly y: number } | undefined {
  return { ArrowUp: { x: 0, y: 1 }, ArrowDown: { x: 0, y: -1 }, ArrowLeft: { x: -1, y: 0 }, ArrowRight: { x: 1, y: 0 } }[key];
}
