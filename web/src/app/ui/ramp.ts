/** The one ramp of all spectrograms, from ink over ice to bone: lightness rises evenly with level. */
const stops: readonly (readonly [number, number, number])[] = [
  [12, 21, 24],
  [20, 46, 56],
  [31, 80, 92],
  [62, 121, 128],
  [116, 160, 158],
  [178, 196, 181],
  [236, 229, 214],
];

const size = 256;

/** RGB triples for places 0 to 255 of the ramp. */
export const ramp: Uint8ClampedArray = (() => {
  const table = new Uint8ClampedArray(size * 3);
  for (let i = 0; i < size; i++) {
    const place = (i / (size - 1)) * (stops.length - 1);
    const index = Math.min(stops.length - 2, Math.floor(place));
    for (let part = 0; part < 3; part++) {
      const from = stops[index]![part]!;
      table[i * 3 + part] = from + (stops[index + 1]![part]! - from) * (place - index);
    }
  }
  return table;
})();
