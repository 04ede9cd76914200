/** What `bestAssignment` found: columns of rows, the sum, and dual prices that prove it. */
export interface Assignment {
  /** For each row its column, or -1 when it stays empty. */
  columnOf: Int32Array;
  total: number;
  /** Prices of rows and columns: `rowPrice[r] + columnPrice[c] >= value[r][c]`, with equality where assigned. */
  rowPrice: Float64Array;
  columnPrice: Float64Array;
}

/**
 * The assignment of rows to columns of the greatest total, each at most once; a row may stay empty, which is
 * worth nothing. `values` is rows × columns, row by row; `-Infinity` where they do not go together. At most
 * rows² × (rows + columns) steps.
 *
 * H. W. Kuhn, The Hungarian method for the assignment problem, Naval Research Logistics Quarterly 2 (1955),
 * in the form with shortest augmenting paths.
 */
export function bestAssignment(rows: number, columns: number, values: Float64Array): Assignment {
  // One empty column for each row stands for staying empty.
  const width = columns + rows;
  const u = new Float64Array(rows + 1);
  const v = new Float64Array(width + 1);
  const rowAt = new Int32Array(width + 1);
  const before = new Int32Array(width + 1);
  const least = new Float64Array(width + 1);
  const done = new Uint8Array(width + 1);
  for (let row = 1; row <= rows; row++) {
    rowAt[0] = row;
    least.fill(Infinity);
    done.fill(0);
    let at = 0;
    do {
      done[at] = 1;
      const r = rowAt[at]!;
      const base = (r - 1) * columns - 1;
      let delta = Infinity;
      let next = 0;
      for (let c = 1; c <= width; c++) {
        if (done[c]) continue;
        const cost = c <= columns ? -values[base + c]! : 0;
        const slack = cost - u[r]! - v[c]!;
        if (slack < least[c]!) {
          least[c] = slack;
          before[c] = at;
        }
        if (least[c]! < delta) {
          delta = least[c]!;
          next = c;
        }
      }
      for (let c = 0; c <= width; c++) {
        if (done[c]) {
          u[rowAt[c]!]! += delta;
          v[c]! -= delta;
        } else least[c]! -= delta;
      }
      at = next;
    } while (rowAt[at] !== 0);
    do {
      const previous = before[at]!;
      rowAt[at] = rowAt[previous]!;
      at = previous;
    } while (at !== 0);
  }
  const columnOf = new Int32Array(rows).fill(-1);
  let total = 0;
  for (let c = 1; c <= columns; c++) {
    const row = rowAt[c]!;
    if (row === 0) continue;
    columnOf[row - 1] = c - 1;
    total += values[(row - 1) * columns + c - 1]!;
  }
  return {
    columnOf,
    total,
    rowPrice: u.subarray(1).map((x) => -x),
    columnPrice: v.subarray(1, columns + 1).map((x) => -x),
  };
}
