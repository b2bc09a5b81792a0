import { museum } from '@demo/museum';
import { joinPanes } from '@/core/building/panes';
import { materialOf } from '@/core/building/material';
import { slabOf } from '@/core/building/slab';
import { accessPointsOf, floorsOf, modelsOf, variantsOf } from '@/core/design/design';
import { signalInto, topThree, type LitRadio } from '@/core/fields/combine';
import { compiledKernel, type Kernel } from '@/core/fields/kernel/kernel';
import { lossFieldInto, type Plane } from '@/core/fields/lossField';
import { outlinesOf, type Outlines } from '@/core/fields/outlines';
import { gridOver } from '@/core/geometry/grid';
import { mediumOf, type Medium } from '@/core/propagation/medium';
import { rayLossUnits } from '@/core/propagation/ray';
import type { Station } from '@/core/propagation/station';
import { BANDS } from '@/core/radio/band';
import { modelOf } from '@/core/radio/catalogue';
import { antennasOf } from '@/engine/derived';
import { floorMedium, poseOf } from '@/engine/scene';
import { generatedFloor } from './scenes';
import { time } from './timing';

type Row = [string, string, string];

/** One floor to fill: what is met on the way to it, its cells, and the access points that are heard there. */
type Job = Readonly<{ outlines: Outlines; plane: Plane; stations: readonly Station[] }>;

const DIRECTIONAL = 'gannet-d2';
const CLIENT_HEIGHT_M = 1;

const outsOf = ({ plane: { grid }, stations }: Job): Float32Array[][] => stations.map(() => BANDS.map(() => new Float32Array(grid.cols * grid.rows)));

const fill = ({ outlines, plane, stations }: Job, outs: readonly Float32Array[][], kernel: Kernel | null): void =>
  stations.forEach((station, i) => lossFieldInto(outlines, station, plane, outs[i]!, kernel));

/** How long trying every wall for every ray would take, told from some of the cells. */
function everyRayMs({ outlines: { medium }, plane: { grid, zM }, stations }: Job): number {
  const CELLS = 150;
  const units = new Int32Array(BANDS.length);
  const cells = grid.cols * grid.rows;
  const part = time(3, () => {
    for (let k = 0; k < CELLS; k++) {
      const cell = Math.floor((k * cells) / CELLS);
      const [xM, yM] = [grid.originXM + (cell % grid.cols) * grid.cellM, grid.originYM + Math.floor(cell / grid.cols) * grid.cellM];
      for (const { pose } of stations) rayLossUnits(medium, pose, xM, yM, zM, units);
    }
  });
  return (part * cells) / CELLS;
}

/** What no method can be faster than: to read all that was computed once. */
function readOnce(outs: readonly Float32Array[][]): number {
  let sum = 0;
  for (const bands of outs) for (const field of bands) for (let i = 0; i < field.length; i++) sum += field[i]!;
  return sum;
}

const ms = (value: number): string => (value < 10 ? value.toFixed(2) : value.toFixed(0));

/** A row for some floors: compiled, with the ratios to TypeScript and to reading once. */
function rowOf(name: string, jobs: readonly Job[], aim: string, runs = 9): Row {
  const kernel = compiledKernel();
  const outs = jobs.map(outsOf);
  const fast = time(runs, () => jobs.forEach((job, i) => fill(job, outs[i]!, kernel)));
  const reading = time(runs, () => outs.forEach(readOnce));
  const slow = time(Math.max(1, Math.floor(runs / 3)), () => jobs.forEach((job, i) => fill(job, outs[i]!, null)));
  return [
    name,
    ms(fast),
    `${(slow / fast).toFixed(1)}x faster than the same in TypeScript (${ms(slow)} ms), ${(jobs.reduce((sum, job) => sum + everyRayMs(job), 0) / fast).toFixed(0)}x than trying every wall for every ray; reading the fields once takes ${ms(reading)} ms${aim}`,
  ];
}

/** The museum as proposed: each floor's map hears the access points of all floors, as the page's does. */
function museumJobs(own: boolean): Job[] {
  const design = museum();
  const variant = variantsOf(design).at(-1)!;
  return floorsOf(design).map((floor) => ({
    outlines: outlinesOf(floorMedium(design, floor)),
    plane: { grid: gridOver(floor.outline, 0.5), zM: floor.elevationM + CLIENT_HEIGHT_M, gainDbi: 0 },
    stations: floorsOf(design)
      .filter(({ id }) => !own || id === floor.id)
      .flatMap(({ id }) => accessPointsOf(design, id, variant.id))
      .map((ap) => ({ pose: poseOf(design, ap), antennas: antennasOf(modelsOf(design)(ap.modelId)) })),
  }));
}

const STOREY_M = 4;

/** Storeys of generated floors over each other, each heard on its own. */
function towerJobs(storeys: number, wallCount: number, apCount: number): Job[] {
  const floors = Array.from({ length: storeys }, (_, k) => generatedFloor(wallCount, apCount, 11 + k));
  const raised = floors.map(({ medium: { panes } }, k) => ({ ...panes, heights: panes.heights.map((heightM) => heightM + k * STOREY_M) }));
  const [widthM, depthM] = [120, 80];
  const ring = [
    { xM: 0, yM: 0 },
    { xM: widthM, yM: 0 },
    { xM: widthM, yM: depthM },
    { xM: 0, yM: depthM },
  ];
  const slabs = Array.from({ length: storeys - 1 }, (_, k) => slabOf(materialOf('concrete'), (k + 1) * STOREY_M, ring));
  const outlines = outlinesOf(mediumOf(joinPanes(raised), { exponent: 2.2 }, slabs));
  return floors.map(({ grid, aps }, k) => ({
    outlines,
    plane: { grid, zM: k * STOREY_M + CLIENT_HEIGHT_M, gainDbi: 0 },
    stations: aps.map((ap) => ({ ...ap, pose: { ...ap.pose, zM: ap.pose.zM + k * STOREY_M } })),
  }));
}

/** What an edit costs on one floor: what it makes anew, and nothing else. */
function editRows({ outlines, plane, stations }: Job, medium: Medium): Row[] {
  const job = { outlines, plane, stations };
  const outs = outsOf(job);
  const kernel = compiledKernel();
  fill(job, outs, kernel);
  const cells = plane.grid.cols * plane.grid.rows;
  const lit = stations.map((_, i): LitRadio => ({
    key: String(i),
    name: String(i),
    txPowerDbm: 15,
    channel: { band: '5', primary: 36 + 4 * (i % 4), widthMhz: 20 },
    streams: 2,
    generation: 'Wi-Fi 6',
    lossDb: outs[i]![1]!,
  }));
  let top = topThree(lit, cells);
  const shown = new Float32Array(cells);
  const moved = { ...stations[0]! };
  return [
    [
      'one access point moved: its field, and the strongest of all',
      ms(
        time(41, () => {
          moved.pose = { ...moved.pose, xM: moved.pose.xM + 0.013 };
          lossFieldInto(outlines, moved, plane, outs[0]!, kernel);
          top = topThree(lit, cells);
        }),
      ),
      `the field alone ${ms(time(41, () => lossFieldInto(outlines, moved, plane, outs[0]!, kernel)))} ms; aim 0.5, a few with obstacles`,
    ],
    ['one wall moved: the plan made ready, and all fields', ms(time(9, () => fill({ ...job, outlines: outlinesOf(medium) }, outs, kernel))), ''],
    ['power changed: the strongest of all, and Signal', ms(time(21, () => ((top = topThree(lit, cells)), signalInto(top, 0, -90, shown)))), ''],
    ['another lens: Signal of the second strongest', ms(time(21, () => signalInto(top, 1, -90, shown))), ''],
  ];
}

const plain = (job: ReturnType<typeof generatedFloor>, modelId?: string): Job => ({
  outlines: outlinesOf(job.medium),
  plane: { grid: job.grid, zM: CLIENT_HEIGHT_M, gainDbi: 0 },
  stations:
    modelId === undefined
      ? job.aps
      : job.aps.map((ap, i) => ({ pose: { ...ap.pose, azimuthDeg: i * 37, tiltDeg: 10 }, antennas: antennasOf(modelOf(modelId)) })),
});

/** How long maps take: what is computed anew, by what was changed, and whole buildings. */
export function benchSpeed(): Row[] {
  const floor = generatedFloor(473, 14);
  const own = museumJobs(true);
  const slanted = { ...floor, medium: { ...floor.medium, propagation: { ...floor.medium.propagation, slant: true } } };
  const many = Array.from({ length: 42 }, (_, i) => ({
    txPowerDbm: 12 + (i % 9),
    channel: { band: '5' as const, primary: 36, widthMhz: 20 as const },
    lossDb: Float32Array.from({ length: 38_400 }, (_, c) => 60 + ((c * (i + 7)) % 61)),
  }));
  return [
    ['**Fields and maps** (3 bands, cells of 0.5 m, one thread)', '', ''],
    rowOf('120 x 80 m, 473 walls, 14 APs', [plain(floor)], '; aim 5'),
    rowOf('the same, directional antennas', [plain(floor, DIRECTIONAL)], '; aim 10'),
    rowOf('the same, slant counted', [plain(slanted)], ''),
    rowOf('museum: 3 floors, each by its own access points', own, ''),
    rowOf('museum: 3 floors, each by all access points', museumJobs(false), '; aim 60'),
    rowOf('10 floors x 30 APs, 4 500 walls', towerJobs(10, 450, 30), '', 3),
    rowOf('120 x 80 m, 450 walls, 200 APs', [plain(generatedFloor(450, 200))], '', 3),
    rowOf('200 x 150 m, 1 400 walls, 200 APs', [plain(generatedFloor(1400, 200, 11, [200, 150]))], '', 3),
    [
      'strongest three of 42 radios, 38 400 cells',
      ms(time(21, () => void topThree(many, 38_400))),
      `TypeScript ${ms(time(9, () => void topThree(many, 38_400, null)))} ms; aim 5 with contention`,
    ],
    ...editRows(own[0]!, own[0]!.outlines.medium),
  ];
}
