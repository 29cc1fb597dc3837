import type { ArrangeCommands } from './arrange-commands';

/** “ctrl+shift+v”; signs that need Shift on some keyboards are named by themselves alone. */
export function chord(event: KeyboardEvent): string {
  const key = event.key.toLowerCase();
  const sign = key.length === 1 && !/[a-z0-9]/.test(key);
  return [event.ctrlKey || event.metaKey ? 'ctrl+' : '', event.altKey ? 'alt+' : '', event.shiftKey && !sign ? 'shift+' : '', key].join('');
}

type Action = (commands: ArrangeCommands, nudge: number) => unknown;

/** Keys that work on the chosen clips. */
export const clipKeys: Readonly<Record<string, Action>> = {
  '[': (commands) => commands.trimToPlayhead('start'),
  ']': (commands) => commands.trimToPlayhead('end'),
  v: (commands) => commands.reverse(),
  d: (commands) => commands.duplicate(),
  delete: (commands) => commands.remove(),
  backspace: (commands) => commands.remove(),
  'ctrl+c': (commands) => commands.copy(),
  'ctrl+x': (commands) => commands.cut(),
  g: (commands) => commands.group(true),
  'shift+g': (commands) => commands.group(false),
  k: (commands) => commands.lock(),
  l: (commands) => commands.land('mark'),
  'shift+l': (commands) => commands.land('playhead'),
  j: (commands) => commands.align(),
  t: (commands) => commands.setSync('transient'),
  'shift+t': (commands) => commands.setSync('by hand'),
  o: (commands) => commands.carve(),
  q: (commands) => commands.repeat(),
  c: (commands) => commands.chop(),
  u: (commands) => commands.stutter(),
  e: (commands) => commands.loopInside(),
  f: (commands) => commands.fitLength(),
  arrowright: (commands, nudge) => commands.move(nudge),
  arrowleft: (commands, nudge) => commands.move(-nudge),
  'shift+arrowright': (commands) => commands.move(0.001),
  'shift+arrowleft': (commands) => commands.move(-0.001),
  'alt+arrowright': (commands, nudge) => commands.trim('end', nudge),
  'alt+arrowleft': (commands, nudge) => commands.trim('end', -nudge),
  'ctrl+arrowright': (commands, nudge) => commands.trim('start', nudge),
  'ctrl+arrowleft': (commands, nudge) => commands.trim('start', -nudge),
  'alt+arrowup': (commands) => commands.louder(1),
  'alt+arrowdown': (commands) => commands.louder(-1),
  '.': (commands, nudge) => commands.slip(nudge),
  ',': (commands, nudge) => commands.slip(-nudge),
};

/** Keys that need no chosen clip. */
export const arrangeKeys: Readonly<Record<string, Action>> = {
  b: (commands) => commands.split(),
  w: (commands) => commands.closeGaps(),
  'ctrl+c': (commands) => commands.copyLayer(),
  'ctrl+v': (commands) => commands.paste('at the playhead'),
  'ctrl+shift+v': (commands) => commands.paste('in place'),
  'ctrl+a': (commands) => commands.chooseAll(),
};
