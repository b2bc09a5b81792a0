import { describe, expect, test } from '@jest/globals';
import { SITE_KINDS, fitOfSite, surveyedSite } from '../../../../bench/sites';
import { screensIn } from '../measured';
import { fitReadings } from './fit';
import { readingsOf } from './readings';
import type { Measured } from '../../fields/lens';
import { measuredInto, type SurveyedRadio } from './shown';
import { summaryOf } from './summary';
import { predictorOf } from './trend';

describe('what is shown of measured maps', () => {
  const of = (apId: string, levels: number[], sds: number[], predicted: number[] | null): SurveyedRadio => ({
    apId,
    levelDbm: Float32Array.from(levels),
    sdDb: Float32Array.from(sds),
    predictedDbm: predicted === null ? null : (cell) => predicted[cell]!,
  });
  const radios = [
    of('a', [-50, -70, NaN, -95], [1, 2, 3, 4], [-55, -60, -50, -90]),
    of('b', [-60, -65, NaN, NaN], [5, 6, 7, 8], null),
    of('c', [-40, -80, -85, NaN], [9, 10, 11, 12], [-40, -81, -80, -90]),
  ];
  const shown = (what: Measured, rank: 0 | 1 | 2) => {
    const out = new Float32Array(4);
    measuredInto(what, radios, rank, -90, out);
    return Array.from(out);
  };
  test('the strongest, second and third of those that were measured at all, not below what is ignored', () => {
    expect(shown('level', 0)).toEqual([-40, -65, -85, NaN]);
    expect(shown('level', 1)).toEqual([-50, -70, NaN, NaN]);
    expect(shown('level', 2)).toEqual([-60, -80, NaN, NaN]);
  });
  test('how sure, and how far off, are of the same radio; of one that is off in the design nothing is compared', () => {
    expect(shown('sure', 0)).toEqual([9, 6, 11, NaN]);
    expect(shown('off', 0)).toEqual([0, NaN, -5, NaN]);
    expect(shown('off', 1)).toEqual([5, -10, NaN, NaN]);
  });
  test('how many are heard: none where all that is claimed is too weak, nothing where nothing is claimed', () => {
    expect(shown('count', 0)).toEqual([3, 3, 1, 0]);
    const nobody = new Float32Array(1);
    measuredInto('count', [of('a', [NaN], [1], null)], 0, -90, nobody);
    expect(nobody[0]).toBeNaN();
  });
  test('a verdict is sure where the level lies 1.28 deviations from what passes, nine times in ten', () => {
    const of1 = (level: number, sd: number): number => {
      const out = new Float32Array(1);
      measuredInto('verdict', [of('a', [level], [sd], null)], 0, -90, out, [], -67);
      return out[0]!;
    };
    expect([of1(-64.4, 2), of1(-64.5, 2), of1(-67, 0), of1(-69.5, 2), of1(-69.6, 2), of1(-95, 1)]).toEqual([0, 2, 0, 2, 1, NaN]);
  });
  test('since an earlier walk: the n-th strongest now less the n-th strongest then', () => {
    const then = [of('x', [-60, -60, NaN, -60], [1, 1, 1, 1], null), of('y', [-52, NaN, NaN, -61], [1, 1, 1, 1], null)];
    const since = (rank: 0 | 1 | 2) => {
      const out = new Float32Array(4);
      measuredInto('since', radios, rank, -90, out, then);
      return Array.from(out);
    };
    expect(since(0)).toEqual([12, -5, NaN, NaN]);
    expect(since(1)).toEqual([10, NaN, NaN, NaN]);
  });
});

describe('what a fit says', () => {
  const site = surveyedSite(SITE_KINDS[0]!, 2);
  const apIds = site.radios.map(({ apId }) => apId);
  const fit = fitReadings(
    site.medium,
    [...site.radios, { ...site.radios[0]!, apId: 'silent' }],
    readingsOf(
      site.samples,
      apIds.map((apId) => ({ apId, band: '5' as const })),
      screensIn(site.medium.panes, '5', site.zM),
    ),
    site.zM,
  );
  const summary = summaryOf(fit, [...apIds, 'silent']);
  test('foretelling by what was learned beats the drawing; who was never heard is named', () => {
    expect(summary.crossValidatedDb).toBeLessThan(summary.drawnDb);
    const off = fit.readings.map(({ radio, spots, dbm }) => {
      const at = spots.map((spot) => predictorOf(site.medium, fit.radios[radio]!)({ ...spot, zM: site.zM }));
      return dbm - at.reduce((sum, one) => sum + one, 0) / at.length;
    });
    expect(summary.drawnDb).toBeCloseTo(Math.sqrt(off.reduce((sum, one) => sum + one * one, 0) / off.length), 6);
    expect(summary.unheard).toEqual(['silent']);
    // A bar is the mean of what is left in its square.
    expect(summary.residuals.length).toBeGreaterThan(30);
    const [bar] = summary.residuals;
    const own = fit.readings.flatMap(({ xM, yM }, i) =>
      Math.floor(xM / 2.5) === Math.floor(bar!.xM / 2.5) && Math.floor(yM / 2.5) === Math.floor(bar!.yM / 2.5) ? [fit.left[i]!] : [],
    );
    expect(bar!.offDb).toBeCloseTo(own.reduce((sum, one) => sum + one, 0) / own.length, 9);
    expect(summary.learned.filter(({ kind }) => kind === 'radio')).toHaveLength(apIds.length + 1);
    // Of the one that was not heard nothing is learned: as sure as before.
    const silent = summary.learned.find((row) => row.kind === 'radio' && row.apId === 'silent')!;
    expect(silent.estimate).toBeCloseTo(0, 9);
    expect(silent.sd).toBeCloseTo(silent.priorSd, 9);
    for (const row of summary.learned) expect(row.sd).toBeLessThanOrEqual(row.priorSd + 1e-9);
  });
  test('what hardly can be told apart is named: on a floor with one access point, the receiver and it, and the exponent', () => {
    const alone = surveyedSite(SITE_KINDS[3]!, 1);
    const { learned, confused } = summaryOf(fitOfSite(alone), ['ap0']);
    const kinds = confused.map((pair) => pair.map((i) => learned[i]!.kind).join(' ~ '));
    expect(kinds).toContain('offset ~ exponent');
    for (const pair of confused) for (const i of pair) expect(learned[i]!.kind).not.toBe('wall');
    // Estimates that go against each other are hardly told apart as well.
    const p = fit.sd.length;
    const against = (share: number) => {
      const covariance = fit.covariance.slice();
      covariance[p + 0] = covariance[1] = share * fit.sd[0]! * fit.sd[1]!;
      return summaryOf({ ...fit, covariance }, [...apIds, 'silent']).confused.some(([a, b]) => a === 0 && b === 1);
    };
    expect([-0.9, -0.6, 0.6, 0.9].map(against)).toEqual([true, false, false, true]);
  });
});
