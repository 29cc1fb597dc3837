/**
 * Band-limited interpolation with a tabled kernel, eight samples at a time. The same arithmetic as `interpolate` in
 * src/audio/resample.ts, in single precision; tests compare the two.
 *
 * `input` holds `taps` samples around each output position, beginning at position 0; `rows` holds density + 1 rows of `taps` weights.
 * All pointers are byte addresses, `taps` is a multiple of 8.
 */
export function interpolate(input: usize, rows: usize, output: usize, taps: i32, density: f64, step: f64, first: f64, length: i32): void {
  const rowBytes: usize = (<usize>taps) << 2;
  for (let i = 0; i < length; i++) {
    const position = first + <f64>i * step;
    const base = Math.floor(position);
    const place = (position - base) * density;
    const row = Math.floor(place);
    const blend = <f32>(place - row);
    let sample: usize = input + ((<usize>base) << 2);
    let weight: usize = rows + <usize>row * rowBytes;
    const end: usize = sample + rowBytes;
    // Two pairs of sums side by side: each addition would otherwise wait for the one before.
    let lower = f32x4.splat(0);
    let upper = f32x4.splat(0);
    let lowerNext = f32x4.splat(0);
    let upperNext = f32x4.splat(0);
    while (sample < end) {
      const samples = v128.load(sample);
      const samplesNext = v128.load(sample, 16);
      const second: usize = weight + rowBytes;
      lower = f32x4.add(lower, f32x4.mul(samples, v128.load(weight)));
      upper = f32x4.add(upper, f32x4.mul(samples, v128.load(second)));
      lowerNext = f32x4.add(lowerNext, f32x4.mul(samplesNext, v128.load(weight, 16)));
      upperNext = f32x4.add(upperNext, f32x4.mul(samplesNext, v128.load(second, 16)));
      sample += 32;
      weight += 32;
    }
    lower = f32x4.add(lower, lowerNext);
    upper = f32x4.add(upper, upperNext);
    const low = f32x4.extract_lane(lower, 0) + f32x4.extract_lane(lower, 1) + (f32x4.extract_lane(lower, 2) + f32x4.extract_lane(lower, 3));
    const high =
      f32x4.extract_lane(upper, 0) + f32x4.extract_lane(upper, 1) + (f32x4.extract_lane(upper, 2) + f32x4.extract_lane(upper, 3));
    store<f32>(output + ((<usize>i) << 2), low + (high - low) * blend);
  }
}
