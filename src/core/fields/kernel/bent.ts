import { obstaclesOf, type Obstacle } from '../../building/obstacles';
import type { Panes } from '../../building/panes';
import type { Grid } from '../../geometry/grid';
import { LIT_V, PER_ROOT_M, bendingAt, topAt } from '../../propagation/diffraction';
import { BANDS } from '../../radio/band';
import { wedgeOf } from '../bent';
import { placesFor, type Kernel } from './kernel';

const LANES = BANDS.length;

/** An obstacle as `assembly/bent.ts` reads it. What reaches the ceiling has no top there. */
function numbersOf(o: Obstacle, panes: Panes): Float64Array {
  const product = (at: ArrayLike<number>, lane: number): number =>
    Array.from(at).reduce((share, place) => share * o.through[place * LANES + lane]!, 1);
  const lanes = [0, 1, 2] as const;
  return Float64Array.from([
    o.free.length,
    o.panes.length,
    Number(o.topZM !== Infinity),
    Number(o.closed),
    ...Array.from(o.free).flatMap((free, k) => [
      o.corners[k * 2]!,
      o.corners[k * 2 + 1]!,
      free,
      topAt(o, panes, o.panesAt[k]!),
      ...lanes.map((lane) => product(o.panesAt[k]!, lane)),
    ]),
    ...Array.from(o.panes).flatMap((p, i) => [
      ...panes.ends.subarray(p * 4, p * 4 + 4),
      panes.heights[p * 2 + 1]!,
      ...lanes.map((lane) => product([i], lane)),
    ]),
  ]);
}

/** All obstacles of some panes one after another, and where in it each begins. */
type Written = Readonly<{ numbers: Float64Array; at: readonly number[] }>;
const written = new WeakMap<Panes, Written>();
function writtenOf(panes: Panes): Written {
  const known = written.get(panes);
  if (known !== undefined) return known;
  const parts = obstaclesOf(panes).list.map((o) => numbersOf(o, panes));
  let length = 0;
  const at = parts.map((part) => (length += part.length) - part.length);
  const numbers = new Float64Array(length);
  parts.forEach((part, i) => numbers.set(part, at[i]!));
  const made = { numbers, at };
  written.set(panes, made);
  return made;
}

/**
 * Adds the loss of what may be gone round to the planes that lie at `out` in the kernel's memory. `addBent` of `../bent.ts` is the reference: within 0.005 dB.
 * @param out planes of `planeBytes` bytes, one per band
 * @param free what of the memory is free from where on
 */
export function kernelBentInto(
  kernel: Kernel,
  panes: Panes,
  a: Readonly<{ x: number; y: number; z: number }>,
  zM: number,
  { rows, cols, cellM, originXM, originYM }: Grid,
  out: number,
  planeBytes: number,
  free: number,
): void {
  const bending = bendingAt(panes, a.x, a.y, a.z, zM);
  if (!bending.includes(1)) return;
  const { numbers, at } = writtenOf(panes);
  // Four cells from any on: what lies beyond a row is read by nobody.
  const stride = (cols + 6) & ~3;
  const [obstacles, wedge, state] = placesFor(kernel, free, [numbers.byteLength, 12 * 8, 2 * LANES * rows * stride * 4]) as [number, number, number];
  const { run, memory } = kernel;
  new Float64Array(memory.buffer, obstacles, numbers.length).set(numbers);
  const planes = new Float64Array(memory.buffer, wedge, 12);
  run.clearBent(rows, stride, state);
  obstaclesOf(panes).list.forEach((o, k) => {
    if (bending[k] !== 1) return;
    const halves = wedgeOf(o, panes, a.x, a.y, zM - a.z).planes;
    planes.set(halves);
    // prettier-ignore
    run.bend(
      obstacles + at[k]! * 8, wedge, halves.length / 3, rows, cols, stride, state,
      originXM, originYM, cellM, a.x, a.y, a.z, zM, PER_ROOT_M[0]!, PER_ROOT_M[1]!, PER_ROOT_M[2]!, LIT_V,
    );
  });
  run.addBent(rows, cols, stride, state, out, planeBytes);
}
