import { inMemory } from '../../audio/recording';
import { mono, noise, sine } from '../../testing/signals';
import { measureSpectrogram } from './spectrogram';

describe('spectrogram', () => {
  it('shows a full-scale sine at 0 dB in its band and nothing elsewhere', async () => {
    const { columns, rows, levels } = await measureSpectrogram(inMemory(mono(sine(1_000, 1, 48_000))), { columns: 20, rows: 60 });
    const expected = Math.floor((Math.log(1_000 / 30) / Math.log(20_000 / 30)) * rows);
    const column = levels.subarray(10 * rows, 11 * rows);
    const loudest = column.indexOf(Math.max(...column));
    expect(columns).toBe(20);
    expect(Math.abs(loudest - expected)).toBeLessThanOrEqual(1);
    expect(Math.abs(column[loudest]!)).toBeLessThan(1.5);
    expect(column[rows - 1]).toBeLessThan(-100);
  });

  it('is smooth where bands are narrower than what the window can tell apart', async () => {
    const { rows, levels } = await measureSpectrogram(inMemory(mono(sine(70.3125, 1, 48_000))), { columns: 8, rows: 128 });
    // 70.3 Hz is the third bin of 2048 at 48 kHz; rows around it must fall off evenly to both sides.
    const column = [...levels.subarray(4 * rows, 5 * rows)];
    const peak = column.indexOf(Math.max(...column));
    const frequency = 30 * (20_000 / 30) ** ((peak + 0.5) / rows);
    expect(Math.abs(12 * Math.log2(frequency / 70.3125))).toBeLessThan(0.6);
    for (let row = 6; row < peak; row++) expect(column[row]!).toBeLessThan(column[row + 1]!);
    for (let row = peak; row < peak + 10; row++) expect(column[row]!).toBeGreaterThan(column[row + 1]!);
  });

  it('shows when something begins', async () => {
    const late = new Float32Array(48_000);
    late.set(sine(500, 0.5, 48_000), 24_000);
    const { rows, levels } = await measureSpectrogram(inMemory(mono(late)), { columns: 10, rows: 30 });
    expect(Math.max(...levels.subarray(0, rows))).toBeLessThan(-100);
    expect(Math.max(...levels.subarray(8 * rows, 9 * rows))).toBeGreaterThan(-6);
  });

  it.each([100, 4_800])('of parts fits together to that of the whole, with columns of %s frames', async (perColumn) => {
    const recording = inMemory(mono(noise(48 * perColumn, 3, -12)));
    const rows = 20;
    const whole = await measureSpectrogram(recording, { columns: 48, rows });
    const parts = await Promise.all(
      [0, 1, 2].map((n) => measureSpectrogram(recording, { columns: 16, rows, from: n * 16 * perColumn, to: (n + 1) * 16 * perColumn })),
    );
    parts.forEach(({ levels }, n) => expect(levels).toEqual(whole.levels.subarray(n * 16 * rows, (n + 1) * 16 * rows)));
  });
});
