import { noise, residual, sine } from '../../testing/signals';
import { bell, highShelf, notch } from './analogue';
import { matchSections, sectionPower } from './matched-section';
import { SectionCascade } from './section-cascade';
import { passThrough, Section, sectionFromBiquad } from './state-variable';

const rate = 48_000;
const [low] = matchSections([bell(300, 9, 2)], rate);
const [high] = matchSections([highShelf(6_000, -7, 0.8)], rate);

function ready(coefficients: NonNullable<typeof low>): Section {
  const section = new Section(512);
  section.reset();
  section.aim(coefficients);
  return section;
}

describe('state-variable sections', () => {
  it('have the transfer function of the direct form that they come from', () => {
    // A resonator by its poles and zeros: |H| at frequency f by evaluating z on the unit circle.
    const [b0, b1, b2, a1, a2] = [0.4, -0.3, 0.2, -1.6, 0.81] as const;
    const section = sectionFromBiquad(b0, b1, b2, a1, a2);
    for (const frequency of [50, 1_000, 7_000, 20_000]) {
      const w = (2 * Math.PI * frequency) / rate;
      const power = (c0: number, c1: number, c2: number): number =>
        (c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w)) ** 2 + (c1 * Math.sin(w) + c2 * Math.sin(2 * w)) ** 2;
      expect(sectionPower(section, frequency, rate) / (power(b0, b1, b2) / power(1, a1, a2))).toBeCloseTo(1, 9);
    }
  });

  it.each([1, 2, 3, 5, 6, 7, 13])('give in compiled pairs what they give one after the other: %i of them', (count) => {
    const coefficients = (n: number) => (n % 2 ? high! : low!);
    const expected = noise(5_000, 3);
    const actual = expected.slice();
    const sections = Array.from({ length: count }, (_, n) => ready(coefficients(n)));
    const cascade = new SectionCascade(count, 512);
    cascade.reset();
    for (let n = 0; n < count; n++) cascade.aim(n, coefficients(n));
    for (const section of sections) section.process(expected, 0, 2_500);
    // In blocks of any size; half way, one of them moves to other coefficients and back into the kernel.
    let block = 1;
    for (let from = 0; from < 5_000; from += block, block = Math.min(1_024, 2 * block)) {
      if (from < 2_500 && from + block >= 2_500) block = 2_500 - from;
      if (from === 2_500) cascade.aim(0, high!);
      block = Math.min(block, 5_000 - from);
      cascade.process(actual.subarray(from), block);
    }
    sections[0]!.aim(high!);
    for (const section of sections) section.process(expected, 2_500, 5_000);
    expect(residual(expected, actual)).toBeLessThan(-120);
  });

  it('keep their sound on its way into the kernel and back, also where they are low, narrow and hardly there', () => {
    const shapes = [bell(20, 0.01, 30), bell(20, 24, 30), bell(40, 0.05, 0.5), notch(30, 20)].map(
      (shape) => matchSections([shape], rate)[0]!,
    );
    const expected = noise(40_000, 6);
    const actual = expected.slice();
    const sections = shapes.map(ready);
    const cascade = new SectionCascade(shapes.length, 512);
    cascade.reset();
    shapes.forEach((shape, n) => cascade.aim(n, shape));
    for (let from = 0; from < 40_000; from += 1_000) {
      // Every tenth of a second all of them are handed to their neighbours.
      if (from % 5_000 === 0 && from > 0)
        shapes.forEach((_, n) => {
          const shape = shapes[(n + from / 5_000) % shapes.length]!;
          cascade.aim(n, shape);
          sections[n]!.aim(shape);
        });
      cascade.process(actual.subarray(from), 1_000);
      for (const section of sections) section.process(expected, from, from + 1_000);
    }
    expect(residual(expected, actual)).toBeLessThan(-110);
  });

  it('give the same samples whatever the blocks, where six run side by side', () => {
    const run = (sizes: readonly number[]): Float32Array => {
      const cascade = new SectionCascade(6, 512);
      cascade.reset();
      for (let n = 0; n < 6; n++) cascade.aim(n, n % 2 ? high! : low!);
      const samples = noise(3_000, 4);
      for (let from = 0, n = 0; from < 3_000; n++) {
        const size = Math.min(3_000 - from, sizes[n % sizes.length]!);
        cascade.process(samples.subarray(from), size);
        from += size;
      }
      return samples;
    };
    const whole = run([1_024]);
    for (const sizes of [[1], [5, 6, 7], [480, 3]]) expect(run(sizes)).toEqual(whole);
  });

  it('glide to new coefficients without a jump and then stand still', () => {
    const section = ready(low!);
    const samples = sine(200, 0.2, rate, -12);
    section.process(samples, 0, 4_800);
    section.aim(high!);
    expect(section.moving).toBe(512);
    section.process(samples, 4_800, 9_600);
    expect(section.moving).toBe(0);
    let largest = 0;
    for (let i = 1; i < 9_600; i++) largest = Math.max(largest, Math.abs(samples[i]! - samples[i - 1]!));
    expect(largest).toBeLessThan(0.25 * 3 * ((2 * Math.PI * 200) / rate));
  });

  it('rest when they change nothing, and fall to exact silence', () => {
    expect(ready(passThrough).idle).toBe(true);
    const [narrow] = matchSections([notch(50, 20)], rate);
    const section = ready(narrow!);
    const samples = new Float32Array(rate * 20);
    samples[0] = 1;
    section.process(samples, 0, samples.length);
    section.process(new Float32Array(10), 0, 10);
    expect(samples.at(-1)).toBe(0);
  });
});
