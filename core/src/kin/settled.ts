/**
 * A number to twelve digits. Of powers and sines the last digit differs from one engine to another (ECMA-262 leaves it open), and a sibling must be the same,
 * with the same recipe, wherever it is drawn.
 */
export const settled = (value: number): number => Number(value.toPrecision(12));
