/** An audio worklet that measures what goes into it, for what is not played by the engine: ten times a second, while it is told to. */
import type { LevelsMessage } from './levels-message';
import { levelsProcessor } from './levels-message';
import { OutputLevels } from './output-levels';

class ChoirLevels extends AudioWorkletProcessor {
  private levels = new OutputLevels(sampleRate, 2);
  private running = false;
  private unread = 0;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<LevelsMessage>) => {
      if (data === 'afresh') this.levels = new OutputLevels(sampleRate, 2);
      else this.running = data === 'run';
    };
  }

  process([input]: Float32Array[][]): boolean {
    const frames = input?.[0]?.length ?? 0;
    if (!this.running || !input || frames === 0) return true;
    this.levels.process(input, frames);
    this.unread += frames;
    if (this.unread >= sampleRate / 10) {
      this.unread = 0;
      this.port.postMessage(this.levels.read());
    }
    return true;
  }
}

registerProcessor(levelsProcessor, ChoirLevels);
