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
      ['Y', 'even compare: the other side'],
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
      ['Ctrl, Shift, Ctrl A', 'choose several, all that are shown'],
      ['Enter', 'listen to it, stop it'],
      ['F2', 'rename it'],
      ['P', 'place it in the Loft as a layer'],
      ['A', 'rank the others by likeness to it'],
      ['Z', 'close-up in the place of the map, and back'],
      ['+ − 0', 'close-up: closer, further, all of it'],
      ['[ ]', 'close-up: the chosen region begins, ends at the playhead'],
      ['Esc', 'end the ranking and the box of the map'],
      ['Delete', 'remove it if nothing uses it'],
    ],
  },
  {
    title: 'Loft',
    keys: [
      ['← →', 'nudge the clips; with Shift by 1 ms'],
      ['Alt ← →, Ctrl ← →', 'move their ends, their starts'],
      [', .', 'slip their content'],
      ['Alt ↑ ↓', 'louder, quieter'],
      ['B, [ ]', 'split, trim to the playhead'],
      ['T, Shift T', 'sync point: transient, playhead'],
      ['L, Shift L', 'land on the nearest mark, the playhead'],
      ['J', 'align to the clip chosen last'],
      ['O', 'carve other layers'],
      ['V, F, E', 'reverse, fit to length, loop inside'],
      ['Q, C, U', 'repeat, chop, stutter'],
      ['W', 'close gaps'],
      ['G, Shift G, K', 'group, ungroup, lock'],
      ['Ctrl C, X, V', 'copy, cut, paste at the playhead'],
      ['Ctrl Shift V', 'paste in place'],
      ['D, Delete', 'duplicate, delete'],
      ['Ctrl A, Esc', 'choose all, none'],
      ['drag', 'move; Ctrl: a copy; Shift: the content; Alt: no snapping'],
      ['Enter, P, Shift P, G', 'sources: listen, place as a layer, on the selected one, as the guide'],
      ['N', 'mark at the playhead'],
      ['< >', 'one picture frame back, on'],
      ['M, S, X', 'mute, solo the layer; set solos aside'],
      ['A', 'show, hide the automation of what is selected'],
      ['H', 'hear only what the open step changes; on a band of the EQ, only that band'],
      ['Ctrl ↑ ↓', 'move the layer up, down'],
      ['Ctrl C, V', 'copy the layer while no clip is chosen, paste it, also into another sound'],
      ['Ctrl C, D, V', 'on a step of the chain: copy it, duplicate it, paste behind it'],
      ['+ −, 0', 'zoom in, out, fit'],
      ['Z', 'fold the lectern, unfold it'],
    ],
  },
  {
    title: 'Automation lanes',
    keys: [
      ['press', 'on the curve: a point; beside it: choose a stretch'],
      ['double click', 'add a point, remove it'],
      ['Ctrl drag', 'draw by hand'],
      ['Shift, Alt', 'drag finely, without snapping'],
      ['← → ↑ ↓', 'move the point; with Shift finely'],
      ['Delete', 'remove the point'],
      ['Ctrl C, V', 'copy the course, paste at the playhead'],
    ],
  },
  {
    title: 'Kin',
    keys: [
      ['1 … 9', 'play a sibling'],
      ['← → ↑ ↓', 'choose a sibling'],
      ['Enter', 'play it'],
      ['K, X', 'keep it, drop it'],
      ['Shift K', 'keep all that nobody has judged'],
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
      ['right button', 'automate, pull, let vary; copy and paste'],
    ],
  },
];
