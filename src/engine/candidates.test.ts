import { modelOf } from '@/core/radio/catalogue';
import { describe, expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { hangAll } from '@/core/design/commands';
import { floorsOf, onFloor, variantsOf } from '@/core/design/design';
import { applyChanges } from '@/core/design/step';
import { segmentOf } from '@/core/building/wall';
import { contains, inRegion } from '@/core/geometry/polygon';
import { distanceToM } from '@/core/geometry/segment';
import { IDLE_ROUNDS } from '@/core/planning/positions/positions';
import { candidatesOn, coarseScene, demandsOn, placedAt, standingIn, wholeFloor } from './candidates';
import { factsOf } from './facts';
import { enginePoolHere, fieldsHere } from './here';
import { floorScene } from './scene';

const design = museum();
const [quay, , upper] = floorsOf(design);
const variantId = variantsOf(design).at(-1)!.id;

describe('where access points may hang', () => {
  const spots = candidatesOn(design, quay!);
  test('within the outline, half a metre off every wall, out of keep-out zones, on a lattice', () => {
    const walls = onFloor(design, 'walls', quay!.id).map(segmentOf);
    expect(spots.length).toBeGreaterThan(300);
    for (const at of spots) {
      expect(contains(quay!.outline, at.xM, at.yM)).toBe(true);
      expect(Math.min(...walls.map((wall) => distanceToM(wall, at)))).toBeGreaterThanOrEqual(0.5);
    }
    const xs = [...new Set(spots.map(({ xM }) => xM))].sort((a, b) => a - b);
    for (const [i, x] of xs.entries()) if (i > 0) expect(Math.round(((x - xs[i - 1]!) / 2.5) * 100) % 100).toBeLessThan(5);
    const box = [
      { xM: 10, yM: 10 },
      { xM: 30, yM: 10 },
      { xM: 30, yM: 30 },
      { xM: 10, yM: 30 },
    ];
    const zone = { ...onFloor(design, 'zones', quay!.id)[0]!, id: 'out', kind: 'keep-out' as const, polygon: box, holes: [] };
    const kept = candidatesOn({ ...design, zones: { ...design.zones, out: zone } }, quay!);
    expect(kept.length).toBe(spots.filter(({ xM, yM }) => !inRegion(zone, xM, yM)).length);
    expect(kept.length).toBeLessThan(spots.length);
    const served = { ...zone, keepsOut: 'service' as const };
    expect(candidatesOn({ ...design, zones: { ...design.zones, out: served } }, quay!).length).toBe(spots.length);
  });

  test('where a keep-out zone says that none is owed, nothing is asked for, judged or counted', () => {
    const box = [
      { xM: 10, yM: 10 },
      { xM: 30, yM: 10 },
      { xM: 30, yM: 30 },
      { xM: 10, yM: 30 },
    ];
    const zone = {
      ...onFloor(design, 'zones', quay!.id)[0]!,
      id: 'out',
      kind: 'keep-out' as const,
      keepsOut: 'both' as const,
      polygon: box,
      holes: [],
    };
    const kept = { ...design, zones: { ...design.zones, out: zone } };
    const [before, after] = [floorScene(design, quay!), floorScene(kept, quay!)];
    expect(after.key).toBe(before.key);
    expect(before.serviceM2 - after.serviceM2).toBeCloseTo(400, 6);
    expect(after.zones.map(({ exemptM2 }) => exemptM2)).toEqual([400, 0]);
    expect(before.zones.map(({ exemptM2 }) => exemptM2)).toEqual([0, 0]);
    const cells = (mask: Uint8Array) => mask.reduce((sum, inside) => sum + inside, 0);
    expect((cells(before.zones[0]!.mask) - cells(after.zones[0]!.mask)) * after.grid.cellM ** 2).toBeCloseTo(400, 6);
    const coarse = coarseScene(quay!, after);
    const asked = (of: typeof design) => cells(demandsOn(of, quay!, coarse)[0]!.mask);
    expect((asked(design) - asked(kept)) * coarse.grid.cellM ** 2).toBeCloseTo(400, 6);
    const whole = (of: typeof design) => cells(wholeFloor(of, quay!, coarse, -60, 1).mask);
    expect(whole(design) - whole(kept)).toBe(asked(design) - asked(kept));
  });

  test('a level is asked for in its zone, a second signal where the level wants one', () => {
    const scene = coarseScene(quay!, floorScene(design, quay!));
    expect(demandsOn(design, quay!, scene).map(({ zone, name, need, ask, share }) => [zone, name, need, ask, share])).toEqual([
      ['Indoors', 'signal −67 dBm', 1, { what: 'level', dbm: -67 }, 0.98],
      ['Indoors', 'second −67 dBm', 2, { what: 'level', dbm: -67 }, 0.98],
      ['Indoors', 'SNR 25 dB', 1, { what: 'snr', db: 25 }, 0.98],
      ['Indoors', 'rate 24 Mb/s', 1, { what: 'rate', mbps: 24 }, 0.98],
      ['Quay terrace', 'signal −70 dBm', 1, { what: 'level', dbm: -70 }, 0.95],
      ['Quay terrace', 'SNR 20 dB', 1, { what: 'snr', db: 20 }, 0.95],
      ['Quay terrace', 'rate 50 Mb/s', 1, { what: 'rate', mbps: 50 }, 0.95],
    ]);
    const [indoors, , , , terrace] = demandsOn(design, quay!, scene);
    expect(indoors!.mask.some((inside, i) => inside === 1 && terrace!.mask[i] === 1)).toBe(false);
    expect(wholeFloor(design, quay!, scene, -60, 0.95).mask.reduce((sum, inside) => sum + inside, 0)).toBeGreaterThan(600);
  });

  test('what hangs is counted by its radios of the band that are on', () => {
    const aps = Object.values(design.accessPoints).filter((ap) => ap.variantId === variantId && ap.floorId === quay!.id);
    expect(standingIn(design, aps, '6', [quay!])).toHaveLength(3);
    expect(standingIn(design, aps, '5', [quay!])).toHaveLength(10);
  });
});

test('what is proposed and hung is what the map then shows: the promised signal in the promised share, each by its own name', async () => {
  const scene = coarseScene(upper!, floorScene(design, upper!));
  const spots = candidatesOn(design, upper!);
  const found = await enginePoolHere.call('positions', {
    scenes: [scene],
    band: '5',
    candidates: placedAt(upper!, spots, [{ model: modelOf('heron-c4'), txPowerDbm: 15, widthMhz: 20 }], '5'),
    standing: [],
    demands: demandsOn(design, upper!, scene).filter(({ need }) => need === 1),
    crowd: null,
    seed: 1,
    idleRounds: IDLE_ROUNDS.quick,
  });
  expect(found.bound).toBeGreaterThan(1);
  expect(found.count!).toBeGreaterThanOrEqual(found.bound);
  // Alone in a variant of its own.
  const bare = { ...design, accessPoints: {} };
  let n = 0;
  const changes = hangAll(
    bare,
    { variantId, band: '5', widthMhz: 20, txPowerDbm: 15 },
    found.chosen!.map((j) => ({ xM: spots[j]!.xM, yM: spots[j]!.yM, floorId: upper!.id, modelId: 'heron-c4', azimuthDeg: 0 })),
    () => `new-${n++}`,
  );
  const hung = applyChanges(bare, changes);
  const aps = Object.values(hung.accessPoints);
  expect(aps).toHaveLength(found.count!);
  expect(new Set(aps.map(({ name }) => name)).size).toBe(aps.length);
  expect(aps.every(({ radios }) => radios.find(({ band }) => band === '5')!.txPowerDbm === 15)).toBe(true);
  const facts = await factsOf(hung, variantId, enginePoolHere, fieldsHere());
  const shares = facts.zones.find(({ name }) => name === 'Upper room')!.bands.find(({ band }) => band === '5')!.shares;
  // The lattice of points is coarser than the map: a point of a hundred more or less.
  expect(Math.abs(shares.each[0]! - found.groups[0]!.share)).toBeLessThan(0.015);
}, 120_000);
