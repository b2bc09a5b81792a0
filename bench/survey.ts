import { joinPanes, panesOf } from '@/core/building/panes';
import { lossFields } from '@/core/fields/lossField';
import { outlinesOf } from '@/core/fields/outlines';
import { centresOf, middlePowerDbm } from '@/core/radio/channel';
import { halfLostDbm } from '@/core/survey/receiver';
import { withUnheard } from '@/core/survey/fit/unheard';
import { seeded } from '@/core/random';
import { faultsOf, type Fault } from '@/core/survey/fit/faults';
import { MAP_NEAR, type Fit } from '@/core/survey/fit/fit';
import { noiseOf } from '@/core/survey/fit/scatter';
import { estimatesAt } from '@/core/survey/fit/estimates';
import { learnedMedium, ownGainDb, surveyedOf } from '@/core/survey/fit/surveyed';
import { predictorOf } from '@/core/survey/fit/trend';
import { nearestOf } from '@/core/survey/fit/nearby';
import { krigeAt, newKriging } from '@/core/survey/fit/whiten';
import type { Transmitter } from '@/core/survey/site';
import { SITE_KINDS, cellsOf, fitOfSite, largeSite, locatedOn, surveyedSite, unheardOn, type SiteChange, type SurveyedSite } from './sites';
import { benchInWorkers } from './inWorkers';
import { millionExponentialsMs, time } from './timing';

/** Held-out spots further from every reading of a radio, or weaker, are left to nobody. */
const REACH_M = 5;
const WEAKEST_DBM = -88;

/** Root mean square errors on held-out spots of each way, in dB, and the share of them within the interval that should hold 90 %. */
function accuracyOf(site: SurveyedSite): { errors: Record<(typeof WAYS)[number], number>; held: number } {
  const fit = fitOfSite(site);
  const { places, readings, zM } = fit;
  const learned = learnedMedium(fit);
  const squares = { model: 0, samples: 0, kriging: 0, fitted: 0, both: 0, oracle: 0 };
  let [count, inside] = [0, 0];
  const near = new Int32Array(MAP_NEAR);
  const room = newKriging(MAP_NEAR);
  const truth = { shadowVar: site.truth.shadowSigmaDb ** 2, correlationM: site.truth.correlationM, beaconVar: 4 + 1 / 12, wallVar: 0 };
  const noise = noiseOf(readings, truth);
  site.radios.forEach((radio, r) => {
    const own = Int32Array.from(readings.flatMap((reading, i) => (reading.radio === r ? [i] : [])));
    const mean = own.reduce((sum, i) => sum + readings[i]!.dbm, 0) / own.length;
    const estimates = estimatesAt(fit, r, site.heldOut);
    const gainDb = ownGainDb(fit, r);
    // What is left of each reading by what the oracle knows, and by their mean alone.
    const leftOf = (baseDbm: (i: number) => number) => Float64Array.from(readings, ({ radio: of, dbm }, i) => (of === r ? dbm - baseDbm(i) : 0));
    const leftTrue = leftOf((i) => {
      const { spots } = readings[i]!;
      return spots.reduce((sum, spot) => sum + site.meanDbm(r, { ...spot, zM }), 0) / spots.length;
    });
    const leftMean = leftOf(() => mean);
    for (const [i, at] of site.heldOut.entries()) {
      const level = at.levelsDbm[r]!;
      if (level < WEAKEST_DBM || !(estimates.nearestM[i]! < REACH_M)) continue;
      nearestOf(places, own, own.length, at.xM, at.yM, MAP_NEAR, near, 0);
      const krige = (left: Float64Array) => {
        const { count: n } = krigeAt(places, noise, truth, near, 0, MAP_NEAR, at.xM, at.yM, room);
        let sum = 0;
        for (let a = 0; a < n; a++) sum += room.weights[a]! * left[near[a]!]!;
        return sum;
      };
      let [weights, weighed] = [0, 0];
      for (let a = 0; a < 8 && near[a]! >= 0; a++) {
        const weight = 1 / ((places.xM[near[a]!]! - at.xM) ** 2 + (places.yM[near[a]!]! - at.yM) ** 2 + 0.01);
        weights += weight;
        weighed += weight * readings[near[a]!]!.dbm;
      }
      const fitted = predictorOf(learned, radio)(at) + gainDb;
      const off = {
        model: predictorOf(site.medium, radio)(at) - level,
        samples: weighed / weights - level,
        kriging: mean + krige(leftMean) - level,
        fitted: fitted - level,
        both: fitted + estimates.leftDb[i]! - level,
        oracle: site.meanDbm(r, at) + krige(leftTrue) - level,
      };
      for (const way of WAYS) squares[way] += off[way] ** 2;
      if (Math.abs(off.both) < 1.645 * Math.sqrt(estimates.varianceDb2[i]!)) inside++;
      count++;
    }
  });
  const errors = Object.fromEntries(WAYS.map((way) => [way, Math.sqrt(squares[way] / count)])) as Record<(typeof WAYS)[number], number>;
  return { errors, held: inside / count };
}
const WAYS = ['model', 'samples', 'kriging', 'fitted', 'both', 'oracle'] as const;

const at = (t: Transmitter, xM: number, yM: number): Transmitter => ({ ...t, pose: { ...t.pose, xM, yM } });

/** Faults of known kinds, hidden one at a time; `right` says whether the first thing told is it. */
const FAULTS: ReadonlyArray<{ name: string; hide: (seed: number) => { change: SiteChange; right: (fault: Fault) => boolean } }> = [
  {
    name: 'weak by 10 dB',
    hide: (seed) => {
      const r = seed % 5;
      return {
        change: (transmitters, medium) => ({
          medium,
          transmitters: transmitters.map((t, i) => (i === r ? { ...t, txPowerDbm: t.txPowerDbm - 10 } : t)),
        }),
        right: (fault) => fault.kind === 'level' && fault.radio === r && fault.offDb < 0,
      };
    },
  },
  {
    name: 'displaced by 6 m',
    hide: (seed) => {
      const r = (seed * 3) % 5;
      const angle = seeded(seed)() * 2 * Math.PI;
      return {
        change: (transmitters, medium) => ({
          medium,
          transmitters: transmitters.map((t, i) => (i === r ? at(t, t.pose.xM + 6 * Math.cos(angle), t.pose.yM + 6 * Math.sin(angle)) : t)),
        }),
        right: (fault) => fault.kind === 'elsewhere' && fault.radio === r,
      };
    },
  },
  {
    name: 'two swapped',
    hide: (seed) => {
      const [r, s] = [seed % 5, (seed + 1) % 5];
      return {
        change: (transmitters, medium) => ({
          medium,
          transmitters: transmitters.map((t, i) => (i === r || i === s ? { ...t, pose: transmitters[i === r ? s : r]!.pose } : t)),
        }),
        right: (fault) => fault.kind === 'swapped' && [r, s].includes(fault.radio) && [r, s].includes(fault.other),
      };
    },
  },
  {
    name: 'a wall of 10 dB that nobody drew',
    hide: (seed) => {
      const uniform = seeded(seed + 50);
      const [x, y] = [8 + Math.floor(uniform() * 20), 5 + Math.floor(uniform() * 12) + 0.3];
      return {
        change: (transmitters, medium) => {
          const extra = panesOf(
            [{ id: 'hidden', floorId: 'f', axM: x, ayM: y, bxM: x + 6, byM: y, baseM: 0, topM: 3, materialId: 'plasterboard' }],
            [],
          );
          return { transmitters, medium: { ...medium, panes: joinPanes([medium.panes, { ...extra, lossUnits: extra.lossUnits.map(() => 200) }]) } };
        },
        right: (fault) =>
          fault.kind === 'obstacle' && Math.hypot((fault.fromM[0] + fault.toM[0]) / 2 - x - 3, (fault.fromM[1] + fault.toM[1]) / 2 - y) < 4,
      };
    },
  },
];

function told(site: SurveyedSite): Fault[] {
  const steps = faultsOf(fitOfSite(site), unheardOn(site));
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

/** Errors below what the receiver hears, in dB: by what was heard alone, and with where nothing was heard; and the share of spots that are wrongly called heard. */
function belowHearing(site: SurveyedSite): { without: number; withIt: number; count: number; falselyWithout: number; falselyWith: number } {
  const heardOnly = fitOfSite(site);
  const fits = [heardOnly, withUnheard(heardOnly, unheardOn(site))];
  const from = halfLostDbm('5');
  const squares = [0, 0];
  const falsely = [0, 0];
  let count = 0;
  site.radios.forEach((radio, r) => {
    const estimates = fits.map((fit) => ({
      medium: learnedMedium(fit),
      gainDb: ownGainDb(fit, r),
      leftDb: estimatesAt(fit, r, site.heldOut).leftDb,
    }));
    for (const [i, at] of site.heldOut.entries()) {
      const below = from - at.levelsDbm[r]!;
      if (below < 0 || below > 12) continue;
      count++;
      estimates.forEach(({ medium, gainDb, leftDb }, k) => {
        const said = predictorOf(medium, radio)(at) + gainDb + leftDb[i]!;
        squares[k]! += (said - at.levelsDbm[r]!) ** 2;
        if (said > from) falsely[k]!++;
      });
    }
  });
  const [without, withIt] = squares.map((sum) => Math.sqrt(sum / count)) as [number, number];
  return { without, withIt, count, falselyWithout: falsely[0]! / count, falselyWith: falsely[1]! / count };
}

/** Floor maps of many radios from many samples: the fit, where they were not heard, then every radio's map, as the measured Signal is made. */
function benchLargeMap(row: (what: string, ms: number, note?: string) => void): void {
  const site = largeSite();
  const grid = cellsOf(site);
  const mapsOf = (fit: Fit) => {
    const outlines = outlinesOf(learnedMedium(fit));
    return site.radios.map((radio, r) => {
      const station = { pose: radio.pose, antennas: [null, radio.antenna, null], centresMhz: centresOf([radio.channel]) };
      const lossDb = lossFields(outlines, station, { grid, zM: site.zM, gainDbi: 0 })[1]!;
      return surveyedOf(fit, r, grid, lossDb, middlePowerDbm(radio), 5);
    });
  };
  const heard = fitOfSite(site);
  const unheard = unheardOn(site);
  const whole = withUnheard(heard, unheard);
  const fitMs = time(5, () => fitOfSite(site));
  const unheardMs = time(5, () => withUnheard(heard, unheardOn(site)));
  const mapsMs = time(5, () => mapsOf(whole));
  const millionMs = millionExponentialsMs();
  const bytes = mapsOf(whole).reduce((sum, { levelDbm, sdDb }) => sum + levelDbm.byteLength + sdDb.byteLength, 0);
  row(
    '60 BSSIDs, fit',
    fitMs,
    `${site.samples.length} samples, ${heard.readings.length} readings taken, ${heard.trend.parameters.length} parameters`,
  );
  row(
    '60 BSSIDs, where they were not heard',
    unheardMs,
    `${unheard.length} spots, ${whole.readings.length - whole.heard} of those looked at say something`,
  );
  row('60 BSSIDs, maps of a fit', mapsMs, `${grid.cols * grid.rows} cells each; level and deviation of all ${(bytes / 1e6).toFixed(0)} MB`);
  row('a million exponentials, to tell machines and hours apart', millionMs, 'ratios below are to this');
  row(
    '60 BSSIDs, from samples to maps, one thread',
    fitMs + mapsMs,
    `${((fitMs + mapsMs) / millionMs).toFixed(0)} times as long; all three ${(fitMs + unheardMs + mapsMs).toFixed(0)}`,
  );
}

/** One access point's floor of 300 spots is one draw of shadows: few seeds would say more of chance than of the method. */
const ACCURACY_SEEDS = [1, 2, 3, 4, 5, 6];

/** What a walk teaches, held against hidden truths: errors where nobody walked, and hidden faults found. */
export async function benchSurvey(row: (what: string, ms: number, note?: string) => void, seeds = 10): Promise<void> {
  for (const kind of SITE_KINDS) {
    const started = performance.now();
    const all = ACCURACY_SEEDS.map((seed) => accuracyOf(surveyedSite(kind, seed)));
    const mean = (way: (typeof WAYS)[number]) => Math.sqrt(all.reduce((sum, { errors }) => sum + errors[way] ** 2, 0) / all.length);
    const held = all.reduce((sum, one) => sum + one.held, 0) / all.length;
    row(
      kind.name,
      (performance.now() - started) / all.length,
      `RMSE dB: model ${mean('model').toFixed(1)}, samples ${mean('samples').toFixed(1)}, kriging ${mean('kriging').toFixed(1)}, fitted ${mean('fitted').toFixed(1)}, both ${mean('both').toFixed(2)}, oracle ${mean('oracle').toFixed(2)} (${(mean('both') / mean('oracle')).toFixed(2)}); 90 % holds ${(100 * held).toFixed(0)} %`,
    );
  }
  const [rooms] = SITE_KINDS;
  {
    const from = performance.now();
    const all = [1, 2, 3].map((seed) => belowHearing(surveyedSite({ ...SITE_KINDS[2]!, sendsDbm: 2 }, seed)));
    const mean = (of: (one: (typeof all)[number]) => number) => all.reduce((sum, one) => sum + of(one), 0) / all.length;
    row(
      'below what is heard',
      (performance.now() - from) / all.length,
      `RMSE dB: ${mean(({ without }) => without).toFixed(1)} by what was heard, ${mean(({ withIt }) => withIt).toFixed(1)} with where it was not; called heard ${(100 * mean(({ falselyWithout }) => falselyWithout)).toFixed(0)} % and ${(100 * mean(({ falselyWith }) => falselyWith)).toFixed(0)} %`,
    );
  }
  {
    const from = performance.now();
    const found = SITE_KINDS.flatMap((kind) => {
      const site = surveyedSite(kind, 11);
      return site.radios.slice(0, 4).flatMap((_, r) => locatedOn(site, r) ?? []);
    });
    const away = found.map(({ awayM }) => awayM).sort((a, b) => a - b);
    row(
      'unknown transmitters',
      (performance.now() - from) / found.length,
      `off by ${away[away.length >> 1]!.toFixed(1)} m (median), ${away[Math.floor(away.length * 0.9)]!.toFixed(1)} m (90 %); region of 90 % holds ${((100 * found.filter(({ holds }) => holds).length) / found.length).toFixed(0)} %`,
    );
  }
  benchLargeMap(row);
  await benchInWorkers(row);
  const range = Array.from({ length: seeds }, (_, i) => i + 1);
  for (const { name, hide } of FAULTS) {
    const started = performance.now();
    const right = range.filter((seed) => {
      const { change, right: isIt } = hide(seed);
      const [first] = told(surveyedSite(rooms!, seed, change));
      return first !== undefined && isIt(first);
    }).length;
    row(`fault: ${name}`, (performance.now() - started) / seeds, `found, and told first: ${right} of ${seeds}`);
  }
  const clean = Array.from({ length: 2 * seeds }, (_, i) => i + 101);
  const started = performance.now();
  const alarms = clean.filter((seed) => told(surveyedSite(rooms!, seed)).length > 0).length;
  row('no fault', (performance.now() - started) / clean.length, `false alarms: ${alarms} of ${clean.length}`);
}
