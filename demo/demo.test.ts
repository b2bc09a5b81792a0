import { isDeepStrictEqual } from 'node:util';
import { describe, expect, test } from '@jest/globals';
import { wallLengthM } from '@/core/building/wall';
import { domainOf, floorsOf, isToScale, projectOf, referencesOf, type Design } from '@/core/design/design';
import { boundsOf, contains } from '@/core/geometry/polygon';
import { modelOf, radioModelOf } from '@/core/radio/catalogue';
import { ruleFor } from '@/core/radio/regulation';
import { cottage } from './cottage';
import { museum, museumBuilding } from './museum';
import { designSchema } from '@/contract/steps';
import { edgeOf, worstError } from '@/core/design/drawingCommands';
import { pictureFacts } from '@/core/formats/picture';
import { withPlans } from './plans';
import { asFoundSurvey, asFoundSurveys, withTransferTests } from './survey';

const demos: ReadonlyArray<readonly [string, Design]> = [
  ['museum', museum()],
  ['cottage', cottage()],
];

describe.each(demos)('the %s', (_name, design) => {
  const domain = domainOf(projectOf(design)!);
  test('is drawn inside its floors', () => {
    for (const wall of Object.values(design.walls)) {
      const box = boundsOf(design.floors[wall.floorId]!.outline)!;
      for (const [x, y] of [
        [wall.axM, wall.ayM],
        [wall.bxM, wall.byM],
      ] as const)
        expect(x >= box.westM && x <= box.eastM && y >= box.northM && y <= box.southM).toBe(true);
      expect(wall.topM).toBeLessThanOrEqual(design.floors[wall.floorId]!.ceilingM);
    }
  });
  test('has its openings within their walls, none over another', () => {
    const byWall = new Map<string, Array<{ from: number; to: number }>>();
    for (const opening of Object.values(design.openings)) {
      const wall = design.walls[opening.wallId]!;
      expect(opening.atM + opening.widthM).toBeLessThanOrEqual(wallLengthM(wall) + 1e-9);
      const others = byWall.get(wall.id) ?? [];
      expect(others.filter((other) => opening.atM < other.to && opening.atM + opening.widthM > other.from)).toEqual([]);
      byWall.set(wall.id, [...others, { from: opening.atM, to: opening.atM + opening.widthM }]);
    }
  });
  test('has access points inside, on models that exist, with powers the models have', () => {
    for (const ap of Object.values(design.accessPoints)) {
      expect(contains(design.floors[ap.floorId]!.outline, ap.xM, ap.yM)).toBe(true);
      for (const radio of ap.radios) {
        const model = radioModelOf(modelOf(ap.modelId), radio.band)!;
        expect(radio.txPowerDbm).toBeLessThanOrEqual(model.maxPowerDbm);
        expect(radio.widthMhz).toBeLessThanOrEqual(model.maxWidthMhz);
      }
    }
  });
  test('stays within its regulatory domain, except where the old installation does not', () => {
    for (const ap of Object.values(design.accessPoints)) {
      if (ap.name.startsWith('Old')) continue;
      for (const radio of ap.radios.filter((candidate) => candidate.on)) {
        const rule = ruleFor(domain, { band: radio.band, primary: radio.channel, widthMhz: radio.widthMhz });
        expect({ ap: ap.name, band: radio.band, allowed: rule !== null }).toEqual({ ap: ap.name, band: radio.band, allowed: true });
      }
    }
  });
});

test('the museum is 72 m by 46 m, has two variants, walls of many materials, and neighbours', () => {
  const design = museum();
  const box = boundsOf(Object.values(design.floors)[0]!.outline)!;
  expect([box.eastM - box.westM, box.southM - box.northM]).toEqual([72, 46]);
  expect(Object.values(design.variants).map((variant) => variant.name)).toEqual(['As found', 'Proposed']);
  expect(new Set(Object.values(design.walls).map((wall) => wall.materialId)).size).toBeGreaterThanOrEqual(7);
  expect(Object.values(museumBuilding().sites)[0]!.neighbours.length).toBeGreaterThanOrEqual(5);
  // Nothing of the hidden truth is in what the page gets.
  expect(JSON.stringify(design)).not.toMatch(/seed|shadowSigma|boatyard/);
});

test('the demo is the same each time it is built', () => {
  // Thousands of samples: what tells where two of them differ takes many times as long as what tells whether.
  expect(isDeepStrictEqual(museum(), museum())).toBe(true);
  const surveys = asFoundSurveys(museumBuilding());
  expect(isDeepStrictEqual(surveys[0], asFoundSurvey(museumBuilding()))).toBe(true);
  const floors = floorsOf(museumBuilding().design).map(({ id }) => id);
  expect(surveys.map(({ walk }) => walk.floorId)).toEqual([...floors, floors[0]]);
  // The last one was swept at lunch, when the kitchen's oven is on.
  const { swept } = surveys.at(-1)!;
  expect(swept.length).toBeGreaterThan(30);
  expect(swept.filter(({ signals }) => signals.some(({ kind }) => kind === 'oven')).length).toBeGreaterThan(swept.length / 2);
  expect(surveys.slice(0, -1).every((survey) => survey.swept.length === 0)).toBe(true);
  // The access points of the Quay level are heard through the slab, fewer the higher.
  const heard = surveys.map(({ samples }) => new Set(samples.flatMap(({ apId }) => apId ?? [])).size);
  expect(heard[0]).toBe(6);
  expect(heard[1]).toBeGreaterThan(2);
});

test('each floor of the museum has a drawing, as large as it says, measured by two walls, and a scan of which nothing is known', () => {
  const { design, assets } = withPlans(museumBuilding());
  expect(designSchema.parse(design)).toEqual(design);
  const drawings = Object.values(design.drawings);
  expect(drawings.map(({ floorId }) => floorId)).toEqual(Object.keys(design.floors).flatMap((id) => [id, id]));
  drawings.forEach((drawing, i) => {
    expect(pictureFacts(assets[i]!)).toEqual({ type: 'image/png', widthPx: drawing.widthPx, heightPx: drawing.heightPx });
    const references = referencesOf(design, drawing.id);
    if (i % 2 === 1) return expect([references, drawing.widthPx * drawing.mPerPxX]).toEqual([[], expect.closeTo(50, 6)]);
    expect(worstError(drawing, references)).toBeLessThan(1e-9);
    expect(edgeOf(drawing)[0]).toEqual({ xM: -2, yM: -2 });
  });
  expect(Object.keys(design.floors).every((id) => isToScale(design, id))).toBe(true);
});

test('throughput was tested at four spots as found, each with an access point of that variant', () => {
  const { design } = withTransferTests(museumBuilding());
  expect(designSchema.parse(design)).toEqual(design);
  const tests = Object.values(design.transferTests);
  expect(tests).toHaveLength(4);
  for (const { apName, variantId, runs } of tests) {
    expect(Object.values(design.accessPoints).find(({ name }) => name === apName)!.variantId).toBe(variantId);
    expect(runs).toHaveLength(5);
    for (const { downMbps, upMbps } of runs) expect(Math.min(downMbps, upMbps)).toBeGreaterThan(1);
  }
});
