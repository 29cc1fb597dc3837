import { Turn } from './turn';

const rate = 48_000;

describe('a turn', () => {
  it.each([0.05, 0.6, 5, 440])('gives sine and cosine of its place, after a minute, too: %f Hz', (frequency) => {
    const turn = new Turn();
    let worst = 0;
    for (let i = 0; i < 60 * rate; i++) {
      turn.next(frequency, rate);
      if (i % 997 !== 0) continue;
      const angle = 2 * Math.PI * ((frequency * i) / rate);
      worst = Math.max(worst, Math.abs(turn.sine - Math.sin(angle)), Math.abs(turn.cosine - Math.cos(angle)));
    }
    expect(worst).toBeLessThan(1e-9);
  });

  it('goes on from where it is at another frequency, and begins again', () => {
    const turn = new Turn();
    for (let i = 0; i < rate / 4; i++) turn.next(1, rate);
    for (let i = 0; i <= rate / 8; i++) turn.next(2, rate);
    // A quarter and a quarter of a turn.
    expect(turn.sine).toBeCloseTo(0, 9);
    expect(turn.cosine).toBeCloseTo(-1, 9);
    turn.reset();
    turn.next(2, rate);
    expect([turn.sine, turn.cosine]).toEqual([0, 1]);
  });
});
