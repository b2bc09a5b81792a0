import { assign, costOf } from '@/core/planning/assignment';
import { airtimeBound } from '@/core/planning/bound';
import { assignmentOf, priceTable, withoutAlikes } from '@/core/planning/choices';
import { reachOf } from '@/core/planning/exposure';
import { DEFAULT_RULES, optionsOf, type Option, type PlanRadio, type PlanRules } from '@/core/planning/problem';
import { BOUND_WORK, leastTaken } from '@/core/planning/retuneBand';
import { pathLossDb } from '@/core/propagation/pathLoss';
import { seeded } from '@/core/random';
import { centreOfBandMhz, type Band, type WidthMhz } from '@/core/radio/band';
import { modelOf } from '@/core/radio/catalogue';
import { finish, greedyChoice } from './planning';

type Row = [string, string, string];

/** What each access point has to itself, in m2, and how level falls between them: an open-plan office. */
const AREA_M2 = 120;
const EXPONENT = 3;
const POWER_DBM = 14;
const MINUTE_MS = 60_000;

/** Radios hung a little off a lattice, all on one channel. */
function hall(n: number, band: Band, channel: number, widthMhz: WidthMhz, seed: number): PlanRadio[] {
  const uniform = seeded(seed);
  const across = Math.ceil(Math.sqrt(n));
  const pitchM = Math.sqrt(AREA_M2);
  const places = Array.from({ length: n }, (_, i) => [
    pitchM * ((i % across) + 0.2 + 0.6 * uniform()),
    pitchM * (Math.floor(i / across) + 0.2 + 0.6 * uniform()),
  ]);
  const points = Array.from({ length: Math.min(4000, Math.floor(300_000 / n)) }, () => [
    uniform() * across * pitchM,
    uniform() * Math.ceil(n / across) * pitchM,
  ]);
  const lossDb = ([x, y]: readonly number[], [u, v]: readonly number[]) =>
    pathLossDb(centreOfBandMhz(band), Math.hypot(x! - u!, y! - v!, 2), EXPONENT) - 3;
  return places.map((place, i) => {
    const toPoints = Float32Array.from(points, (point) => lossDb(place, point));
    return {
      apId: `ap${i}`,
      name: `AP-${i}`,
      model: modelOf('kittiwake-t6'),
      band,
      locked: false,
      forbidden: [],
      before: { on: true, channel, widthMhz, txPowerDbm: POWER_DBM },
      lossDb: toPoints,
      cellLossDb: toPoints,
      lossToRadioDb: Float32Array.from(places, (other) => (other === place ? 0 : lossDb(place, other) - 3)),
    };
  });
}

function caseOf(n: number, band: Band, channel: number, widthMhz: WidthMhz): Row {
  const rules: PlanRules = {
    ...DEFAULT_RULES,
    // 19 channels of 20 MHz and 9 blocks of 40 at 5 GHz, 24 of 20 MHz at 6.
    domain: 'EU',
    channels: { ...DEFAULT_RULES.channels, [band]: [] },
    widthsMhz: { ...DEFAULT_RULES.widthsMhz, [band]: [widthMhz] },
    changePenalty: 0,
  };
  const radios = hall(n, band, channel, widthMhz, 7);
  const before = radios.map((radio) => radio.before);
  const all = radios.map((radio) => optionsOf(radio, rules).options);
  const options = withoutAlikes(all, radios, []);
  const prices = priceTable(options, true);
  const reach = reachOf(radios, before, rules, prices.levels);
  const problem = assignmentOf(radios, options, before, reach, prices, rules, []);
  const blocks = new Map<string, Option>(options.flat().map((option) => [`${option.channel.primary}/${option.channel.widthMhz}`, option]));
  const proofBegin = performance.now();
  const bound = finish(airtimeBound(n, leastTaken(reach, options), [...blocks.values()], BOUND_WORK));
  const proofMs = performance.now() - proofBegin;
  const one = new Int32Array(n);
  const uniform = seeded(3);
  const chance = Int32Array.from(options, (list) => Math.floor(uniform() * list.length));
  const begin = performance.now();
  const found = finish(assign(problem, one, 1));
  const tookMs = performance.now() - begin;
  let long = found;
  for (let seed = 2; performance.now() - begin < MINUTE_MS; seed++) {
    const next = finish(assign(problem, long.choice, seed));
    if (next.cost < long.cost) long = next;
  }
  const gap = found.cost > 0 ? `${((100 * (found.cost - bound)) / found.cost).toFixed(0)} %` : '–';
  return [
    `${n} radios x ${blocks.size} of ${widthMhz} MHz, ${band} GHz`,
    tookMs.toFixed(0),
    `cost ${found.cost.toFixed(3)}${found.exact ? ' (proven)' : ''}, bound ${bound.toFixed(3)} in ${(proofMs / 1000).toFixed(1)} s, gap ${gap}; one minute of itself ${long.cost.toFixed(3)} (${(100 * (found.cost / long.cost - 1)).toFixed(1)} % above); greedy ${costOf(problem, greedyChoice(problem)).toFixed(3)}, chance ${costOf(problem, chance).toFixed(2)}, all on one ${costOf(problem, one).toFixed(2)}`,
  ];
}

/** Channels of halls of many sizes, held against doing nothing, chance, the greedy way and a minute's search. */
export function benchChannels(): Row[] {
  return [
    ['**Choice of channels** (open office, 120 m2 an access point, 14 dBm; cost in radios per spot)', '', ''],
    caseOf(60, '5', 36, 20),
    caseOf(200, '5', 36, 20),
    caseOf(200, '5', 36, 40),
    caseOf(600, '6', 5, 20),
  ];
}
