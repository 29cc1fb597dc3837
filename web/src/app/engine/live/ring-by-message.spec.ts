import * as fc from 'fast-check';
import { ringCapacity, ringSlotCount, ringSlots } from './ring';
import { progressOf, RingSender, takePiece, takeProgress } from './ring-by-message';

const channels = 2;
const rings = () => ({ samples: new Float32Array(ringCapacity * channels), control: new Int32Array(ringSlotCount) });

describe('a ring by messages', () => {
  it('has on the other side what was written on this one, round after round', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3_000 }), { minLength: 1, maxLength: 30 }), (writes) => {
        const [here, there] = [rings(), rings()];
        const sender = new RingSender(here.samples, here.control, (piece) => takePiece(there.samples, there.control, piece));
        let written = 0;
        for (const count of writes) {
          for (let i = 0; i < count; i++, written++)
            for (let c = 0; c < channels; c++) here.samples[c * ringCapacity + (written % ringCapacity)] = written + c / 4;
          here.control[ringSlots.written] = written;
          sender.send();
          const known = Math.min(written, ringCapacity);
          for (let frame = written - known; frame < written; frame++)
            for (let c = 0; c < channels; c++)
              if (there.samples[c * ringCapacity + (frame % ringCapacity)] !== Math.fround(frame + c / 4)) return false;
          if (there.control[ringSlots.written] !== written) return false;
        }
        return true;
      }),
      { numRuns: 50 },
    );
  });

  it('tells of play, stop and jumps without new samples, and of nothing while nothing is new', () => {
    const [here, there] = [rings(), rings()];
    let pieces = 0;
    const sender = new RingSender(here.samples, here.control, (piece) => {
      pieces++;
      takePiece(there.samples, there.control, piece);
    });
    sender.send();
    expect(pieces).toBe(0);
    here.control[ringSlots.playing] = 1;
    sender.send();
    expect(there.control[ringSlots.playing]).toBe(1);
    here.control[ringSlots.discards] = 1;
    here.control[ringSlots.discardTo] = 900;
    sender.send();
    expect([there.control[ringSlots.discards], there.control[ringSlots.discardTo]]).toEqual([1, 900]);
    sender.send();
    expect(pieces).toBe(2);
  });

  it('brings back how far it has played, and the highest peak until somebody has seen it', () => {
    const [worklet, page] = [rings(), rings()];
    worklet.control.set([0, 700, 0, 0, 1, 2, 500_000, 640]);
    takeProgress(page.control, progressOf(worklet.control));
    worklet.control[ringSlots.outputPeak] = 100_000;
    worklet.control[ringSlots.read] = 900;
    takeProgress(page.control, progressOf(worklet.control));
    expect(page.control[ringSlots.read]).toBe(900);
    expect(page.control[ringSlots.underruns]).toBe(2);
    expect(page.control[ringSlots.outputPeak]).toBe(500_000);
    expect(worklet.control[ringSlots.outputPeak]).toBe(0);
  });
});
