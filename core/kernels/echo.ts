/**
 * A delay with a high cut and a low cut in its feedback, in double precision around a ring in single. The reference in plain TypeScript is
 * `EchoLine` in src/dsp/echo-line.ts, without kernels; tests compare the two. All pointers are byte addresses.
 */

/** What is quieter comes to rest: loops must not crawl through denormal numbers. */
const tinyInRing: f64 = 1e-20;

/**
 * `frames` samples get their echoes, in place. `ring` holds a power of two of samples, `mask` is one less than that; `position` is where the last one was
 * written, and the return value where the last one is now. What came `whole` samples and a bit before is read with four `weights`, all of them 0 but the second
 * if there is no bit. `filters`: gain, keeps and takes of the high cut, the same of the low cut, and the states of both. `gains`: what goes back into the
 * ring at each frame, and from `most` numbers behind its beginning on what goes out.
 */
export function echo(
  samples: usize,
  frames: i32,
  ring: usize,
  mask: i32,
  position: i32,
  whole: i32,
  weights: usize,
  filters: usize,
  gains: usize,
  most: i32,
): i32 {
  const before = load<f64>(weights);
  const here = load<f64>(weights, 8);
  const after = load<f64>(weights, 16);
  const last = load<f64>(weights, 24);
  const isWhole = before == 0 && after == 0 && last == 0;
  const highGain = load<f64>(filters);
  const highKeeps = load<f64>(filters, 8);
  const highTakes = load<f64>(filters, 16);
  const lowGain = load<f64>(filters, 24);
  const lowKeeps = load<f64>(filters, 32);
  const lowTakes = load<f64>(filters, 40);
  let darkened = load<f64>(filters, 48);
  let rumble = load<f64>(filters, 56);
  const levels: usize = gains + ((<usize>most) << 3);
  for (let i: i32 = 0; i < frames; i++) {
    position = (position + 1) & mask;
    const at = position - whole;
    let late = <f64>load<f32>(ring + ((<usize>(at & mask)) << 2));
    if (!isWhole) {
      late *= here;
      late += before * <f64>load<f32>(ring + ((<usize>((at + 1) & mask)) << 2));
      late += after * <f64>load<f32>(ring + ((<usize>((at - 1) & mask)) << 2));
      late += last * <f64>load<f32>(ring + ((<usize>((at - 2) & mask)) << 2));
    }
    const dark = darkened + (late - darkened) * highGain;
    darkened = darkened * highKeeps + late * highTakes;
    const echo = dark - (rumble + (dark - rumble) * lowGain);
    rumble = rumble * lowKeeps + dark * lowTakes;
    const place: usize = samples + ((<usize>i) << 2);
    const sample = <f64>load<f32>(place);
    const into = sample + echo * load<f64>(gains + ((<usize>i) << 3));
    store<f32>(ring + ((<usize>position) << 2), Math.abs(into) < tinyInRing ? 0 : <f32>into);
    store<f32>(place, <f32>(sample + echo * load<f64>(levels + ((<usize>i) << 3))));
  }
  store<f64>(filters, darkened, 48);
  store<f64>(filters, rumble, 56);
  return position;
}
