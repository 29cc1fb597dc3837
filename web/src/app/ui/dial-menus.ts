import { Injectable, signal } from '@angular/core';
import type { Parameter, ParameterValue } from '@tangled-choir/core';
import type { MenuPlace } from './menu-anchor';

/** A dial, a choice or a switch that somebody wants to do something with. */
export interface Dial {
  readonly name: string;
  /** The property of the sound that it turns, if it is one. */
  readonly address: string | undefined;
  readonly parameter: Parameter;
  readonly value: ParameterValue;
  /** Turns it, as one undo step. */
  readonly set: (value: ParameterValue) => void;
}

/** For which dial its menu was asked for, and where; whoever shows that menu takes it from here. */
@Injectable({ providedIn: 'root' })
export class DialMenus {
  readonly asked = signal<{ readonly dial: Dial; readonly place: MenuPlace } | undefined>(undefined);
  /** True while there is somebody to show it; elsewhere the browser's own menu stays. */
  readonly shown = signal(false);

  /** Asks for the menu of a dial, with the right button or the menu key. */
  ask(event: MouseEvent, dial: Dial): void {
    if (!this.shown()) return;
    event.preventDefault();
    event.stopPropagation();
    const box = event.target instanceof Element ? event.target.getBoundingClientRect() : undefined;
    // Keys ask without a place.
    const place = event.clientX || event.clientY ? { x: event.clientX, y: event.clientY } : { x: box?.left ?? 0, y: box?.bottom ?? 0 };
    this.asked.set({ dial, place });
  }
}

const longPress = 600;
const stillWithin = 4;

/** Calls `then` when a finger or a pen is held down for a while without being moved; a mouse has a button for that. */
export function onLongPress(press: PointerEvent, then: (place: MenuPlace) => void): void {
  if (press.pointerType === 'mouse') return;
  const end = (): void => {
    clearTimeout(timer);
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', end);
    removeEventListener('pointercancel', end);
  };
  const move = (event: PointerEvent): void => {
    if (Math.hypot(event.clientX - press.clientX, event.clientY - press.clientY) > stillWithin) end();
  };
  const timer = setTimeout(() => {
    end();
    then({ x: press.clientX, y: press.clientY });
  }, longPress);
  addEventListener('pointermove', move);
  addEventListener('pointerup', end);
  addEventListener('pointercancel', end);
}
