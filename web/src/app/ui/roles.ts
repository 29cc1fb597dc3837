import type { Role } from '@tangled-choir/core';

/** CSS variable of a role's hue. */
export function roleColour(role: Role | undefined): string {
  return role ? `var(--role-${role.toLowerCase()})` : 'var(--quiet)';
}

/** Glyph of a role as an SVG path in a box of 16, so that colour never carries the meaning alone. */
export const rolePaths: Readonly<Record<Role, string>> = {
  Strike: 'M9 1 3.5 9H8l-1 6 5.5-8H8z',
  Body: 'M8 3a5 5 0 1 0 0 10A5 5 0 0 0 8 3z',
  Weight: 'M1.5 4h13M3.5 8h9M5.5 12h5',
  Grit: 'M1.5 12 5 4l3 7 2.5-5 4 6',
  Air: 'M1.5 6c3-3 4 2 6.5 0s4-2 6.5 0M1.5 11c3-3 4 2 6.5 0s4-2 6.5 0',
  Motion: 'M1.5 8h12M9.5 3.5 14 8l-4.5 4.5',
  Tail: 'M1.5 3c3 8 6 10 13 10M1.5 13V3',
  Bed: 'M1.5 6h13M1.5 11h13',
};
