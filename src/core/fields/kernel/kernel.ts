import { KERNEL_BASE64 } from './bytes';
import { GAIN_TABLE_BYTES } from './tables';

/** What `assembly/` exports; pointers are byte offsets into the memory. */
type Exports = Readonly<{
  heapBase(): number;
  begin(rows: number, cols: number, at: number): void;
  addPanes(
    count: number,
    ends: number,
    heights: number,
    units: number,
    endVertex: number,
    skip: number,
    vertexCount: number,
    vertices: number,
    jumps: number,
    originX: number,
    originY: number,
    perCell: number,
    ax: number,
    ay: number,
    az: number,
    planeZ: number,
  ): void;
  addRing(count: number, ring: number, j0: number, j1: number, j2: number): void;
  // prettier-ignore
  raiseMost(most: number, e00: number, e01: number, e02: number, e10: number, e11: number, e12: number, e20: number, e21: number, e22: number): void;
  writeSums(most: number, out: number): void;
  cells(
    rows: number,
    cols: number,
    most: number,
    out: number,
    plane: number,
    table: number,
    near: number,
    gainTable: number,
    fromX: number,
    fromY: number,
    cellM: number,
    rise: number,
    aimX: number,
    aimY: number,
    unit: number,
  ): void;
  clearBent(rows: number, stride: number, state: number): void;
  bend(
    obstacle: number,
    wedge: number,
    planeCount: number,
    rows: number,
    cols: number,
    stride: number,
    state: number,
    originX: number,
    originY: number,
    cellM: number,
    ax: number,
    ay: number,
    az: number,
    cz: number,
    perRoot0: number,
    perRoot1: number,
    perRoot2: number,
    litV: number,
  ): void;
  addBent(rows: number, cols: number, stride: number, state: number, out: number, planeBytes: number): void;
  strongestThree(count: number, radios: number, losses: number, powers: number, level: number, radio: number, pitch: number): void;
  nearest(readings: number, x: number, y: number, from: number, earlier: number, most: number, near: number, work: number): void;
  standings(
    rows: number,
    which: number,
    near: number,
    most: number,
    x: number,
    y: number,
    noise: number,
    shadowVar: number,
    correlationM: number,
    decays: number,
    decaySteps: number,
    decayFurthest: number,
    variance: number,
    weights: number,
    work: number,
  ): void;
  unknown(
    spots: number,
    starts: number,
    columns: number,
    slopes: number,
    near: number,
    weights: number,
    most: number,
    knownStarts: number,
    knownColumns: number,
    knownSlopes: number,
    parameters: number,
    covariance: number,
    variance: number,
    u: number,
  ): void;
  shadows(
    readings: number,
    x: number,
    y: number,
    noise: number,
    left: number,
    spots: number,
    spotX: number,
    spotY: number,
    without: number,
    weighed: number,
    most: number,
    shadowVar: number,
    correlationM: number,
    decays: number,
    decaySteps: number,
    decayFurthest: number,
    level: number,
    variance: number,
    near: number,
    weights: number,
    work: number,
    covariances: number,
  ): void;
}>;

/**
 * The compiled kernels with their memory: at `gains` the table of gains used last, whose key is `gainsKey`, and from `base` on what each call lays there for itself.
 */
export type Kernel = { readonly run: Exports; readonly memory: WebAssembly.Memory; readonly gains: number; readonly base: number; gainsKey: string };

const PAGE = 65_536;

let kernel: Kernel | null | undefined;

/**
 * The kernels in WebAssembly with its 128-bit numbers (W3C, WebAssembly core 2.0); null where the machine has none, and TypeScript does the same. Compiled at the first
 * call, in under a millisecond: for workers and Node.
 */
export function compiledKernel(): Kernel | null {
  if (kernel !== undefined) return kernel;
  const bytes = Uint8Array.from(atob(KERNEL_BASE64), (char) => char.charCodeAt(0));
  if (typeof WebAssembly === 'undefined' || !WebAssembly.validate(bytes)) return (kernel = null);
  const memory = new WebAssembly.Memory({ initial: 64 });
  const run = new WebAssembly.Instance(new WebAssembly.Module(bytes), {
    env: {
      memory,
      abort: () => {
        throw new Error('The kernel stopped.');
      },
    },
  }).exports as unknown as Exports;
  const gains = (run.heapBase() + 15) & ~15;
  return (kernel = { run, memory, gains, base: gains + GAIN_TABLE_BYTES, gainsKey: '' });
}

/**
 * Places for arrays of these many bytes, one after the other from `from`, each at a multiple of 16; the memory grows to hold them. Views made before are then
 * gone.
 */
export function placesFor({ memory }: Kernel, from: number, bytes: readonly number[]): number[] {
  let at = from;
  const places = bytes.map((size) => {
    const place = at;
    at = (at + size + 15) & ~15;
    return place;
  });
  const missing = at - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  return places;
}
