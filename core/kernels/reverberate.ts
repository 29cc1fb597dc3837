/**
 * A feedback delay network of 16 lines, four at a time in single precision. The reference in plain TypeScript is `PlainNetwork` in
 * src/dsp/reverb-network.ts, which says more; tests compare the two. All pointers are byte addresses.
 *
 * `state` holds, as 16 numbers each: gain, low shelf, high shelf, the targets of these three, the states of the two shelves, the delays
 * in whole frames, room for sums; then in double precision what lines are longer by while lengths glide, and how that changes with every frame. `rings` holds 16 rings of `ring` samples, a power of two.
 */

const lines: usize = 64;
const glide: f32 = 0.001;
const tiny: f32 = 1e-25;

function sampleAt(rings: usize, line: i32, ring: i32, at: i32): f32 {
  return load<f32>(rings + ((<usize>(line * ring + (at & (ring - 1)))) << 2));
}

/** What a line is longer by in frame `i / 4` while lengths glide. */
function longer(state: usize, line: i32, i: usize): f64 {
  const own: usize = state + 640 + ((<usize>line) << 3);
  return load<f64>(own) + load<f64>(own, 128) * <f64>(i >> 2);
}

/** What lies `back` frames, which need not be whole, before a place. */
function between(rings: usize, line: i32, ring: i32, place: i32, back: f64): f32 {
  const floor = f64.floor(back);
  const at = place - <i32>floor;
  const here = sampleAt(rings, line, ring, at);
  return here + (sampleAt(rings, line, ring, at - 1) - here) * <f32>(back - floor);
}

/** A step towards a target; the last one arrives, which single precision would not by itself. */
function towards(value: v128, target: v128, along: v128): v128 {
  const distance = f32x4.sub(target, value);
  const near = f32x4.lt(f32x4.abs(distance), f32x4.splat(1e-4));
  return v128.bitselect(target, f32x4.add(value, f32x4.mul(distance, along)), near);
}

function withoutTiny(x: v128): v128 {
  return v128.and(x, f32x4.gt(f32x4.abs(x), f32x4.splat(tiny)));
}

/**
 * Writes `frames` samples of both sides. `sway` holds, frame by frame, what the delays of lines 0, 4, 8 and 12 are longer by, in frames that need
 * not be whole. Returns where the next sample will be written.
 */
export function reverberate(
  directLeft: usize,
  directRight: usize,
  sway: usize,
  left: usize,
  right: usize,
  frames: i32,
  state: usize,
  rings: usize,
  ring: i32,
  position: i32,
  lowG: f32,
  highG: f32,
  gliding: i32,
): i32 {
  const one = f32x4.splat(1);
  const low = f32x4.splat(lowG);
  const high = f32x4.splat(highG);
  const along = f32x4.splat(glide);
  const quarter = f32x4.splat(0.25);
  const everySecond = f32x4(1, -1, 1, -1);
  const lastTwo = f32x4(1, 1, -1, -1);
  const sums: usize = state + 576;
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 4) {
    let heard = f32x4.splat(0);
    for (let group: usize = 0; group < lines; group += 16) {
      const line = <i32>(group >> 2);
      const own: usize = state + group;
      const swayed = load<f32>(sway + (i << 2) + (group >> 2));
      let sample: v128;
      if (gliding) {
        sample = f32x4.splat(between(rings, line, ring, position - load<i32>(own, 512), swayed + longer(state, line, i)));
        sample = f32x4.replace_lane(sample, 1, between(rings, line + 1, ring, position - load<i32>(own, 516), longer(state, line + 1, i)));
        sample = f32x4.replace_lane(sample, 2, between(rings, line + 2, ring, position - load<i32>(own, 520), longer(state, line + 2, i)));
        sample = f32x4.replace_lane(sample, 3, between(rings, line + 3, ring, position - load<i32>(own, 524), longer(state, line + 3, i)));
      } else {
        sample = f32x4.splat(between(rings, line, ring, position - load<i32>(own, 512), swayed));
        sample = f32x4.replace_lane(sample, 1, sampleAt(rings, line + 1, ring, position - load<i32>(own, 516)));
        sample = f32x4.replace_lane(sample, 2, sampleAt(rings, line + 2, ring, position - load<i32>(own, 520)));
        sample = f32x4.replace_lane(sample, 3, sampleAt(rings, line + 3, ring, position - load<i32>(own, 524)));
      }
      let gain = v128.load(own);
      let lowShelf = v128.load(own, 64);
      let highShelf = v128.load(own, 128);
      gain = towards(gain, v128.load(own, 192), along);
      lowShelf = towards(lowShelf, v128.load(own, 256), along);
      highShelf = towards(highShelf, v128.load(own, 320), along);
      v128.store(own, gain);
      v128.store(own, lowShelf, 64);
      v128.store(own, highShelf, 128);
      const lowState = v128.load(own, 384);
      const v = f32x4.mul(f32x4.sub(sample, lowState), low);
      const lowOut = f32x4.add(v, lowState);
      v128.store(own, withoutTiny(f32x4.add(lowOut, v)), 384);
      const afterLow = f32x4.add(sample, f32x4.mul(f32x4.sub(lowShelf, one), lowOut));
      const highState = v128.load(own, 448);
      const u = f32x4.mul(f32x4.sub(afterLow, highState), high);
      const below = f32x4.add(u, highState);
      v128.store(own, withoutTiny(f32x4.add(below, u)), 448);
      const output = f32x4.mul(f32x4.add(below, f32x4.mul(f32x4.sub(afterLow, below), highShelf)), gain);
      heard = f32x4.add(heard, output);
      // Hadamard within the group: neighbours, then pairs.
      const pairs = f32x4.add(
        v128.shuffle<f32>(output, output, 0, 0, 2, 2),
        f32x4.mul(v128.shuffle<f32>(output, output, 1, 1, 3, 3), everySecond),
      );
      v128.store(
        sums + group,
        f32x4.add(v128.shuffle<f32>(pairs, pairs, 0, 1, 0, 1), f32x4.mul(v128.shuffle<f32>(pairs, pairs, 2, 3, 2, 3), lastTwo)),
      );
    }
    store<f32>(left + i, f32x4.extract_lane(heard, 0) - f32x4.extract_lane(heard, 2));
    store<f32>(right + i, f32x4.extract_lane(heard, 1) - f32x4.extract_lane(heard, 3));
    // Hadamard across the groups.
    const a = v128.load(sums);
    const b = v128.load(sums, 16);
    const c = v128.load(sums, 32);
    const d = v128.load(sums, 48);
    const ab = f32x4.add(a, b);
    const aLessB = f32x4.sub(a, b);
    const cd = f32x4.add(c, d);
    const cLessD = f32x4.sub(c, d);
    const input = f32x4.mul(
      v128.shuffle<f32>(f32x4.splat(load<f32>(directLeft + i)), f32x4.splat(load<f32>(directRight + i)), 0, 4, 0, 4),
      everySecond,
    );
    write(rings, 0, ring, position, f32x4.mul(f32x4.add(f32x4.add(ab, cd), input), quarter));
    write(rings, 4, ring, position, f32x4.mul(f32x4.add(f32x4.add(aLessB, cLessD), input), quarter));
    write(rings, 8, ring, position, f32x4.mul(f32x4.add(f32x4.sub(ab, cd), input), quarter));
    write(rings, 12, ring, position, f32x4.mul(f32x4.add(f32x4.sub(aLessB, cLessD), input), quarter));
    position = (position + 1) & (ring - 1);
  }
  return position;
}

function write(rings: usize, line: i32, ring: i32, position: i32, value: v128): void {
  const samples = withoutTiny(value);
  const at: usize = rings + ((<usize>(line * ring + position)) << 2);
  const next: usize = (<usize>ring) << 2;
  store<f32>(at, f32x4.extract_lane(samples, 0));
  store<f32>(at + next, f32x4.extract_lane(samples, 1));
  store<f32>(at + 2 * next, f32x4.extract_lane(samples, 2));
  store<f32>(at + 3 * next, f32x4.extract_lane(samples, 3));
}
