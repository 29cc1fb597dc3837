/** What the recording worklet hands on. */
export interface RecordedBlock {
  /** Frame of the audio clock at which the block begins. */
  readonly frame: number;
  readonly channels: readonly Float32Array<ArrayBuffer>[];
}
