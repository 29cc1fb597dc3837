/** Whoever keeps what drags change hears of each: its beginning, and that it was given up. */
export interface DragWatcher {
  begins(): void;
  givenUp(): void;
}

const watchers = new Set<DragWatcher>();

/** Tells a watcher of all drags from now on; returns what ends that. */
export function watchDrags(watcher: DragWatcher): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/**
 * Follows a pressed pointer wherever it goes until it is let go: `move` for every movement, `end` once. Escape gives the drag up: `end` is told,
 * and watchers take back what it has changed. The press itself does nothing else, so that no text is selected while dragging.
 */
export function followPointer(
  press: PointerEvent,
  move: (event: PointerEvent) => void,
  end: (givenUp: boolean) => void = () => undefined,
): void {
  press.preventDefault();
  const stop = (givenUp: boolean): void => {
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', finish);
    removeEventListener('pointercancel', finish);
    removeEventListener('keydown', key, true);
    if (givenUp) for (const watcher of watchers) watcher.givenUp();
    end(givenUp);
  };
  const finish = (): void => stop(false);
  const key = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return;
    // It ends the drag and nothing else.
    event.preventDefault();
    event.stopImmediatePropagation();
    stop(true);
  };
  for (const watcher of watchers) watcher.begins();
  addEventListener('pointermove', move);
  addEventListener('pointerup', finish);
  addEventListener('pointercancel', finish);
  addEventListener('keydown', key, true);
}
