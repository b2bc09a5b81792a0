import type { Grid } from '../../geometry/grid';

/**
 * Nodes of a lattice over a grid that some cells hang on: numbered row by row, `cols` to a row, one every `nodeCells` cells. At each a level and its variance are to be said; at the first
 * `restCount` of `nodes`, some of those that lie `restNodes` apart, the variance of all the rest too.
 */
export type Lattice = Readonly<{ cols: number; nodeCells: number; restNodes: number; nodes: Int32Array; restCount: number }>;

/**
 * The nodes on which some cells hang: the corners of what each lies in. Between nodes at which the rest is said it is taken straight; those without a share in any are not asked.
 * @param nodeCells cells from node to node
 * @param restNodes nodes from one at which the rest is said too to the next such
 * @param wanted 1 for the cells that are asked for
 */
export function latticeOver({ cols, rows }: Grid, nodeCells: number, restNodes: number, wanted: Uint8Array): Lattice {
  // Up to the next node with the rest: what lies before it needs that.
  const nodesAlong = (cells: number): number => Math.ceil(cells / (nodeCells * restNodes)) * restNodes + 1;
  const nodeCols = nodesAlong(cols);
  const count = nodeCols * nodesAlong(rows);
  const [asked, askedRest] = [new Uint8Array(count), new Uint8Array(count)];
  const ask = (k: number, l: number): void => {
    if (asked[l * nodeCols + k] === 1) return;
    asked[l * nodeCols + k] = 1;
    const [left, top] = [k - (k % restNodes), l - (l % restNodes)];
    const [right, bottom] = [k === left ? left : left + restNodes, l === top ? top : top + restNodes];
    for (const row of [top, bottom]) askedRest[row * nodeCols + left] = askedRest[row * nodeCols + right] = 1;
  };
  for (let l = 0; l * nodeCells < rows; l++)
    for (let k = 0; k * nodeCells < cols; k++) {
      if (!isAnyIn(wanted, cols, k * nodeCells, Math.min(cols, (k + 1) * nodeCells), l * nodeCells, Math.min(rows, (l + 1) * nodeCells))) continue;
      ask(k, l);
      ask(k + 1, l);
      ask(k, l + 1);
      ask(k + 1, l + 1);
    }
  const nodes = new Int32Array(count);
  let filled = 0;
  for (let node = 0; node < count; node++) if (askedRest[node] === 1) nodes[filled++] = node;
  const restCount = filled;
  for (let node = 0; node < count; node++) if (asked[node] === 1 && askedRest[node] === 0) nodes[filled++] = node;
  return { cols: nodeCols, nodeCells, restNodes, nodes: nodes.slice(0, filled), restCount };
}

/** Where the nodes lie, in m. */
export function placesOfNodes({ cols, nodeCells, nodes }: Lattice, { originXM, originYM, cellM }: Grid): { xM: Float64Array; yM: Float64Array } {
  const [xM, yM] = [new Float64Array(nodes.length), new Float64Array(nodes.length)];
  for (let i = 0; i < nodes.length; i++) {
    const l = Math.floor(nodes[i]! / cols);
    xM[i] = originXM + (nodes[i]! - l * cols) * nodeCells * cellM;
    yM[i] = originYM + l * nodeCells * cellM;
  }
  return { xM, yM };
}

/** What is said at nodes, in their order: a level in dB, its variance in dB2, and, of the first `restCount`, the variance of all the rest in dB2. */
export type AtNodes = Readonly<{ levelDb: Float64Array; varianceDb2: Float64Array; restDb2: Float64Array }>;

/**
 * Takes straight between its nodes what is said there.
 * @param wanted the same that the nodes were told for
 * @param levelDb receives the level of these cells
 * @param varianceDb2 receives their whole variance
 */
export function overLattice(
  { cols, rows }: Grid,
  { cols: nodeCols, nodeCells, restNodes, nodes, restCount }: Lattice,
  said: AtNodes,
  wanted: Uint8Array,
  levelDb: Float32Array,
  varianceDb2: Float32Array,
): void {
  const count = 1 + nodes.reduce((most, node) => Math.max(most, node), 0);
  const [level, rest, whole] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  for (let i = 0; i < restCount; i++) rest[nodes[i]!] = said.restDb2[i]!;
  const along = (from: number, share: number): number => (share === 0 ? rest[from]! : (1 - share) * rest[from]! + share * rest[from + restNodes]!);
  for (let i = 0; i < nodes.length; i++) {
    const node = nodes[i]!;
    const [k, l] = [node % nodeCols, Math.floor(node / nodeCols)];
    const [fu, fv] = [(k % restNodes) / restNodes, (l % restNodes) / restNodes];
    const from = node - (k % restNodes) - (l % restNodes) * nodeCols;
    level[node] = said.levelDb[i]!;
    whole[node] = said.varianceDb2[i]! + (fv === 0 ? along(from, fu) : (1 - fv) * along(from, fu) + fv * along(from + restNodes * nodeCols, fu));
  }
  for (let row = 0; row < rows; row++) {
    const fv = (row % nodeCells) / nodeCells;
    const first = Math.floor(row / nodeCells) * nodeCols;
    for (let fromCol = 0; fromCol < cols; fromCol += nodeCells) {
      const toCol = Math.min(cols, fromCol + nodeCells);
      if (!isAnyIn(wanted, cols, fromCol, toCol, row, row + 1)) continue;
      const a = first + fromCol / nodeCells;
      const c = a + nodeCols;
      const levelLeft = (1 - fv) * level[a]! + fv * level[c]!;
      const levelRight = (1 - fv) * level[a + 1]! + fv * level[c + 1]!;
      const wholeLeft = (1 - fv) * whole[a]! + fv * whole[c]!;
      const wholeRight = (1 - fv) * whole[a + 1]! + fv * whole[c + 1]!;
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
