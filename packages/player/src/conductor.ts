import type { ConductData, GameMove } from '@tangled-choir/core/conduct';
import type { FromConductor, ToConductor } from './protocol';
import { processorName } from './protocol';

/** The page's side of the worklet: hands over data, recordings and moves, and hears what came of them. */
export class Conductor {
  /** Where its sound comes out; connect it to whatever the game hears. */
  readonly node: AudioWorkletNode;
  /** Called with everything that the worklet tells. */
  onreport: ((report: FromConductor) => void) | undefined;
  private serial = 0;

  private constructor(context: BaseAudioContext) {
    this.node = new AudioWorkletNode(context, processorName, { numberOfInputs: 0, outputChannelCount: [2] });
    this.node.port.onmessage = ({ data }: MessageEvent<FromConductor>) => this.onreport?.(data);
  }

  /** Loads the worklet into a context. Rejects where it cannot be loaded. */
  static async create(context: BaseAudioContext, processor: string | URL): Promise<Conductor> {
    await context.audioWorklet.addModule(processor);
    return new Conductor(context);
  }

  /** Gives it behaviours, or others than before while it runs; the number comes back in the report of when they hold. */
  setData(data: ConductData): number {
    this.send({ type: 'data', data, serial: ++this.serial });
    return this.serial;
  }

  /** One or two channels at the rate of the data; without them, the recording is given back. */
  setAsset(id: string, channels: readonly Float32Array[] | undefined): void {
    this.send({ type: 'asset', id, channels });
  }

  /** Makes a move at a frame; at once where none is given. */
  move(move: GameMove, frame?: number): void {
    this.send({ type: 'move', move, frame });
  }

  /** Goes on, or stands still in the middle of what sounds. It stands still at first. */
  run(on: boolean): void {
    this.send({ type: 'run', on });
  }

  /** Back to the beginning, with no data; recordings stay. */
  reset(): void {
    this.send({ type: 'quiet' });
  }

  close(): void {
    this.node.disconnect();
    this.node.port.onmessage = null;
  }

  private send(message: ToConductor): void {
    this.node.port.postMessage(message);
  }
}
