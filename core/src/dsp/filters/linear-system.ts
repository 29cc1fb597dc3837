const mostUnknowns = 6;
const upper = new Float64Array(mostUnknowns * mostUnknowns);
const right = new Float64Array(mostUnknowns);
const solution = new Float64Array(mostUnknowns);

/**
 * Solves the least-squares problem min ‖A x - y‖² by modified Gram–Schmidt orthogonalisation (Björck 1967), which keeps twice the
 * digits of the normal equations. For small problems: at most six unknowns.
 * @param columns the columns of A, of which the first `unknowns` count; overwritten
 * @param y right-hand side; overwritten
 * @param rows how many rows count, of the columns and of `y`
 * @returns x, valid until the next call, or undefined when the columns depend on each other
 */
export function leastSquares(columns: readonly Float64Array[], unknowns: number, y: Float64Array, rows: number): Float64Array | undefined {
  for (let i = 0; i < unknowns; i++) {
    const column = columns[i]!;
    const norm = Math.sqrt(dot(column, column, rows));
    if (!(norm > 0) || !Number.isFinite(norm)) return undefined;
    for (let row = 0; row < rows; row++) column[row]! /= norm;
    upper[i * mostUnknowns + i] = norm;
    for (let j = i + 1; j < unknowns; j++) upper[i * mostUnknowns + j] = removeProjection(columns[j]!, column, rows);
    right[i] = removeProjection(y, column, rows);
  }
  for (let i = unknowns - 1; i >= 0; i--) {
    let sum = right[i]!;
    for (let j = i + 1; j < unknowns; j++) sum -= upper[i * mostUnknowns + j]! * solution[j]!;
    solution[i] = sum / upper[i * mostUnknowns + i]!;
  }
  return solution;
}

/** Takes the part along `direction` (unit length) out of `vector`; returns how much it was. */
function removeProjection(vector: Float64Array, direction: Float64Array, rows: number): number {
  const amount = dot(vector, direction, rows);
  for (let row = 0; row < rows; row++) vector[row]! -= amount * direction[row]!;
  return amount;
}

function dot(a: Float64Array, b: Float64Array, rows: number): number {
  let sum = 0;
  for (let i = 0; i < rows; i++) sum += a[i]! * b[i]!;
  return sum;
}
