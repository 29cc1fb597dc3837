import type { PictureFrame, PictureReader } from '../../engine/picture-reader';

const ahead = 6;
/** When decoding has fallen this far behind, it starts anew where the sound is. */
const hopeless = 1;

/**
 * Gives the frame for any moment: decodes ahead while time runs on, and single frames while it stands or jumps. One instance shows one
 * picture; `wanted` is called for every screen refresh while time runs, and when time stands for every move and every `onStill`. Frames
 * that come too late are dropped undrawn; those that were handed out stay whole until the next one is.
 */
export class PicturePlayer {
  private queue: PictureFrame[] = [];
  private shown: PictureFrame | undefined;
  private streaming = false;
  private streamedFrom = 0;
  private run = 0;
  private stillWanted: number | undefined;
  private stillBusy = false;
  private closed = false;
  private wake: (() => void) | undefined;

  /** `onStill` is called when a single frame that was asked for is there. */
  constructor(
    private readonly reader: PictureReader,
    private readonly onStill: () => void,
  ) {}

  /** The frame that was handed out last. */
  get current(): PictureFrame | undefined {
    return this.shown;
  }

  /** The newest frame that should be on the screen at `time`, if it is decoded; undefined when nothing new has to be drawn. */
  wanted(time: number, running: boolean): PictureFrame | undefined {
    if (!running) {
      this.stop();
      return this.still(time);
    }
    const oldest = this.shown?.time ?? this.queue[0]?.time ?? this.streamedFrom;
    const newest = this.queue.at(-1)?.time ?? this.shown?.time ?? this.streamedFrom;
    const jumped = time < oldest - 0.1 || time > newest + hopeless;
    if (!this.streaming || jumped) this.start(time);
    let due: PictureFrame | undefined;
    while (this.queue[0] && this.queue[0].time <= time + 1e-4) {
      due?.close();
      due = this.queue.shift();
    }
    if (due) {
      this.show(due);
      this.wake?.();
    }
    return due;
  }

  stop(): void {
    if (!this.streaming) return;
    this.run++;
    this.streaming = false;
    this.empty();
    this.wake?.();
  }

  /** Lets go of everything that is decoded. */
  close(): void {
    this.closed = true;
    this.stop();
    this.empty();
    this.show(undefined);
  }

  private show(frame: PictureFrame | undefined): void {
    this.shown?.close();
    this.shown = frame;
  }

  private empty(): void {
    for (const frame of this.queue) frame.close();
    this.queue = [];
  }

  private still(time: number): PictureFrame | undefined {
    const { shown } = this;
    const fits = shown !== undefined && time >= shown.time - 1e-4 && time < shown.time + Math.max(shown.duration, 0.001) - 1e-4;
    if (!fits) {
      this.stillWanted = time;
      if (!this.stillBusy) void this.decodeStill();
    }
    const ready = this.queue.shift();
    if (ready) this.show(ready);
    return ready;
  }

  /** Decodes the frame that was asked for last; those asked for in between are skipped. */
  private async decodeStill(): Promise<void> {
    this.stillBusy = true;
    try {
      while (this.stillWanted !== undefined) {
        const time = this.stillWanted;
        this.stillWanted = undefined;
        const frame = await this.reader.frameAt(Math.max(0, time));
        if (!frame) continue;
        if (this.streaming || this.closed) frame.close();
        else {
          this.empty();
          this.queue = [frame];
          this.onStill();
        }
      }
    } catch {
      // A frame that cannot be decoded leaves the one before on the screen.
    } finally {
      this.stillBusy = false;
    }
  }

  private start(time: number): void {
    this.streaming = true;
    this.streamedFrom = time;
    this.empty();
    this.show(undefined);
    this.wake?.();
    void this.stream(++this.run, Math.max(0, time));
  }

  private async stream(run: number, from: number): Promise<void> {
    try {
      for await (const frame of this.reader.framesFrom(from)) {
        if (run !== this.run) {
          frame.close();
          return;
        }
        this.queue.push(frame);
        while (this.queue.length >= ahead && run === this.run) await new Promise<void>((resolve) => (this.wake = resolve));
      }
    } catch {
      if (run === this.run) this.streaming = false;
    }
  }
}
