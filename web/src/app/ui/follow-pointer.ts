/**
 * Follows a pressed pointer wherever it goes until it is let go: `move` for every movement, `end` once. The press itself does nothing
 * else, so that no text is selected while dragging.
 */
export function followPointer(press: PointerEvent, move: (event: PointerEvent) => void, end: () => void = () => undefined): void {
  press.preventDefault();
  const finish = (): void => {
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', finish);
    removeEventListener('pointercancel', finish);
    end();
  };
  addEventListener('pointermove', move);
  addEventListener('pointerup', finish);
  addEventListener('pointercancel', finish);
}
