/** Arithmetic on four numbers, and on four complex ones, at a time. */

export function add(a: v128, b: v128): v128 {
  return f32x4.add(a, b);
}
export function sub(a: v128, b: v128): v128 {
  return f32x4.sub(a, b);
}
export function mul(a: v128, b: v128): v128 {
  return f32x4.mul(a, b);
}
/** Re and im parts of two pairs multiplied. */
export function productRe(aRe: v128, aIm: v128, bRe: v128, bIm: v128): v128 {
  return sub(mul(aRe, bRe), mul(aIm, bIm));
}
export function productIm(aRe: v128, aIm: v128, bRe: v128, bIm: v128): v128 {
  return add(mul(aRe, bIm), mul(aIm, bRe));
}
