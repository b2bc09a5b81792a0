import { LOSS_UNIT_DB, OPEN_ID, materialOf, type Material } from '../../building/material';
import { joinPanes, panesOf } from '../../building/panes';
import type { Medium } from '../../propagation/medium';
import type { Spot } from '../../propagation/crossing';
import { raysFrom, type Rays } from '../../propagation/ray';
import type { Emitter } from '../../propagation/station';
import { BANDS, bandIndex, type Band } from '../../radio/band';
import { pathMhz } from '../../radio/channel';
import { slopesAlong, type Columns, type Parameter, type Piece, type Row } from './parameter';

/** What was known before anything was measured: standard deviation of each kind, in dB. Of materials 1.5 dB and a part of what they lose; of single walls it is fitted. */
const PRIOR = { offset: 6, exponent: 0.5, radio: 1.25, material: 1.5, materialShare: 0.35, obstacle: 15 } as const;

/** A wall crossed by fewer readings is not told apart. */
const LEAST_RAYS = 4;

/** The rays from a radio, for an antenna without gain. */
const raysOf = (medium: Medium, { pose, antenna, channel }: Emitter): Rays => raysFrom(medium, pose, antenna, channel.band, pathMhz(channel));

/** What the model says of a radio at spots, in dBm, for an antenna without gain. */
export function predictorOf(medium: Medium, radio: Emitter): (at: Spot) => number {
  const { to } = raysOf(medium, radio);
  return (at) => radio.txPowerDbm - to(at).lossDb;
}

/** The parameters that some readings may tell something of, their priors, and how a level anywhere hangs on them. */
export type Trend = Readonly<{
  parameters: readonly Parameter[];
  /** Prior standard deviation; NaN for single walls, whose common one is fitted. */
  priorSd: Float64Array;
  /** Of the readings that told which parameters there are, in their order. */
  rows: readonly Row[];
  rowAt: (radio: number, at: Spot) => Row;
  /** The same of a radio that is otherwise than designed, in the columns of that one: the mean over some spots, for beside an edge of shadow none stands for its neighbours. */
  rowOf: (emitter: Emitter, radio: number, spots: readonly Spot[]) => Row;
}>;

/** The mean of some rows. */
function meanRow(rows: readonly Row[]): Row {
  const [first] = rows;
  if (rows.length === 1) return first!;
  const share = 1 / rows.length;
  const columns = [...first!.columns];
  const slopes = columns.map(() => 0);
  let [baseDbm, free] = [0, 0];
  for (const row of rows) {
    baseDbm += share * row.baseDbm;
    free += share * row.free;
    for (let k = 0; k < row.columns.length; k++) {
      const column = row.columns[k]!;
      // Mostly all of them cross the same walls.
      const at = columns[k] === column ? k : columns.indexOf(column);
      if (at >= 0) slopes[at]! += share * row.slopes[k]!;
      else {
        columns.push(column);
        slopes.push(share * row.slopes[k]!);
      }
    }
  }
  return { baseDbm, columns, slopes, free };
}

/** What of a wall rays may cross: how many readings' rays did, which of them the last, and in which columns it may differ. */
type Crossed = Piece & Columns & { rays: number; last: number };

/** A ray: what the model says it costs, and what it passes straight through; the same twice where it is met twice. What may be gone round is no plain sum, and stays as the model has it. */
type Ray = Readonly<{ at: Spot; lossDb: number; crossed: readonly Crossed[] }>;

/** Rays from a radio, and what of each pane that they meet is called. */
type Known = Rays & Readonly<{ byPane: Array<Crossed | undefined> }>;

/** The parameters of a band's radios, from what the rays to the spots of some readings cross. */
export function trendOf(
  medium: Medium,
  radios: readonly Emitter[],
  readings: ReadonlyArray<Readonly<{ radio: number; spots: readonly Spot[] }>>,
): Trend {
  const band: Band = radios[0]!.channel.band;
  const materials = new Map(medium.panes.materials.map((material) => [material.id, material]));
  const materialColumns = new Map<string, number>();
  const pieces = new Map<string, Crossed[]>();
  const met: Crossed[] = [];
  const crossedOf = (wallId: string, materialId: string): Crossed => {
    const ofWall = pieces.get(wallId) ?? [];
    const known = ofWall.find((piece) => piece.materialId === materialId);
    if (known !== undefined) return known;
    const crossed = { wallId, materialId, rays: 0, last: -1, materialColumn: materialColumns.get(materialId) ?? -1, column: -1 };
    pieces.set(wallId, [...ofWall, crossed]);
    met.push(crossed);
    return crossed;
  };
  const known = new WeakMap<Emitter, Known>();
  const knownOf = (emitter: Emitter): Known => {
    const found = known.get(emitter) ?? { ...raysOf(medium, emitter), byPane: [] };
    known.set(emitter, found);
    return found;
  };
  /** What so many crossings are called. */
  const namesOf = ({ crossings: { pieces, pane }, byPane }: Known, count: number): Crossed[] => {
    const crossed: Crossed[] = [];
    for (let k = 0; k < count; k++) {
      const p = pane[k]!;
      crossed.push((byPane[p] ??= crossedOf(pieces.wallIds[pieces.wallIndex[p]!]!, pieces.materials[pieces.materialIndex[p]!]!.id)));
    }
    return crossed;
  };
  const rayTo = (emitter: Emitter, at: Spot): Ray => {
    const from = knownOf(emitter);
    const { lossDb, crossed } = from.to(at);
    return { at, lossDb, crossed: namesOf(from, crossed) };
  };
  const raysTo = (emitter: Emitter, spots: readonly Spot[]): Ray[] => {
    const rays: Ray[] = [];
    for (const at of spots) {
      const before = rays.at(-1);
      // Who stands still while he listens is one ray.
      rays.push(before !== undefined && before.at.xM === at.xM && before.at.yM === at.yM && before.at.zM === at.zM ? before : rayTo(emitter, at));
    }
    return rays;
  };
  const rays = readings.map(({ radio, spots }) => raysTo(radios[radio]!, spots));
  rays.forEach((own, reading) => {
    for (const { crossed } of own)
      for (const piece of crossed) {
        // The rays of one reading are as good as one.
        if (piece.last !== reading) piece.rays++;
        piece.last = reading;
      }
  });
  const common: Parameter[] = [{ kind: 'offset' }, { kind: 'exponent' }, ...radios.map((_, radio): Parameter => ({ kind: 'radio', radio }))];
  for (const { materialId } of met) if (!materialColumns.has(materialId)) materialColumns.set(materialId, common.length + materialColumns.size);
  const toldApart = met.filter((piece) => piece.rays >= LEAST_RAYS);
  for (const piece of met) piece.materialColumn = materialColumns.get(piece.materialId)!;
  toldApart.forEach((piece, k) => (piece.column = common.length + materialColumns.size + k));
  const parameters: Parameter[] = [
    ...common,
    ...[...materialColumns.keys()].map((id): Parameter => ({ kind: 'material', material: materials.get(id)! })),
    ...toldApart.map(({ wallId, materialId }): Parameter => ({ kind: 'wall', wallId, material: materials.get(materialId)! })),
  ];
  const lossDbOf = (material: Material): number => {
    const { panes } = medium;
    const p = panes.materialIndex.findIndex((index) => panes.materials[index] === material);
    return panes.lossUnits[p * BANDS.length + bandIndex(band)]! * LOSS_UNIT_DB;
  };
  const priorSd = Float64Array.from(parameters, (p) => {
    if (p.kind === 'wall') return isObstacle(p) ? PRIOR.obstacle : NaN;
    return p.kind === 'material' ? PRIOR.material + PRIOR.materialShare * lossDbOf(p.material) : PRIOR[p.kind];
  });
  const rowAlong = ({ at, lossDb, crossed }: Ray, emitter: Emitter, radio: number): Row => {
    const { columns, slopes, free } = slopesAlong(crossed, at, emitter, radio);
    return { baseDbm: emitter.txPowerDbm - lossDb, columns, slopes, free };
  };
  const rowOf = (emitter: Emitter, radio: number, spots: readonly Spot[]): Row =>
    meanRow(raysTo(emitter, spots).map((ray) => rowAlong(ray, emitter, radio)));
  return {
    parameters,
    priorSd,
    rows: readings.map(({ radio }, i) => meanRow(rays[i]!.map((ray) => rowAlong(ray, radios[radio]!, radio)))),
    rowOf,
    rowAt: (radio, at) => rowOf(radios[radio]!, radio, [at]),
  };
}

/** The medium with what was found in one band: exponent, materials and single walls. What would then strengthen costs nothing. */
export function correctedMedium(medium: Medium, band: Band, parameters: readonly Parameter[], estimates: ArrayLike<number>): Medium {
  const { panes, propagation } = medium;
  const lane = bandIndex(band);
  const byMaterial = new Map<Material, number>();
  const byWall = new Map<string, number>();
  let exponent = 0;
  parameters.forEach((p, i) => {
    if (p.kind === 'material') byMaterial.set(p.material, estimates[i]!);
    else if (p.kind === 'wall') byWall.set(`${p.wallId}/${p.material.id}`, estimates[i]!);
    else if (p.kind === 'exponent') exponent = estimates[i]!;
  });
  const lossUnits = panes.lossUnits.slice();
  for (let p = 0; p < panes.count; p++) {
    const at = p * BANDS.length + lane;
    if (lossUnits[at] === 0) continue;
    const material = panes.materials[panes.materialIndex[p]!]!;
    const more = (byMaterial.get(material) ?? 0) + (byWall.get(`${panes.wallIds[panes.wallIndex[p]!]!}/${material.id}`) ?? 0);
    lossUnits[at] = Math.max(0, lossUnits[at]! + Math.round(more / LOSS_UNIT_DB));
  }
  return { ...medium, panes: { ...panes, lossUnits }, propagation: { ...propagation, exponent: propagation.exponent + exponent } };
}

/** The medium with what of a wall is of one material, the wall itself or an opening's leaf, losing more, in dB, in one band; never less than nothing. */
export function withWallLoss(medium: Medium, { wallId, materialId }: Piece, moreDb: number, band: Band): Medium {
  const { panes } = medium;
  const lossUnits = panes.lossUnits.slice();
  for (let p = 0; p < panes.count; p++) {
    if (panes.wallIds[panes.wallIndex[p]!] !== wallId || panes.materials[panes.materialIndex[p]!]!.id !== materialId) continue;
    const at = p * BANDS.length + bandIndex(band);
    lossUnits[at] = Math.max(0, lossUnits[at]! + Math.round(moreDb / LOSS_UNIT_DB));
  }
  return { ...medium, panes: { ...panes, lossUnits } };
}

/** What nobody drew has a material of its own, called as it is called: nothing is known of its loss beforehand. */
export const isObstacle = ({ wallId, material }: Parameter & { kind: 'wall' }): boolean => material.id === wallId;

/** The medium with a wall that nobody drew, from floor to ceiling, of a loss in one band and none in others. */
export function withObstacle(medium: Medium, { fromM, toM, lossDb }: Straight, wallId: string, band: Band): Medium {
  const [axM, ayM] = fromM;
  const [bxM, byM] = toM;
  const wall = { id: wallId, floorId: '', axM, ayM, bxM, byM, baseM: -1000, topM: 1000, materialId: wallId };
  const material: Material = {
    ...materialOf(OPEN_ID),
    id: wallId,
    measuredDb: Object.fromEntries(BANDS.map((each) => [each, each === band ? lossDb : 0])),
  };
  return { ...medium, panes: joinPanes([medium.panes, panesOf([wall], [], 0, () => material)]) };
}

type Straight = Readonly<{ fromM: readonly [number, number]; toM: readonly [number, number]; lossDb: number }>;
