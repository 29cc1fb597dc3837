/**
 * Solves the least-squares problem min ‖A x - y‖² by modified Gram–Schmidt orthogonalisation (Björck 1967), which keeps twice the
 * digits of the normal equations. For small problems (here at most six unknowns).
 * @param columns the columns of A, each as long as `y`; overwritten
 * @param y right-hand side; overwritten
 * @returns x, or undefined when the columns depend on each other
 */
export function leastSquares(columns: readonly Float64Array[], y: Float64Array): number[] | undefined {
  const count = columns.length;
  const upper: number[][] = columns.map(() => new Array<number>(count).fill(0));
  const right = new Array<number>(count).fill(0);
  for (let i = 0; i < count; i++) {
    const column = columns[i]!;
    const norm = Math.sqrt(dot(column, column));
    if (!(norm > 0) || !Number.isFinite(norm)) return undefined;
    for (let row = 0; row < column.length; row++) column[row]! /= norm;
    upper[i]![i] = norm;
    for (let j = i + 1; j < count; j++) upper[i]![j] = removeProjection(columns[j]!, column);
    right[i] = removeProjection(y, column);
  }
  const x = new Array<number>(count).fill(0);
  for (let i = count - 1; i >= 0; i--) {
    let sum = right[i]!;
    for (let j = i + 1; j < count; j++) sum -= upper[i]![j]! * x[j]!;
    x[i] = sum / upper[i]![i]!;
  }
  return x;
}

/** Takes the part along `direction` (unit length) out of `vector`; returns how much it was. */
function removeProjection(vector: Float64Array, direction: Float64Array): number {
  const amount = dot(vector, direction);
  for (let row = 0; row < vector.length; row++) vector[row]! -= amount * direction[row]!;
  return amount;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
