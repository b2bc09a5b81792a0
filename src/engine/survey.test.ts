import { countedOf } from '@/core/survey/heard';
import { describe, expect, test } from '@jest/globals';
import { museumBuilding } from '@demo/museum';
import { asFoundSurvey } from '@demo/survey';
import { accessPointsAround, floorsOf, variantsOf } from '@/core/design/design';
import type { Grid } from '@/core/geometry/grid';
import { sightLine } from '@/core/propagation/ray';
import { pathMhz } from '@/core/radio/channel';
import { packHeard } from '@/core/survey/packed';
import { measuredNear } from '@/core/survey/measured';
import { lensCall, lensResult, sceneRadios } from './museum.testing';
import { mapsInParts } from './inParts';
import type { EnginePool } from './pool';
import type { Params, Result } from './protocol';
import { emittersOf, floorScene, sceneOf } from './scene';
import { learned, measuredMaps, surveyed } from './survey';

const building = museumBuilding();
const quay = floorsOf(building.design)[0]!;
const scene = floorScene(building.design, quay);
const emitters = emittersOf(building.design, accessPointsAround(building.design, quay.id, variantsOf(building.design)[0]!.id), ['5'], true);
const { walk, ...heard } = asFoundSurvey(building);
const counted = countedOf(walk, heard);
const { samples } = counted;
const cellPlace = ({ originXM, originYM, cellM, cols }: Grid, cell: number) => ({
  xM: originXM + (cell % cols) * cellM,
  yM: originYM + Math.floor(cell / cols) * cellM,
});

describe('the measured map of the demo’s walk', () => {
  const radios = emitters.map(({ of, ...emitter }) => ({ ...emitter, apId: of.id }));
  const { maps, summary } = surveyed({ scene: sceneOf(scene), radios, heard: counted, held: [], reachM: 4 });
  test('made in parts by several workers, each of which got what was learned as a message, they are the same, in the same order', async () => {
    const question = { scene: sceneOf(scene), radios, heard: counted, held: [] };
    const asked: number[][] = [];
    const pool = {
      size: 3,
      call: async (name: string, params: Params<'measuredMaps'>) => {
        expect(name).toBe('measuredMaps');
        asked.push([...params.which]);
        return measuredMaps(structuredClone(params));
      },
    } as unknown as EnginePool;
    const told = learned({ ...question, heard: packHeard(counted) }) as Result<'learned'>;
    expect(await mapsInParts(pool, question, told, 4)).toEqual(maps);
    expect(asked).toHaveLength(3);
    expect(asked.flat().sort((a, b) => a - b)).toEqual(told.heard);
    expect(told.summary).toEqual(summary);
    // Fewer radios than workers: as many parts as radios, and none of none.
    expect(await mapsInParts(pool, question, { ...told, heard: [told.heard[1]!] }, 4)).toEqual([maps[1]]);
    expect(await mapsInParts(pool, question, { ...told, heard: [] }, 4)).toEqual([]);
    expect(asked).toHaveLength(4);
  });
  test('beside the walk it says what was heard there, within what a spot scatters; far from it nothing', () => {
    expect(summary.crossValidatedDb).toBeLessThan(3.5);
    let [compared, squares] = [0, 0];
    for (const { apId, levelDbm } of maps)
      for (let cell = 0; cell < levelDbm.length; cell += 41) {
        const at = cellPlace(scene.grid, cell);
        const near = [
          ...measuredNear(
            samples.filter((sample) => sample.apId === apId && sample.band === '5'),
            at,
            0.8,
          ).values(),
        ];
        if (near.length === 0 || near[0]!.count < 3 || near[0]!.meanDbm < -80) continue;
        compared++;
        squares += (levelDbm[cell]! - near[0]!.meanDbm) ** 2;
      }
    expect(compared).toBeGreaterThan(20);
    expect(Math.sqrt(squares / compared)).toBeLessThan(2.2);
    const walked = samples.map(({ xM, yM }) => ({ xM, yM }));
    for (let cell = 0; cell < scene.mask.length; cell += 17) {
      const { xM, yM } = cellPlace(scene.grid, cell);
      if (walked.some((at) => Math.hypot(at.xM - xM, at.yM - yM) <= 4.1)) continue;
      for (const { levelDbm } of maps) expect(levelDbm[cell]).toBeNaN();
    }
  });
  test('off the model is the measured level less the ray of the same radio, for what receives without gain, whoever the map is for', () => {
    const call = { radios: sceneRadios(emitters, scene), measured: maps };
    const signal = lensResult({ ...call, lens: 'signal' });
    const off = lensResult({ ...call, lens: 'off-model' });
    const gained = { ...lensCall(call).scene, receiver: { ...lensCall(call).scene.receiver, gainDbi: 4 } };
    const forOther = lensResult({ radios: sceneRadios(emitters), measured: maps, lens: 'off-model', scene: { ...gained, key: 'other' } });
    let compared = 0;
    for (let cell = 0; cell < off.values.length; cell += 53) {
      const value = off.values[cell]!;
      if (Number.isNaN(value)) continue;
      const at = { ...cellPlace(scene.grid, cell), zM: scene.planeZM };
      const strongest = maps.reduce((best, map) => (map.levelDbm[cell]! > (best.levelDbm[cell]! || -999) ? map : best));
      const radio = radios.find(({ apId }) => apId === strongest.apId)!;
      const predicted = radio.txPowerDbm - sightLine(scene.medium, radio.pose, radio.antenna, '5', at, 0, pathMhz(radio.channel)).lossDb;
      expect(value).toBeCloseTo(signal.values[cell]! - predicted, 1);
      expect(forOther.values[cell]).toBeCloseTo(value, 1);
      compared++;
    }
    expect(compared).toBeGreaterThan(50);
  });
});
