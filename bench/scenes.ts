import { modelOf } from '@/core/radio/catalogue';
import { museum } from '@demo/museum';
import { panesOf } from '@/core/building/panes';
import type { Wall } from '@/core/building/wall';
import { accessPointsOf, floorsOf, onFloor, variantsOf } from '@/core/design/design';
import { gridOver, maskOf, type Grid } from '@/core/geometry/grid';
import { mediumOf, type Medium } from '@/core/propagation/medium';
import { seeded } from '@/core/random';
import type { Station } from '@/core/propagation/station';
import { antennasOf } from '@/engine/derived';
import { floorMedium, poseOf } from '@/engine/scene';

export type BenchAp = Station & { name: string; modelId: string; txPowerDbm: number };
export type BenchScene = { name: string; medium: Medium; grid: Grid; mask: Uint8Array; aps: BenchAp[] };

/** The museum's Quay level as proposed. */
export function quayLevel(): BenchScene {
  const design = museum();
  const floor = floorsOf(design)[0]!;
  const grid = gridOver(floor.outline, 0.5);
  const zones = onFloor(design, 'zones', floor.id).filter((zone) => zone.kind === 'service');
  return {
    name: 'Quay level',
    medium: floorMedium(design, floor),
    grid,
    mask: maskOf(grid, zones),
    aps: accessPointsOf(design, floor.id, variantsOf(design).at(-1)!.id).map((ap) => ({
      name: ap.name,
      modelId: ap.modelId,
      pose: poseOf(design, ap),
      antennas: antennasOf(modelOf(ap.modelId)),
      txPowerDbm: 12,
    })),
  };
}

/** A generated office floor: rooms on a jittered lattice, `wallCount` walls of mixed material and height. */
export function generatedFloor(wallCount: number, apCount: number, seed = 11, [widthM, heightM]: readonly [number, number] = [120, 80]): BenchScene {
  const uniform = seeded(seed);
  const materials = ['plasterboard', 'plasterboard', 'brick', 'glass', 'concrete', 'wood'];
  const walls: Wall[] = [];
  const add = (axM: number, ayM: number, bxM: number, byM: number, materialId: string, topM = 4) =>
    walls.push({ id: `w${walls.length}`, floorId: 'f', axM, ayM, bxM, byM, baseM: 0, topM, materialId });
  for (const [a, b, c, d] of [
    [0, 0, widthM, 0],
    [widthM, 0, widthM, heightM],
    [widthM, heightM, 0, heightM],
    [0, heightM, 0, 0],
  ] as const)
    add(a, b, c, d, 'brick-heavy');
  while (walls.length < wallCount) {
    const x = Math.floor((uniform() * widthM) / 5) * 5;
    const y = Math.floor((uniform() * heightM) / 5) * 5;
    const along = uniform() < 0.5;
    const diagonal = uniform() < 0.08;
    add(
      x,
      y,
      x + (along || diagonal ? 5 : 0),
      y + (!along || diagonal ? 5 : 0),
      materials[Math.floor(uniform() * materials.length)]!,
      uniform() < 0.15 ? 1.5 : 4,
    );
  }
  const grid = gridOver(
    [
      { xM: 0, yM: 0 },
      { xM: widthM, yM: 0 },
      { xM: widthM, yM: heightM },
      { xM: 0, yM: heightM },
    ],
    0.5,
  );
  const aps = Array.from({ length: apCount }, (_, i): BenchAp => {
    const columns = Math.round(Math.sqrt(apCount * 1.6));
    const column = i % columns;
    const row = Math.floor(i / columns);
    const rows = Math.ceil(apCount / columns);
    return {
      name: `G-${i + 1}`,
      modelId: 'kittiwake-t6',
      pose: {
        xM: (widthM / columns) * (column + 0.45 + uniform() * 0.1),
        yM: (heightM / rows) * (row + 0.45 + uniform() * 0.1),
        zM: 3,
        azimuthDeg: 0,
        tiltDeg: 0,
      },
      antennas: antennasOf(modelOf('kittiwake-t6')),
      txPowerDbm: 16,
    };
  });
  return {
    name: `Generated ${widthM} x ${heightM} m, ${wallCount} walls, ${apCount} APs`,
    medium: mediumOf(panesOf(walls, []), { exponent: 2.2 }),
    grid,
    mask: new Uint8Array(grid.cols * grid.rows).fill(1),
    aps,
  };
}
