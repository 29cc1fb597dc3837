import { PlaceReader, readReach } from './place-reader';
import { SampleHistory } from './sample-history';
import { SampleRows } from './sample-rows';

const rate = 48_000;
const tone = (frequency: number, place: number): number => Math.sin((2 * Math.PI * frequency * place) / rate);

function rowsOf(length: number, ...frequencies: number[]): SampleRows {
  const rows = new SampleRows(frequencies.length, length);
  frequencies.forEach((frequency, c) => rows.channels[c]!.forEach((_, i) => (rows.channels[c]![i] = tone(frequency, i))));
  return rows;
}

describe('reading between samples', () => {
  it('gives a tone as it is there, up to 18 kHz', () => {
    const frequencies = [50, 1_000, 9_000, 14_000, 18_000];
    const rows = rowsOf(2_000, ...frequencies);
    const into = frequencies.map(() => new Float32Array(500));
    new PlaceReader().read(rows, 100.123, 1.157, 500, into);
    frequencies.forEach((frequency, c) =>
      into[c]!.forEach((sample, i) =>
        expect(Math.abs(sample - tone(frequency, 100.123 + 1.157 * i))).toBeLessThan(frequency < 15_000 ? 1e-4 : 1.2e-3),
      ),
    );
  });

  it('gives the samples themselves at whole places', () => {
    const rows = rowsOf(600, 7_777);
    const into = [new Float32Array(400)];
    new PlaceReader().read(rows, 50, 1, 400, into);
    expect(into[0]).toEqual(rows.channels[0]!.slice(50, 450));
  });

  it('is the same compiled and plain', () => {
    const rows = rowsOf(1_000, 441, 12_345);
    const plain = new PlaceReader();
    // Where there are no kernels, this is missing.
    Object.assign(plain, { kernels: undefined });
    const [one, other] = [0, 1].map(() => [new Float32Array(300), new Float32Array(300)]);
    new PlaceReader().read(rows, 60.7, 0.83, 300, one!);
    plain.read(rows, 60.7, 0.83, 300, other!);
    one!.forEach((samples, c) => samples.forEach((sample, i) => expect(Math.abs(sample - other![c]![i]!)).toBeLessThan(1e-6)));
  });

  it.each([1.5, 3, 8])('removes what reading at %p would fold back', (step) => {
    const rows = rowsOf(12_000, (24_000 / step) * 1.15, (24_000 / step) * 0.7);
    const into = [new Float32Array(1_000), new Float32Array(1_000)];
    new PlaceReader(8).read(rows, 150, step, 1_000, into);
    expect(Math.max(...into[0]!.map(Math.abs))).toBeLessThan(1.5e-3);
    into[1]!.forEach((sample, i) => expect(Math.abs(sample - tone((24_000 / step) * 0.7, 150 + step * i))).toBeLessThan(0.02));
  });
});

describe('the history of samples', () => {
  it('holds what it is to keep, however much goes by', () => {
    const history = new SampleHistory(2, 100);
    let at = 0;
    for (const frames of [1, 900, 64, 16_000, 3, 16_384, 5_000]) {
      const block = [0, 1].map((c) => Float32Array.from({ length: frames }, (_, i) => at + i + c / 2));
      history.write(block, frames);
      at += frames;
      expect(history.end).toBe(at);
      for (let back = 1; back <= 100; back++)
        for (const c of [0, 1]) {
          const expected = at - back < 0 ? 0 : Math.fround(at - back + c / 2);
          expect(history.channels[c]![at - back - history.first]).toBe(expected);
        }
    }
  });

  it('is silent before the beginning and after a reset', () => {
    const history = new SampleHistory(1, readReach);
    history.write([new Float32Array(20).fill(1)], 20);
    history.reset();
    expect(history.channels[0]!.every((sample) => sample === 0)).toBe(true);
    expect(history.end).toBe(0);
  });
});
