/** The audio worklet that records: hands on what comes in, block by block, with the frame at which each block began, so that gaps show. */

import type { RecordedBlock } from './recorded-block';

const blockFrames = 2_048;

class ChoirRecorder extends AudioWorkletProcessor {
  private channels: Float32Array<ArrayBuffer>[] = [];
  private filled = 0;
  private first = 0;

  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0] ?? [];
    if (input.length === 0) return true;
    const frames = input[0]!.length;
    if (this.channels.length !== input.length || this.first + this.filled !== currentFrame) this.begin(input.length);
    input.forEach((channel, c) => this.channels[c]!.set(channel, this.filled));
    this.filled += frames;
    if (this.filled + frames > blockFrames) this.flush();
    return true;
  }

  private begin(count: number): void {
    this.flush();
    this.first = currentFrame;
    this.channels = Array.from({ length: count }, () => new Float32Array(blockFrames));
  }

  private flush(): void {
    if (this.filled === 0) return;
    const block: RecordedBlock = { frame: this.first, channels: this.channels.map((channel) => channel.slice(0, this.filled)) };
    this.port.postMessage(
      block,
      block.channels.map((channel) => channel.buffer),
    );
    this.first += this.filled;
    this.filled = 0;
  }
}

registerProcessor('choir-recorder', ChoirRecorder);
