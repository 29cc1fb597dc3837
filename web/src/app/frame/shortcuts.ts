/** True while keys belong to a text field, a menu or a dialog rather than to the view. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target;
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.isContentEditable ||
    target.closest('input, textarea, select, .mat-mdc-menu-panel, .mat-mdc-select-panel, [role="dialog"]') !== null
  );
}

export interface ShortcutGroup {
  readonly title: string;
  readonly keys: readonly (readonly [string, string])[];
}

/** What `?` lists. */
export const shortcutGroups: readonly ShortcutGroup[] = [
  {
    title: 'Everywhere',
    keys: [
      ['Space', 'play, stop'],
      ['Home', 'to the start'],
      ['R', 'repeat the loop'],
      ['Ctrl Z', 'undo'],
      ['Ctrl Shift Z', 'redo'],
      ['Alt 1 … 4', 'Gather, Loft, Kin, Hand-off'],
      ['?', 'this list'],
    ],
  },
  {
    title: 'Gather',
    keys: [
      ['↑ ↓', 'choose a source'],
      ['Enter', 'listen to it, stop it'],
      ['F2', 'rename it'],
      ['P', 'place it in the Loft as a layer'],
      ['Delete', 'remove it if nothing uses it'],
    ],
  },
  {
    title: 'Loft',
    keys: [
      ['← →', 'nudge the clip by 10 ms, with Shift by 1 ms'],
      ['Alt ← →', 'move the clip’s end'],
      ['Ctrl ← →', 'move the clip’s start'],
      ['Alt ↑ ↓', 'clip louder, quieter'],
      ['D', 'duplicate the clip'],
      ['Delete', 'delete the clip, or the layer'],
      ['M, S', 'mute, solo the layer'],
      ['Ctrl ↑ ↓', 'move the layer up, down'],
      ['+ −, 0', 'zoom in, out, fit'],
    ],
  },
  {
    title: 'Kin',
    keys: [
      ['1 … 9', 'play a sibling'],
      ['← → ↑ ↓', 'choose a sibling'],
      ['Enter', 'play it'],
      ['K, X', 'keep it, drop it'],
      ['G', 'roll the rest again'],
    ],
  },
  {
    title: 'Values',
    keys: [
      ['drag', 'change; Shift: finely'],
      ['wheel, ↑ ↓', 'nudge'],
      ['Enter, digits', 'type, with or without the unit'],
      ['double click', 'back to the default'],
    ],
  },
];
