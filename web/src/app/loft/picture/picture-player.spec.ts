import type { PictureFrame, PictureReader } from '../../engine/picture-reader';
import { PicturePlayer } from './picture-player';

const rate = 25;
/** How many frames were decoded and not closed yet. */
let open = 0;

function frame(index: number): PictureFrame {
  open++;
  return { time: index / rate, duration: 1 / rate, draw: () => undefined, close: () => void open-- };
}

/** Decodes at once, one frame a microtask; notes where streams began. */
function reader(seconds: number): { reader: PictureReader; starts: number[] } {
  const starts: number[] = [];
  const last = seconds * rate;
  const fake: Pick<PictureReader, 'frameAt' | 'framesFrom'> = {
    frameAt: (time) => Promise.resolve(frame(Math.floor(time * rate + 1e-6))),
    async *framesFrom(time) {
      starts.push(time);
      for (let index = Math.floor(time * rate + 1e-6); index < last; index++) yield await Promise.resolve(frame(index));
    },
  };
  return { reader: fake as PictureReader, starts };
}

const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

describe('playing a picture', () => {
  it('shows each frame within its own time, from one stream', async () => {
    const { reader: fake, starts } = reader(4);
    const player = new PicturePlayer(fake, () => undefined);
    let shown: number | undefined;
    for (let time = 1; time < 3; time += 1 / 60) {
      const due = player.wanted(time, true);
      if (due) shown = due.time;
      await settle();
      if (time > 1.05) expect(time - shown!).toBeLessThan(1 / rate + 1e-6);
    }
    expect(starts).toEqual([1]);
  });

  it('starts anew after a jump, back or far ahead', async () => {
    const { reader: fake, starts } = reader(20);
    const player = new PicturePlayer(fake, () => undefined);
    for (const time of [5, 5.02, 5.04, 1, 1.02, 9, 9.02]) {
      player.wanted(time, true);
      await settle();
    }
    expect(starts).toEqual([5, 1, 9]);
  });

  it('shows the frame at the playhead when time stands, the last one asked for', async () => {
    // Nobody asks again and again while time stands.
    const told: (number | undefined)[] = [];
    const player: PicturePlayer = new PicturePlayer(reader(4).reader, () => told.push(player.wanted(1.21, false)?.time));
    for (const time of [0.5, 0.7, 1.21]) player.wanted(time, false);
    await settle();
    expect(told.at(-1)).toBeCloseTo(1.2);
    expect(player.current?.time).toBeCloseTo(1.2);
    expect(player.wanted(1.21, false)).toBeUndefined();
  });

  it('lets go of every frame: those shown, those skipped, those decoded ahead', async () => {
    open = 0;
    const player = new PicturePlayer(reader(20).reader, () => undefined);
    for (const time of [1, 1.3, 1.6, 8, 8.1]) {
      player.wanted(time, true);
      await settle();
    }
    for (const time of [3, 3.5]) {
      player.wanted(time, false);
      await settle();
    }
    player.wanted(3.5, false);
    player.close();
    await settle();
    expect(open).toBe(0);
  });
});
