import { describe, expect, test } from '@jest/globals';
import { SITE_KINDS, fitOfSite, surveyedSite } from '../../../../bench/sites';
import { type PointM } from '../../geometry/point';
import { screensIn } from '../measured';
import { crossValidatedDb, mapBasisOf, type Fit } from './fit';
import { HISTOGRAM, countsOf, spreadDb, summaryOf } from './summary';
import { type Reading } from './readings';
import { estimatesAt, slopesOver } from './estimates';
import { learnedMedium, nodeCells, ownGainDb, surveyedOf } from './surveyed';
import { correctedMedium, predictorOf } from './trend';
import { type Medium } from '../../propagation/medium';
import { sightLine } from '../../propagation/ray';
import { lossFields } from '../../fields/lossField';
import { outlinesOf } from '../../fields/outlines';
import { middlePowerDbm } from '../../radio/channel';

const rooms = SITE_KINDS[0]!;

/** What a medium says of a reading, at the places of its beacons. */
const predictedOver = (medium: Medium, { radios, zM }: Fit, { radio, spots }: Reading): number =>
  spots.reduce((sum, spot) => sum + predictorOf(medium, radios[radio]!)({ ...spot, zM }), 0) / spots.length;

describe('learning from a walk', () => {
  const fits = [1, 2, 3].map((seed) => ({ site: surveyedSite(rooms, seed), fit: fitOfSite(surveyedSite(rooms, seed)) }));
  test('a row says what the corrected medium says: what is learned is what is mapped', () => {
    const { fit } = fits[0]!;
    for (let i = 0; i < fit.readings.length; i += 97) {
      const { radio, xM, yM } = fit.readings[i]!;
      const at = { xM, yM, zM: fit.zM };
      const row = fit.trend.rowAt(radio, at);
      const linear = row.baseDbm + row.columns.reduce((sum, c, k) => sum + fit.estimates[c]! * row.slopes[k]!, 0);
      const [medium, gainDb] = [learnedMedium(fit), ownGainDb(fit, radio)];
      // Whole units of loss, and no wall below nothing.
      expect(Math.abs(predictorOf(medium, fit.radios[radio]!)(at) + gainDb - linear)).toBeLessThan(1.5);
      const walls = sightLine(fit.medium, fit.radios[radio]!.pose, fit.radios[radio]!.antenna, '5', at).walls.length;
      expect(row.slopes.slice(3).reduce((sum, slope) => sum - slope, 0) + row.free).toBe(2 * walls);
    }
  });
  test('spots that nobody walked: nearer to the truth than the plan, and 90 % intervals that hold 85 to 95 %', () => {
    let [plain, learned, inside, count] = [0, 0, 0, 0];
    for (const { site, fit } of fits)
      site.radios.forEach((radio, r) => {
        const { leftDb, varianceDb2, nearestM } = estimatesAt(fit, r, site.heldOut);
        const [medium, gainDb] = [learnedMedium(fit), ownGainDb(fit, r)];
        for (const [i, at] of site.heldOut.entries()) {
          const truth = at.levelsDbm[r]!;
          if (truth < -85 || nearestM[i]! > 4) continue;
          const off = predictorOf(medium, radio)(at) + gainDb + leftDb[i]! - truth;
          plain += (predictorOf(site.medium, radio)(at) - truth) ** 2;
          learned += off * off;
          if (Math.abs(off) < 1.645 * Math.sqrt(varianceDb2[i]!)) inside++;
          count++;
        }
      });
    expect(count).toBeGreaterThan(2000);
    expect(Math.sqrt(learned / count)).toBeLessThan(2.6);
    expect(Math.sqrt(plain / count)).toBeGreaterThan(4);
    expect(inside / count).toBeGreaterThan(0.85);
    expect(inside / count).toBeLessThan(0.95);
  });
  test('what was told of the exponent and of scatter holds the truth within three of its deviations', () => {
    for (const { site, fit } of fits) {
      expect(Math.abs(fit.estimates[1]! - site.exponentOffset)).toBeLessThan(3 * fit.sd[1]!);
      expect(fit.sd[1]).toBeLessThan(fit.priorSd[1]! / 2);
      expect(fit.scatter.shadowVar).toBeGreaterThan(16 / 2);
      expect(fit.scatter.shadowVar).toBeLessThan(16 * 2);
      expect(crossValidatedDb(fit)).toBeGreaterThan(2);
      expect(crossValidatedDb(fit)).toBeLessThan(4);
    }
  });
  test('what is held to the drawing does not move, and is not told of', () => {
    const held = fitOfSite(fits[0]!.site, ['exponent', 'wall']);
    const still = held.trend.parameters.flatMap(({ kind }, i) => (kind === 'exponent' || kind === 'wall' ? [i] : []));
    expect(still.length).toBeGreaterThan(3);
    for (const i of still) expect(Math.abs(held.estimates[i]!)).toBeLessThan(1e-3);
    // The rest takes over what it can.
    expect(Math.abs(held.estimates[0]! - fits[0]!.fit.estimates[0]!)).toBeGreaterThan(0.1);
    const summary = summaryOf(held, [], ['exponent', 'wall']);
    expect(summary.held).toEqual(['exponent', 'wall']);
  });
  test('what taking would bring is what the readings scatter by around the drawing so changed, each radio’s own mean apart', () => {
    const { fit } = fits[1]!;
    const apIds = fits[1]!.site.radios.map(({ apId }) => apId);
    const summary = summaryOf(fit, apIds);
    const spreadAround = (taken: readonly number[]): number => {
      const only = fit.estimates.map((estimate, i) => (taken.includes(i) ? estimate : 0));
      const medium = correctedMedium(fit.medium, '5', fit.trend.parameters, only);
      const off = fit.readings.map((reading) => reading.dbm - predictedOver(medium, fit, reading));
      const means = apIds.map((_, r) => {
        const own = off.filter((_, i) => fit.readings[i]!.radio === r);
        return own.reduce((sum, db) => sum + db, 0) / own.length;
      });
      return Math.sqrt(off.reduce((sum, db, i) => sum + (db - means[fit.readings[i]!.radio]!) ** 2, 0) / off.length);
    };
    const kindsOf = (...kinds: string[]) => summary.learned.flatMap(({ kind }, i) => (kinds.includes(kind) ? [i] : []));
    for (const taken of [[], kindsOf('exponent'), kindsOf('material'), kindsOf('exponent', 'material', 'wall')])
      // Losses are whole units of 0.05 dB, and none below 0.
      expect(Math.abs(spreadDb(summary, taken) - spreadAround(taken))).toBeLessThan(0.05);
    expect(spreadDb(summary, kindsOf('exponent', 'material', 'wall'))).toBeLessThan(spreadDb(summary, []) - 0.3);
    // What a radio or the receiver is off by changes nothing of that.
    expect(spreadDb(summary, kindsOf('offset', 'radio'))).toBeCloseTo(spreadDb(summary, []), 6);
    expect(summary.histogram.drawn.reduce((sum, n) => sum + n, 0)).toBe(fit.readings.length);
    expect(summary.histogram.foretold[10]).toBeGreaterThan(summary.histogram.drawn[10]!);
  });
  test('a histogram has what lies within a step of each middle, and in its last all beyond', () => {
    const counts = countsOf([-100, -1.1, -0.9, 0, 0.9, 1.1, 20, 100]);
    expect(counts).toHaveLength(HISTOGRAM.steps);
    expect([counts[0], counts[9], counts[10], counts[11], counts[20]]).toEqual([1, 1, 3, 1, 2]);
  });
  test('walls that nobody looked through leave more unknown behind them', () => {
    const { site } = fits[1]!;
    const fit = fitOfSite({ ...site, samples: site.samples.filter(({ xM }) => xM < 8) });
    const [known, unknown] = [0, 100].map((wallVar) => estimatesAt({ ...fit, scatter: { ...fit.scatter, wallVar } }, 0, site.heldOut).varianceDb2);
    const free = site.heldOut.map(({ xM, yM }, i) => {
      const row = fit.trend.rowAt(0, { xM, yM, zM: fit.zM });
      expect(unknown![i]! - known![i]!).toBeCloseTo(100 * row.free, 6);
      return row.free;
    });
    expect(Math.max(...free)).toBeGreaterThan(0);
  });
  test('maps are made from plain data: how a level hangs on the parameters is the same by it', () => {
    const { fit, site } = fits[2]!;
    const basis = structuredClone(mapBasisOf(fit));
    const [xM, yM] = [new Float64Array(site.heldOut.map((at) => at.xM)), new Float64Array(site.heldOut.map((at) => at.yM))];
    const free = site.radios.flatMap((_, radio) =>
      slopesOver(basis, radio, xM, yM, 40).map((slopes, i) => {
        const { baseDbm: _base, ...expected } = fit.trend.rowAt(radio, { xM: xM[i]!, yM: yM[i]!, zM: fit.zM });
        expect(slopes).toEqual(expected);
        return slopes.free;
      }),
    );
    expect(Math.min(...free)).toBe(0);
    expect(estimatesAt(basis, 1, site.heldOut)).toEqual(estimatesAt(fit, 1, site.heldOut));
  });
  test('the map has the estimate at its nodes, and claims nothing beyond its reach', () => {
    const { fit } = fits[1]!;
    // Off the walls, which stand on whole metres.
    const grid = { originXM: 2.05, originYM: 2.05, cellM: 0.5, cols: 40, rows: 20 };
    const [medium, gainDb] = [learnedMedium(fit), ownGainDb(fit, 0)];
    const radio = fit.radios[0]!;
    const station = { pose: radio.pose, antennas: [null, radio.antenna, null], centresMhz: [null, 5180, null] };
    const lossDb = lossFields(outlinesOf(medium), station, { grid, zM: fit.zM, gainDbi: 0 })[1]!;
    const map = surveyedOf(fit, 0, grid, lossDb, middlePowerDbm(radio), 3);
    const screened = screensIn(fit.medium.panes, '5', fit.zM);
    const seen = (at: { xM: number; yM: number }) =>
      fit.readings.some(({ radio: of, xM, yM }) => of === 0 && Math.hypot(xM - at.xM, yM - at.yM) <= 3 && !screened(xM, yM, at.xM, at.yM));
    let [claimed, checked, squares] = [0, 0, 0];
    const step = nodeCells(fit, grid);
    for (let row = 0; row < 20; row += step)
      for (let col = 0; col < 40; col += step) {
        const at = { xM: 2.05 + col * 0.5, yM: 2.05 + row * 0.5, zM: fit.zM };
        const { leftDb, varianceDb2, nearestM } = estimatesAt(fit, 0, [at]);
        const value = map.levelDbm[row * 40 + col]!;
        if (nearestM[0]! > 3) expect(value).toBeNaN();
        // Behind a wall from every reading that is near enough.
        if (Number.isNaN(value)) expect(seen(at)).toBe(false);
        if (Number.isNaN(value)) continue;
        expect(seen(at)).toBe(true);
        claimed++;
        // What is unknown besides shadows is worked out every three metres or so.
        const off = map.sdDb[row * 40 + col]! - Math.sqrt(varianceDb2[0]!);
        expect(Math.abs(off)).toBeLessThan(0.3);
        squares += off * off;
        if (Math.abs(value - (predictorOf(medium, radio)(at) + gainDb + leftDb[0]!)) < 0.06) checked++;
      }
    expect(claimed).toBeGreaterThan(50);
    expect(checked).toBe(claimed);
    expect(Math.sqrt(squares / claimed)).toBeLessThan(0.1);
    // Doubt makes shadows vary more, on the map as in the estimate, and nothing else.
    const doubted = surveyedOf({ ...fit, doubt: fit.doubt + 1 }, 0, grid, lossDb, middlePowerDbm(radio), 3);
    const varianceAt = (of: Fit, at: PointM) => estimatesAt(of, 0, [at]).varianceDb2[0]!;
    for (let i = 0; i < 800; i += 40 * step) {
      if (Number.isNaN(map.levelDbm[i]!)) continue;
      const at = { xM: 2.05, yM: 2.05 + (i / 40) * 0.5 };
      const more = varianceAt({ ...fit, doubt: fit.doubt + 1 }, at) - varianceAt(fit, at);
      expect(more).toBeGreaterThan(0.3);
      expect(more).toBeLessThan(fit.scatter.shadowVar);
      expect(doubted.sdDb[i]! ** 2 - map.sdDb[i]! ** 2).toBeCloseTo(more, 1);
      expect(doubted.levelDbm[i]).toBe(map.levelDbm[i]);
    }
    // Between its nodes it lies between what they say, near the estimate.
    const cellsAt = Array.from(map.levelDbm.keys(), (i) => ({ xM: 2.05 + (i % 40) * 0.5, yM: 2.05 + Math.floor(i / 40) * 0.5, zM: fit.zM }));
    const { leftDb } = estimatesAt(fit, 0, cellsAt);
    [squares, claimed] = [0, 0];
    map.levelDbm.forEach((value, i) => {
      if (Number.isNaN(value)) return;
      squares += (value - (predictorOf(medium, radio)(cellsAt[i]!) + gainDb + leftDb[i]!)) ** 2;
      claimed++;
    });
    expect(Math.sqrt(squares / claimed)).toBeLessThan(0.35);
    // Far below what is ever heard nothing is claimed.
    expect(surveyedOf(fit, 0, grid, lossDb, middlePowerDbm(radio) - 100, 3).levelDbm.every(Number.isNaN)).toBe(true);
    // A third of how far shadows reach, in whole cells, within bounds.
    const cells = [0.3, 3, 4.5, 30].map((correlationM) => nodeCells({ scatter: { ...fit.scatter, correlationM } }, grid));
    expect(cells).toEqual([1, 2, 3, 4]);
    expect(nodeCells({ scatter: { ...fit.scatter, correlationM: 3 } }, { ...grid, cellM: 3 })).toBe(1);
  });
  test('one beacon that lies wildly off is believed less', () => {
    const site = surveyedSite(rooms, 1);
    const at = site.samples.findIndex(({ rssiDbm }) => rssiDbm < -60 && rssiDbm > -70);
    const fit = fitOfSite({ ...site, samples: site.samples.map((sample, i) => (i === at ? { ...sample, rssiDbm: -20 } : sample)) });
    const { xM, yM, apId } = site.samples[at]!;
    const radio = site.radios.findIndex((one) => one.apId === apId);
    const i = fit.readings.findIndex((r) => r.radio === radio && Math.hypot(r.xM - xM, r.yM - yM) < 0.8 && r.dbm > -62);
    expect(fit.noise[i]).toBeGreaterThan(15 * (fit.scatter.beaconVar / fit.readings[i]!.count));
  });
  test('too few readings: a reason, no map', () => {
    const site = surveyedSite(rooms, 1);
    expect(() => fitOfSite({ ...site, samples: site.samples.slice(0, 5) })).toThrow('too few spots');
  });
});
