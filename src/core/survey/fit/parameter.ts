import type { Material } from '../../building/material';
import { crossingsFrom, type Crossings, type Spot } from '../../propagation/crossing';
import { mediumAt, type Medium } from '../../propagation/medium';
import { MIN_DISTANCE_M } from '../../propagation/pathLoss';
import type { Emitter } from '../../propagation/station';
import { centresOf } from '../../radio/channel';

/** What may differ from the model: in dB, the exponent as a number. Of a wall or a material: how much more one crossing costs. */
export type Parameter =
  | Readonly<{ kind: 'offset' }>
  | Readonly<{ kind: 'exponent' }>
  | Readonly<{ kind: 'radio'; radio: number }>
  | Readonly<{ kind: 'material'; material: Material }>
  | Readonly<{ kind: 'wall'; wallId: string; material: Material }>;

/** How a level at a spot hangs on the parameters: the slopes of some, by their columns; `free` counts crossings of pieces that have no parameter of their own. */
export type Slopes = Readonly<{ columns: readonly number[]; slopes: readonly number[]; free: number }>;
/** The same, and what the model says there. */
export type Row = Slopes & Readonly<{ baseDbm: number }>;

/** What of a wall is of one material: the wall itself, or an opening's leaf. */
export type Piece = Readonly<{ wallId: string; materialId: string }>;

/** In which columns what is passed of a wall may differ: that of its material, and its own; -1 where it has none. */
export type Columns = { materialColumn: number; column: number };

/** How the level at a spot hangs on the parameters of an emitter that is radio number `radio`, by what the ray to it passes straight through. */
export function slopesAlong(crossed: readonly Columns[], { xM, yM, zM }: Spot, { pose }: Emitter, radio: number): Slopes {
  const away = Math.sqrt((xM - pose.xM) ** 2 + (yM - pose.yM) ** 2 + (zM - pose.zM) ** 2);
  const columns = [0, 1, 2 + radio];
  const slopes = [1, -10 * Math.log10(Math.max(away, MIN_DISTANCE_M)), 1];
  let free = 0;
  const take = (column: number): void => {
    const known = columns.indexOf(column);
    if (known >= 0) slopes[known]! -= 1;
    else {
      columns.push(column);
      slopes.push(-1);
    }
  };
  for (const { materialColumn, column } of crossed) {
    if (materialColumn >= 0) take(materialColumn);
    if (column >= 0) take(column);
    else free++;
  }
  return { columns, slopes, free };
}

/** How the level of any radio at any spot hangs on parameters that are known. No link budget is needed for it. */
export function slopesFrom(medium: Medium, radios: readonly Emitter[], parameters: readonly Parameter[]): (radio: number, at: Spot) => Slopes {
  const ofMaterial = new Map<string, number>();
  const ofWall = new Map<string, Map<string, number>>();
  parameters.forEach((p, column) => {
    if (p.kind === 'material') ofMaterial.set(p.material.id, column);
    if (p.kind === 'wall') ofWall.set(p.wallId, (ofWall.get(p.wallId) ?? new Map()).set(p.material.id, column));
  });
  const known: Array<Readonly<{ crossings: Crossings; byPane: Array<Columns | undefined> }> | undefined> = [];
  return (radio, at) => {
    const emitter = radios[radio]!;
    const { crossings, byPane } = (known[radio] ??= {
      crossings: crossingsFrom(mediumAt(medium, centresOf([emitter.channel])), emitter.pose, emitter.channel.band),
      byPane: [],
    });
    const { pieces, pane } = crossings;
    const columnsOf = (p: number): Columns => {
      const materialId = pieces.materials[pieces.materialIndex[p]!]!.id;
      const own = ofWall.get(pieces.wallIds[pieces.wallIndex[p]!]!)?.get(materialId);
      return { materialColumn: ofMaterial.get(materialId) ?? -1, column: own ?? -1 };
    };
    const crossed: Columns[] = [];
    const count = crossings.meet(at);
    for (let k = 0; k < count; k++) crossed.push((byPane[pane[k]!] ??= columnsOf(pane[k]!)));
    return slopesAlong(crossed, at, emitter, radio);
  };
}
