/**
 * Adds one voice of a game to two channels. The same arithmetic as `playPlain` in src/conduct/plain-voices.ts, sums of sixteen taps in single precision; tests
 * compare the two.
 *
 * `state` holds 15 doubles: the place in the recording, the gains of both sides, the ratio, the filter's coefficient and the fade; the steps of the latter
 * five from frame to frame; what the filter holds of both channels. What goes on is written back. `first` and `second` hold the recording from `base` on,
 * `second` is `first` where there is one channel; `taps` holds `density` + 1 rows of 16. All pointers are byte addresses.
 */
export function playVoice(
  state: usize,
  first: usize,
  second: usize,
  base: i32,
  taps: usize,
  density: f64,
  left: usize,
  right: usize,
  frames: i32,
  filtered: bool,
): void {
  let place = load<f64>(state);
  let l = load<f64>(state, 8);
  let r = load<f64>(state, 16);
  let ratio = load<f64>(state, 24);
  let g = load<f64>(state, 32);
  let fade = load<f64>(state, 40);
  const lStep = load<f64>(state, 48);
  const rStep = load<f64>(state, 56);
  const ratioStep = load<f64>(state, 64);
  const gStep = load<f64>(state, 72);
  const fadeStep = load<f64>(state, 80);
  let held0 = load<f64>(state, 88);
  let held1 = load<f64>(state, 96);
  let held2 = load<f64>(state, 104);
  let held3 = load<f64>(state, 112);
  const stereo = second != first;
  // Dividing takes longer than all else of the filter.
  let a = 1 / (1 + g * (g + Math.SQRT2));
  for (let i = 0; i < frames; i++) {
    const whole = <i32>place;
    const between = place - <f64>whole;
    const at = (<usize>(whole - base)) << 2;
    let one: f64;
    let two: f64;
    if (between == 0) {
      one = load<f32>(first + at);
      two = stereo ? load<f32>(second + at) : one;
    } else {
      const row: usize = taps + ((<usize>(<i32>(between * density + 0.5))) << 6);
      one = sixteen(first + at - 28, row);
      two = stereo ? sixteen(second + at - 28, row) : one;
    }
    if (filtered) {
      if (gStep != 0) a = 1 / (1 + g * (g + Math.SQRT2));
      const high = (one - held1 - (Math.SQRT2 + g) * held0) * a;
      const band = g * high + held0;
      held0 = g * high + band;
      one = g * band + held1;
      held1 = g * band + one;
      if (stereo) {
        const high2 = (two - held3 - (Math.SQRT2 + g) * held2) * a;
        const band2 = g * high2 + held2;
        held2 = g * high2 + band2;
        two = g * band2 + held3;
        held3 = g * band2 + two;
      } else two = one;
    }
    const out = (<usize>i) << 2;
    store<f32>(left + out, <f32>(<f64>load<f32>(left + out) + one * l * fade));
    store<f32>(right + out, <f32>(<f64>load<f32>(right + out) + two * r * fade));
    place += ratio;
    l += lStep;
    r += rStep;
    ratio += ratioStep;
    g += gStep;
    fade += fadeStep;
  }
  store<f64>(state, place);
  store<f64>(state, l, 8);
  store<f64>(state, r, 16);
  store<f64>(state, ratio, 24);
  store<f64>(state, g, 32);
  store<f64>(state, fade, 40);
  store<f64>(state, held0, 88);
  store<f64>(state, held1, 96);
  store<f64>(state, held2, 104);
  store<f64>(state, held3, 112);
}

/** The sum of sixteen samples, each times its tap. */
function sixteen(samples: usize, row: usize): f64 {
  const low = f32x4.add(f32x4.mul(v128.load(samples), v128.load(row)), f32x4.mul(v128.load(samples, 16), v128.load(row, 16)));
  const high = f32x4.add(f32x4.mul(v128.load(samples, 32), v128.load(row, 32)), f32x4.mul(v128.load(samples, 48), v128.load(row, 48)));
  const sum = f32x4.add(low, high);
  return <f64>(f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + (f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3)));
}
