/**
 * The ring between the engine's worker and the audio worklet: planar samples in one shared Float32Array, channel after channel, and counters in an
 * Int32Array. Counters run on and on; their place in the ring is the remainder by its capacity (a power of two).
 */
export const ringCapacity = 8_192;
/** Frames that are kept ready: 64 ms at 48 kHz, so that an edit is heard within 100 ms. */
export const ringTarget = 3_072;
/** The same while somebody plays by hand: 21 ms, so that a key is heard within 80 ms with what the loudspeakers need. */
export const ringHands = 1_024;
/** With every gap so many frames more, up to the most that the ring holds beside what is being written: a busy machine needs them. */
export const ringReserve = 1_024;
export const mostReady = 7_168;

export const ringSlots = {
  written: 0,
  read: 1,
  /** Rises when everything up to `discardTo` shall be dropped. */
  discards: 2,
  discardTo: 3,
  playing: 4,
  underruns: 5,
  /** Peak of what left the worklet since it was last asked, in millionths. */
  outputPeak: 6,
  /** Frames with sound that left the worklet. */
  sounded: 7,
} as const;

export const ringSlotCount = 8;
