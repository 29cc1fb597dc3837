/** Something that changes a run of samples in place: `count` of them from place `from` on. */
export interface Shaper {
  shape(samples: Float32Array, from: number, count: number): void;
}
