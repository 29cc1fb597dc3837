/**
 * Band-limited interpolation at phases that repeat: every output sample is the sum of `taps` inputs, weighed by the row of its phase, in
 * double precision. The reference in plain TypeScript is `interpolatePlain` in src/audio/exact-phases.ts; tests compare the two.
 *
 * `offsets` holds, for each of the `period` phases, how many inputs after the first of its period its sum begins; from one period to the
 * next it is `advance` inputs. `length` is the number of outputs. All pointers are byte addresses, `taps` is a multiple of 4.
 */
export function convertRate(
  input: usize,
  rows: usize,
  offsets: usize,
  output: usize,
  taps: i32,
  period: i32,
  advance: i32,
  length: i32,
): void {
  const rowBytes: usize = (<usize>taps) << 3;
  const end: usize = output + ((<usize>length) << 2);
  for (let from = input; output < end; from += (<usize>advance) << 2) {
    let weight = rows;
    for (let phase = 0; phase < period && output < end; phase++, output += 4) {
      let sample: usize = from + ((<usize>load<i32>(offsets + ((<usize>phase) << 2))) << 2);
      const rowEnd: usize = weight + rowBytes;
      let first = f64x2.splat(0);
      let second = first;
      for (; weight < rowEnd; weight += 32, sample += 16) {
        const four = v128.load(sample);
        first = f64x2.add(first, f64x2.mul(f64x2.promote_low_f32x4(four), v128.load(weight)));
        second = f64x2.add(second, f64x2.mul(f64x2.promote_low_f32x4(v128.shuffle<f64>(four, four, 1, 1)), v128.load(weight, 16)));
      }
      first = f64x2.add(first, second);
      store<f32>(output, <f32>(f64x2.extract_lane(first, 0) + f64x2.extract_lane(first, 1)));
    }
  }
}
