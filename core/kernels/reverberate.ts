/**
 * A feedback delay network of 16 lines, four at a time in single precision. The reference in plain TypeScript is `PlainNetwork` in
 * src/dsp/reverb-network.ts, which says more; tests compare the two. All pointers are byte addresses.
 *
 * `state` holds, as 16 numbers each: the 24 numbers of the losses (four sections in series, see src/dsp/filters/line-loss.ts), how these change with every frame while they turn, the two states
 * of each section, the delays in whole frames; then in double precision what lines are longer by while lengths glide, and how that changes with every frame. `rings` holds four
 * rings of `length` times four samples, one of each of four lines; `length` is a power of two.
 */

const lines: usize = 64;
/** From where the parts of the state behind the losses begin. */
const statesAt: usize = 3072;
const delaysAt: usize = 3584;
const longerAt: usize = 3648;
const tiny: f32 = 1e-25;

/** A sample of the line whose first one is at `ring`; the samples of four lines take turns. */
function sampleAt(ring: usize, mask: i32, at: i32): f32 {
  return load<f32>(ring + ((<usize>(at & mask)) << 4));
}

/** What a line is longer by in frame `i / 4` while lengths glide. */
function longer(state: usize, line: i32, i: usize): f64 {
  const own: usize = state + longerAt + ((<usize>line) << 3);
  return load<f64>(own) + load<f64>(own, 128) * <f64>(i >> 2);
}

/** What lies `back` frames, which need not be whole, before a place. */
function between(ring: usize, mask: i32, place: i32, back: f64): f32 {
  const floor = f64.floor(back);
  const at = place - <i32>floor;
  const here = sampleAt(ring, mask, at);
  return here + (sampleAt(ring, mask, at - 1) - here) * <f32>(back - floor);
}

function withoutTiny(x: v128): v128 {
  return v128.and(x, f32x4.gt(f32x4.abs(x), f32x4.splat(tiny)));
}

/**
 * Writes `frames` samples of both sides, `most` of them at a time: no line is ever shorter than that. `sway` holds, frame by frame, what the delays of lines 0, 4, 8 and 12 are longer by, in frames
 * that need not be whole. `sums` has room for 16 · `most` samples. Returns where the next sample will be written.
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
  length: i32,
  position: i32,
  sums: usize,
  most: i32,
  gliding: i32,
  turning: i32,
): i32 {
  const mask = length - 1;
  const quarterBytes: usize = (<usize>length) << 4;
  const quarter = f32x4.splat(0.25);
  const everySecond = f32x4(1, -1, 1, -1);
  const lastTwo = f32x4(1, 1, -1, -1);
  for (let from = 0; from < frames; from += most) {
    const count = min<i32>(most, frames - from);
    for (let group: usize = 0; group < lines; group += 16) {
      const line = <i32>(group >> 2);
      const own: usize = state + group;
      const ring: usize = rings + group * <usize>length;
      const first = load<i32>(own, delaysAt);
      const second = load<i32>(own, delaysAt + 4);
      const third = load<i32>(own, delaysAt + 8);
      const fourth = load<i32>(own, delaysAt + 12);
      // The four sections are written out: their numbers and states stay out of memory meanwhile, which makes the whole a sixth faster than a function for one of them.
      let aFirst = v128.load(own, 0);
      let aTurn = v128.load(own, 64);
      let aSecond = v128.load(own, 128);
      let aInput = v128.load(own, 192);
      let aBand = v128.load(own, 256);
      let aLow = v128.load(own, 320);
      let aNear = v128.load(own + statesAt, 0);
      let aFar = v128.load(own + statesAt, 64);
      let bFirst = v128.load(own, 384);
      let bTurn = v128.load(own, 448);
      let bSecond = v128.load(own, 512);
      let bInput = v128.load(own, 576);
      let bBand = v128.load(own, 640);
      let bLow = v128.load(own, 704);
      let bNear = v128.load(own + statesAt, 128);
      let bFar = v128.load(own + statesAt, 192);
      let cFirst = v128.load(own, 768);
      let cTurn = v128.load(own, 832);
      let cSecond = v128.load(own, 896);
      let cInput = v128.load(own, 960);
      let cBand = v128.load(own, 1024);
      let cLow = v128.load(own, 1088);
      let cNear = v128.load(own + statesAt, 256);
      let cFar = v128.load(own + statesAt, 320);
      let dFirst = v128.load(own, 1152);
      let dTurn = v128.load(own, 1216);
      let dSecond = v128.load(own, 1280);
      let dInput = v128.load(own, 1344);
      let dBand = v128.load(own, 1408);
      let dLow = v128.load(own, 1472);
      let dNear = v128.load(own + statesAt, 384);
      let dFar = v128.load(own + statesAt, 448);
      for (let n = 0; n < count; n++) {
        const i: usize = (<usize>(from + n)) << 2;
        const place = position + n;
        const swayed = load<f32>(sway + (i << 2) + (group >> 2));
        let sample: v128;
        if (gliding) {
          sample = f32x4.splat(between(ring, mask, place - first, swayed + longer(state, line, i)));
          sample = f32x4.replace_lane(sample, 1, between(ring + 4, mask, place - second, longer(state, line + 1, i)));
          sample = f32x4.replace_lane(sample, 2, between(ring + 8, mask, place - third, longer(state, line + 2, i)));
          sample = f32x4.replace_lane(sample, 3, between(ring + 12, mask, place - fourth, longer(state, line + 3, i)));
        } else {
          sample = f32x4.splat(between(ring, mask, place - first, swayed));
          sample = f32x4.replace_lane(sample, 1, sampleAt(ring + 4, mask, place - second));
          sample = f32x4.replace_lane(sample, 2, sampleAt(ring + 8, mask, place - third));
          sample = f32x4.replace_lane(sample, 3, sampleAt(ring + 12, mask, place - fourth));
        }
        if (turning) {
          aFirst = f32x4.add(aFirst, v128.load(own, 1536));
          aTurn = f32x4.add(aTurn, v128.load(own, 1600));
          aSecond = f32x4.add(aSecond, v128.load(own, 1664));
          aInput = f32x4.add(aInput, v128.load(own, 1728));
          aBand = f32x4.add(aBand, v128.load(own, 1792));
          aLow = f32x4.add(aLow, v128.load(own, 1856));
          bFirst = f32x4.add(bFirst, v128.load(own, 1920));
          bTurn = f32x4.add(bTurn, v128.load(own, 1984));
          bSecond = f32x4.add(bSecond, v128.load(own, 2048));
          bInput = f32x4.add(bInput, v128.load(own, 2112));
          bBand = f32x4.add(bBand, v128.load(own, 2176));
          bLow = f32x4.add(bLow, v128.load(own, 2240));
          cFirst = f32x4.add(cFirst, v128.load(own, 2304));
          cTurn = f32x4.add(cTurn, v128.load(own, 2368));
          cSecond = f32x4.add(cSecond, v128.load(own, 2432));
          cInput = f32x4.add(cInput, v128.load(own, 2496));
          cBand = f32x4.add(cBand, v128.load(own, 2560));
          cLow = f32x4.add(cLow, v128.load(own, 2624));
          dFirst = f32x4.add(dFirst, v128.load(own, 2688));
          dTurn = f32x4.add(dTurn, v128.load(own, 2752));
          dSecond = f32x4.add(dSecond, v128.load(own, 2816));
          dInput = f32x4.add(dInput, v128.load(own, 2880));
          dBand = f32x4.add(dBand, v128.load(own, 2944));
          dLow = f32x4.add(dLow, v128.load(own, 3008));
        }
        let rest: v128;
        let band: v128;
        let low: v128;
        rest = f32x4.sub(sample, aFar);
        band = f32x4.add(f32x4.mul(aFirst, aNear), f32x4.mul(aTurn, rest));
        low = f32x4.add(f32x4.add(aFar, f32x4.mul(aTurn, aNear)), f32x4.mul(aSecond, rest));
        aNear = f32x4.sub(f32x4.add(band, band), aNear);
        aFar = f32x4.sub(f32x4.add(low, low), aFar);
        sample = f32x4.add(f32x4.mul(aInput, sample), f32x4.add(f32x4.mul(aBand, band), f32x4.mul(aLow, low)));
        rest = f32x4.sub(sample, bFar);
        band = f32x4.add(f32x4.mul(bFirst, bNear), f32x4.mul(bTurn, rest));
        low = f32x4.add(f32x4.add(bFar, f32x4.mul(bTurn, bNear)), f32x4.mul(bSecond, rest));
        bNear = f32x4.sub(f32x4.add(band, band), bNear);
        bFar = f32x4.sub(f32x4.add(low, low), bFar);
        sample = f32x4.add(f32x4.mul(bInput, sample), f32x4.add(f32x4.mul(bBand, band), f32x4.mul(bLow, low)));
        rest = f32x4.sub(sample, cFar);
        band = f32x4.add(f32x4.mul(cFirst, cNear), f32x4.mul(cTurn, rest));
        low = f32x4.add(f32x4.add(cFar, f32x4.mul(cTurn, cNear)), f32x4.mul(cSecond, rest));
        cNear = f32x4.sub(f32x4.add(band, band), cNear);
        cFar = f32x4.sub(f32x4.add(low, low), cFar);
        sample = f32x4.add(f32x4.mul(cInput, sample), f32x4.add(f32x4.mul(cBand, band), f32x4.mul(cLow, low)));
        rest = f32x4.sub(sample, dFar);
        band = f32x4.add(f32x4.mul(dFirst, dNear), f32x4.mul(dTurn, rest));
        low = f32x4.add(f32x4.add(dFar, f32x4.mul(dTurn, dNear)), f32x4.mul(dSecond, rest));
        dNear = f32x4.sub(f32x4.add(band, band), dNear);
        dFar = f32x4.sub(f32x4.add(low, low), dFar);
        sample = f32x4.add(f32x4.mul(dInput, sample), f32x4.add(f32x4.mul(dBand, band), f32x4.mul(dLow, low)));
        v128.store(sums + ((<usize>n) << 6) + group, sample);
      }
      v128.store(own + statesAt, withoutTiny(aNear), 0);
      v128.store(own + statesAt, withoutTiny(aFar), 64);
      v128.store(own + statesAt, withoutTiny(bNear), 128);
      v128.store(own + statesAt, withoutTiny(bFar), 192);
      v128.store(own + statesAt, withoutTiny(cNear), 256);
      v128.store(own + statesAt, withoutTiny(cFar), 320);
      v128.store(own + statesAt, withoutTiny(dNear), 384);
      v128.store(own + statesAt, withoutTiny(dFar), 448);
      if (turning) {
        v128.store(own, aFirst, 0);
        v128.store(own, aTurn, 64);
        v128.store(own, aSecond, 128);
        v128.store(own, aInput, 192);
        v128.store(own, aBand, 256);
        v128.store(own, aLow, 320);
        v128.store(own, bFirst, 384);
        v128.store(own, bTurn, 448);
        v128.store(own, bSecond, 512);
        v128.store(own, bInput, 576);
        v128.store(own, bBand, 640);
        v128.store(own, bLow, 704);
        v128.store(own, cFirst, 768);
        v128.store(own, cTurn, 832);
        v128.store(own, cSecond, 896);
        v128.store(own, cInput, 960);
        v128.store(own, cBand, 1024);
        v128.store(own, cLow, 1088);
        v128.store(own, dFirst, 1152);
        v128.store(own, dTurn, 1216);
        v128.store(own, dSecond, 1280);
        v128.store(own, dInput, 1344);
        v128.store(own, dBand, 1408);
        v128.store(own, dLow, 1472);
      }
    }
    for (let n = 0; n < count; n++) {
      const i: usize = (<usize>(from + n)) << 2;
      const four: usize = sums + ((<usize>n) << 6);
      const a = v128.load(four);
      const b = v128.load(four, 16);
      const c = v128.load(four, 32);
      const d = v128.load(four, 48);
      const ab = f32x4.add(a, b);
      const aLessB = f32x4.sub(a, b);
      const cd = f32x4.add(c, d);
      const cLessD = f32x4.sub(c, d);
      const heard = f32x4.add(ab, cd);
      store<f32>(left + i, f32x4.extract_lane(heard, 0) - f32x4.extract_lane(heard, 2));
      store<f32>(right + i, f32x4.extract_lane(heard, 1) - f32x4.extract_lane(heard, 3));
      const input = f32x4.mul(
        v128.shuffle<f32>(f32x4.splat(load<f32>(directLeft + i)), f32x4.splat(load<f32>(directRight + i)), 0, 4, 0, 4),
        everySecond,
      );
      const at: usize = rings + ((<usize>position) << 4);
      write(at, f32x4.mul(f32x4.add(within(heard, everySecond, lastTwo), input), quarter));
      write(at + quarterBytes, f32x4.mul(f32x4.add(within(f32x4.add(aLessB, cLessD), everySecond, lastTwo), input), quarter));
      write(at + 2 * quarterBytes, f32x4.mul(f32x4.add(within(f32x4.sub(ab, cd), everySecond, lastTwo), input), quarter));
      write(at + 3 * quarterBytes, f32x4.mul(f32x4.add(within(f32x4.sub(aLessB, cLessD), everySecond, lastTwo), input), quarter));
      position = (position + 1) & mask;
    }
  }
  return position;
}

/** The part of the Hadamard matrix within four lines: neighbours, then pairs. */
function within(four: v128, everySecond: v128, lastTwo: v128): v128 {
  const pairs = f32x4.add(v128.shuffle<f32>(four, four, 0, 0, 2, 2), f32x4.mul(v128.shuffle<f32>(four, four, 1, 1, 3, 3), everySecond));
  return f32x4.add(v128.shuffle<f32>(pairs, pairs, 0, 1, 0, 1), f32x4.mul(v128.shuffle<f32>(pairs, pairs, 2, 3, 2, 3), lastTwo));
}

function write(at: usize, value: v128): void {
  v128.store(at, withoutTiny(value));
}
