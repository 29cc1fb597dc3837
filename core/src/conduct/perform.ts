import type { Audio } from '../audio/audio';
import { silence } from '../audio/audio';
import type { Frames, Seconds } from '../units';
import type { ConductData, ConductEvent, GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import { ConductMixer } from './mixer';

/** A script of moves: what the game does, and when. */
export interface Performance {
  readonly moves: readonly TimedMove[];
  readonly seconds: Seconds;
}

export interface TimedMove {
  readonly at: Seconds;
  readonly move: GameMove;
}

const block: Frames = 4_096;

/** Plays a script of moves without anybody listening: what was decided, and what is heard of it. `progress` returning false ends it early. */
export function perform(
  data: ConductData,
  assets: ReadonlyMap<string, Audio>,
  { moves, seconds }: Performance,
  progress: (share: number) => boolean = () => true,
): { readonly log: readonly ConductEvent[]; readonly audio: Audio } {
  const engine = new ConductEngine(data);
  const mixer = new ConductMixer(data.sampleRate);
  mixer.setBuses(data.buses);
  for (const [id, { channels }] of assets) mixer.setAsset(id, channels);
  for (const { at, move } of moves) engine.move(move, Math.round(at * data.sampleRate));
  const frames = Math.round(seconds * data.sampleRate);
  const audio = silence(data.sampleRate, 2, frames);
  const [left, right] = [audio.channels[0]!, audio.channels[1]!];
  const log: ConductEvent[] = [];
  for (let from = 0; from < frames; from += block) {
    const count = Math.min(block, frames - from);
    const events = engine.advance(from + count);
    mixer.take(events);
    log.push(...events);
    mixer.render(left.subarray(from), right.subarray(from), count);
    if (!progress((from + count) / frames)) break;
  }
  return { log, audio };
}
