import { describe, expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { materialLossDb } from '@/core/building/material';
import { addMaterial, editMaterial } from '@/core/design/materialCommands';
import { edit } from '@/core/design/commands';
import { accessPointsAround, floorsOf, variantsOf } from '@/core/design/design';
import { applyChanges } from '@/core/design/step';
import { lossFields } from '@/core/fields/lossField';
import { outlinesOf } from '@/core/fields/outlines';
import { sightLine } from '@/core/propagation/ray';
import { modelOf, radioModelOf } from '@/core/radio/catalogue';
import { floorMedium, floorScene, poseOf } from './scene';

const design = museum();
const [quay, gallery, upper] = floorsOf(design);
const around = accessPointsAround(design, gallery!.id, variantsOf(design).at(-1)!.id);
const named = (name: string) => around.find((ap) => ap.name === name)!;
const line = (from: string, floor: typeof quay, xM: number, yM: number, of = design) => {
  const ap = named(from);
  return sightLine(floorMedium(of, floor!), poseOf(of, ap), radioModelOf(modelOf(ap.modelId), '5')!.antenna, '5', {
    xM,
    yM,
    zM: floor!.elevationM + 1,
  });
};

describe('through the building', () => {
  test('from the boat hall into the gallery: free through the atrium, a slab of concrete beside it', () => {
    // Q-02 hangs at (32, 8), 4 m up: 0.2 m below the slab. To (38, 9) the ray leaves through the atrium at 28 to 48, 3 to 15.
    expect(line('Q-02', gallery, 38, 9).slabs).toEqual([]);
    const under = line('Q-01', gallery, 11, 23);
    expect(under.slabs).toHaveLength(1);
    expect(under.slabs[0]).toMatchObject({ zM: 4.2, lossDb: materialLossDb('concrete', '5') });
    expect(under.slabLossDb).toBeCloseTo(materialLossDb('concrete', '5'), 9);
  });
  test('two floors up two slabs are passed; down it is the same', () => {
    expect(line('Q-01', upper, 11, 26).slabs.map(({ zM }) => zM)).toEqual([4.2, 8.7]);
    expect(
      line('U-04', quay, 11, 26)
        .slabs.map(({ zM }) => zM)
        .sort(),
    ).toEqual([4.2, 8.7]);
  });
  test('walls of another floor are charged where the ray passes at their height, and only there', () => {
    // U-02 hangs over the stacks; to the gallery straight below it passes no wall but a slab.
    expect(line('U-02', gallery, 33.5, 9.5).walls).toEqual([]);
    // From the gallery's west partitions up to the reading room: the partitions end at 2.6 m.
    const up = line('G-01', upper, 12, 2);
    expect(up.walls.every(({ zM }) => zM > gallery!.elevationM + 2.6)).toBe(true);
  });
  test('a slab of no material, or of wood, is as it says', () => {
    const open = applyChanges(design, edit(design, 'floors', gallery!.id, { slabMaterialId: 'open' }));
    expect(line('Q-01', gallery, 11, 23, open).slabs).toEqual([]);
    const wood = applyChanges(design, edit(design, 'floors', gallery!.id, { slabMaterialId: 'wood' }));
    expect(line('Q-01', gallery, 11, 23, wood).slabLossDb).toBeCloseTo(materialLossDb('wood', '5'), 9);
  });
  test('the fields of another floor’s access points equal the rays, cell by cell', () => {
    const scene = floorScene(design, gallery!);
    const { grid } = scene;
    for (const name of ['Q-02', 'Q-09', 'U-05']) {
      const ap = named(name);
      const antenna = radioModelOf(modelOf(ap.modelId), '5')!.antenna;
      const [, lossDb] = lossFields(
        outlinesOf(scene.medium),
        { pose: poseOf(design, ap), antennas: [null, antenna, null] },
        { grid, zM: scene.planeZM, gainDbi: 0 },
      );
      for (let i = 0; i < lossDb!.length; i += 97) {
        const at = {
          xM: grid.originXM + (i % grid.cols) * grid.cellM,
          yM: grid.originYM + Math.floor(i / grid.cols) * grid.cellM,
          zM: scene.planeZM,
        };
        // The lattice is shifted by micrometres; a cell on a wall's very edge may fall on either side.
        expect(Math.abs(lossDb![i]! - sightLine(scene.medium, poseOf(design, ap), antenna, '5', at).lossDb)).toBeLessThan(0.11);
      }
    }
  });
  test('a ray that stays on its floor meets nothing of the others', () => {
    const alone = { ...design, floors: { [gallery!.id]: gallery! } };
    const [scene, own] = [floorScene(design, gallery!), floorScene(alone, gallery!)];
    expect(own.medium.slabs).toEqual([]);
    for (const ap of around.filter(({ floorId }) => floorId === gallery!.id)) {
      const antennas = [null, radioModelOf(modelOf(ap.modelId), '5')!.antenna, null];
      const field = ({ medium, grid, planeZM: zM }: typeof scene) =>
        lossFields(outlinesOf(medium), { pose: poseOf(design, ap), antennas }, { grid, zM, gainDbi: 0 })[1]!;
      const [whole, single] = [field(scene), field(own)];
      expect(whole.every((lossDb, i) => lossDb === single[i])).toBe(true);
    }
  });
  test('a material that is edited makes the fields anew', () => {
    const own = applyChanges(design, addMaterial(design, 'mine', 'concrete'));
    const made = applyChanges(own, edit(own, 'floors', gallery!.id, { slabMaterialId: 'mine' }));
    const measured = applyChanges(made, editMaterial(made, 'mine', { measuredDb: { '5': 12 } }));
    expect(line('Q-01', gallery, 11, 23, made).slabLossDb).toBeCloseTo(materialLossDb('concrete', '5'), 9);
    const before = floorScene(made, gallery!).key;
    expect(floorScene(measured, gallery!).key).not.toBe(before);
    expect(line('Q-01', gallery, 11, 23, measured).slabLossDb).toBeCloseTo(12, 9);
  });
  test('an opening drawn into a slab lets through what passes there', () => {
    const hole = {
      id: 'h',
      floorId: gallery!.id,
      name: 'Hatch',
      holes: [],
      polygon: [8, 14].flatMap((x) =>
        x === 8
          ? [
              { xM: 8, yM: 20 },
              { xM: 14, yM: 20 },
            ]
          : [
              { xM: 14, yM: 30 },
              { xM: 8, yM: 30 },
            ],
      ),
    };
    const cut = applyChanges(design, [{ table: 'slabOpenings', id: 'h', before: null, after: hole }]);
    expect(line('Q-01', gallery, 11, 23, cut).slabs).toEqual([]);
    expect(floorScene(cut, gallery!).key).not.toBe(floorScene(design, gallery!).key);
  });
});
