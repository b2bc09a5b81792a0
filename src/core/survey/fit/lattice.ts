import type { Grid } from '../../geometry/grid';

/** What is said at a node: a level in dB, the variance of that in dB2, and the variance of all the rest. */
export type Node = { levelDb: number; varianceDb2: number; restDb2: number };

/**
 * Works out a level and its variance at nodes of a lattice over a grid, and takes them straight between, for some cells.
 * @param nodeCells cells from node to node
 * @param restNodes nodes from one at which the rest is worked out too to the next such; between them it is taken straight
 * @param levelAt says level and variance at a spot
 * @param wholeAt says the same, and the rest
 * @param wanted 1 for the cells that are asked for
 * @param levelDb receives the level of these
 * @param varianceDb2 receives their whole variance
 */
export function overLattice(
  { cols, rows, cellM, originXM, originYM }: Grid,
  nodeCells: number,
  restNodes: number,
  levelAt: (xM: number, yM: number, out: Node) => void,
  wholeAt: (xM: number, yM: number, out: Node) => void,
  wanted: Uint8Array,
  levelDb: Float32Array,
  varianceDb2: Float32Array,
): void {
  // Up to the next node with the rest: what lies before it needs that.
  const nodesAlong = (cells: number): number => Math.ceil(cells / (nodeCells * restNodes)) * restNodes + 1;
  const nodeCols = nodesAlong(cols);
  const count = nodeCols * nodesAlong(rows);
  const [level, variance] = [new Float64Array(count), new Float64Array(count)];
  const [rest, whole] = [new Float64Array(count).fill(NaN), new Float64Array(count).fill(NaN)];
  const found: Node = { levelDb: 0, varianceDb2: 0, restDb2: 0 };
  const ask = (at: typeof levelAt, k: number, l: number): void => {
    at(originXM + k * nodeCells * cellM, originYM + l * nodeCells * cellM, found);
    level[l * nodeCols + k] = found.levelDb;
    variance[l * nodeCols + k] = found.varianceDb2;
  };
  const restAt = (k: number, l: number): number => {
    const node = l * nodeCols + k;
    if (Number.isNaN(rest[node]!)) {
      ask(wholeAt, k, l);
      rest[node] = found.restDb2;
    }
    return rest[node]!;
  };
  /** Nodes that have no share are not asked. */
  const restBetween = (k: number, l: number): number => {
    const [fu, fv] = [(k % restNodes) / restNodes, (l % restNodes) / restNodes];
    const [left, top] = [k - (k % restNodes), l - (l % restNodes)];
    const along = (row: number): number => (fu === 0 ? restAt(left, row) : (1 - fu) * restAt(left, row) + fu * restAt(left + restNodes, row));
    return fv === 0 ? along(top) : (1 - fv) * along(top) + fv * along(top + restNodes);
  };
  const nodeAt = (k: number, l: number): number => {
    const node = l * nodeCols + k;
    if (!Number.isNaN(whole[node]!)) return node;
    const restDb2 = restBetween(k, l);
    if (Number.isNaN(rest[node]!)) ask(levelAt, k, l);
    whole[node] = variance[node]! + restDb2;
    return node;
  };
  for (let l = 0; l * nodeCells < rows; l++)
    for (let k = 0; k * nodeCells < cols; k++) {
      const [fromCol, fromRow] = [k * nodeCells, l * nodeCells];
      const toCol = Math.min(cols, fromCol + nodeCells);
      const toRow = Math.min(rows, fromRow + nodeCells);
      if (!isAnyIn(wanted, cols, fromCol, toCol, fromRow, toRow)) continue;
      const [a, b, c, d] = [nodeAt(k, l), nodeAt(k + 1, l), nodeAt(k, l + 1), nodeAt(k + 1, l + 1)];
      for (let row = fromRow; row < toRow; row++) {
        const fv = (row - fromRow) / nodeCells;
        const levelLeft = (1 - fv) * level[a]! + fv * level[c]!;
        const levelRight = (1 - fv) * level[b]! + fv * level[d]!;
        const wholeLeft = (1 - fv) * whole[a]! + fv * whole[c]!;
        const wholeRight = (1 - fv) * whole[b]! + fv * whole[d]!;
        for (let col = fromCol; col < toCol; col++) {
          const cell = row * cols + col;
          if (wanted[cell] === 0) continue;
          const fu = (col - fromCol) / nodeCells;
          levelDb[cell] = (1 - fu) * levelLeft + fu * levelRight;
          varianceDb2[cell] = (1 - fu) * wholeLeft + fu * wholeRight;
        }
      }
    }
}

function isAnyIn(cells: Uint8Array, cols: number, fromCol: number, toCol: number, fromRow: number, toRow: number): boolean {
  for (let row = fromRow; row < toRow; row++) for (let col = fromCol; col < toCol; col++) if (cells[row * cols + col] === 1) return true;
  return false;
}
