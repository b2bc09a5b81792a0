import { describe, expect, test } from '@jest/globals';
import { latticeOver, overLattice, placesOfNodes } from './lattice';

describe('what is worked out at nodes and taken straight between', () => {
  const grid = { originXM: 3, originYM: -2, cellM: 0.5, cols: 23, rows: 14 };
  const cells = grid.cols * grid.rows;
  const placeOf = (cell: number) => [3 + (cell % 23) * 0.5, -2 + Math.floor(cell / 23) * 0.5] as const;
  const levelOf = (x: number, y: number) => 40 - 3 * x + 0.5 * y;
  const varianceOf = (x: number, y: number) => 9 + 0.25 * x - y;
  const restOf = (x: number, y: number) => 2 + 0.125 * x + 0.5 * y;
  const asked = { level: [] as string[], whole: [] as string[] };
  const over = (nodeCells: number, restNodes: number, wanted: Uint8Array, at = levelOf, variance = varianceOf, rest = restOf) => {
    const lattice = latticeOver(grid, nodeCells, restNodes, wanted);
    const { xM, yM } = placesOfNodes(lattice, grid);
    const names = Array.from(xM, (x, i) => `${x}/${yM[i]}`);
    [asked.whole, asked.level] = [names.slice(0, lattice.restCount), names.slice(lattice.restCount)];
    const [levelDb, varianceDb2] = [new Float32Array(cells).fill(NaN), new Float32Array(cells).fill(NaN)];
    const said = (of: (x: number, y: number) => number, count = xM.length) => xM.slice(0, count).map((x, i) => of(x, yM[i]!));
    overLattice(
      grid,
      lattice,
      { levelDb: said(at), varianceDb2: said(variance), restDb2: said(rest, lattice.restCount) },
      wanted,
      levelDb,
      varianceDb2,
    );
    return { levelDb, varianceDb2 };
  };
  test('what goes straight comes out as it is in every cell, whichever nodes', () => {
    for (const [nodeCells, restNodes] of [
      [1, 1],
      [1, 3],
      [4, 1],
      [3, 2],
      [4, 5],
      [50, 2],
    ] as const) {
      const { levelDb, varianceDb2 } = over(nodeCells, restNodes, new Uint8Array(cells).fill(1));
      for (let cell = 0; cell < cells; cell++) {
        const [x, y] = placeOf(cell);
        expect(levelDb[cell]).toBeCloseTo(levelOf(x, y), 4);
        expect(varianceDb2[cell]).toBeCloseTo(varianceOf(x, y) + restOf(x, y), 4);
      }
      // Nothing is worked out twice: where all is asked for the level comes with it.
      const all = [...asked.level, ...asked.whole];
      expect(new Set(all).size).toBe(all.length);
      expect(asked.whole.every((at) => (Number(at.split('/')[0]) - 3) % (nodeCells * restNodes * 0.5) === 0)).toBe(true);
      if (restNodes === 1) expect(asked.level).toEqual([]);
    }
  });
  test('only what is wanted is worked out', () => {
    const wanted = new Uint8Array(cells);
    // One cell at (7, 0.5): between nodes at 7 and 9, 0 and 2; with the rest at 3 and 11, -2 and 6.
    const cell = 5 * 23 + 8;
    wanted[cell] = 1;
    const { levelDb, varianceDb2 } = over(4, 4, wanted);
    expect(levelDb[cell]).toBeCloseTo(levelOf(7, 0.5), 4);
    expect(levelDb.filter((value) => !Number.isNaN(value)).length).toBe(1);
    expect(varianceDb2.filter((value) => !Number.isNaN(value)).length).toBe(1);
    expect(asked.level.sort()).toEqual(['7/0', '7/2', '9/0', '9/2']);
    expect(asked.whole.sort()).toEqual(['11/-2', '11/6', '3/-2', '3/6']);
    over(4, 4, new Uint8Array(cells));
    expect([...asked.level, ...asked.whole]).toEqual([]);
  });
  test('what is bent is taken straight from node to node', () => {
    // Nodes at 3, 5, 7 .. m: half way between 5 and 7 the squares' mean is 37, not 36. Of the rest, said at 3 and 7, it is 29 there, and between.
    const none = () => 0;
    const { levelDb, varianceDb2 } = over(
      4,
      2,
      new Uint8Array(cells).fill(1),
      (x) => x * x,
      none,
      (x) => x * x,
    );
    expect([4, 5, 6, 8].map((col) => levelDb[col])).toEqual([25, 31, 37, 49]);
    expect([0, 4, 6, 8].map((col) => varianceDb2[col])).toEqual([9, 29, 39, 49]);
  });
});
