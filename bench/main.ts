import os from 'node:os';
import { lossBetween } from '@/core/fields/between';
import {
  airtimeLimits,
  mergeRadio,
  newTopThree,
  kindsInto,
  sharersInto,
  signalInto,
  snrInto,
  topThree,
  type LitRadio,
  type TopThree,
} from '@/core/fields/combine';
import { contoursOf } from '@/core/fields/contour';
import { lossFieldInto } from '@/core/fields/lossField';
import { LANES, outlinesOf, lossUnitsInto } from '@/core/fields/outlines';
import { rayLossUnits, sightLine } from '@/core/propagation/ray';
import { BANDS, perBand } from '@/core/radio/band';
import { COMMON_CLIENT } from '@/core/radio/receiver';
import { benchAir } from './air';
import { benchChannels } from './channels';
import { benchFinding } from './finding';
import { benchPositions } from './positions';
import { benchRetune } from './planning';
import { benchSpeed } from './speed';
import { benchSurvey } from './survey';
import { generatedFloor, quayLevel, type BenchScene } from './scenes';
import { time } from './timing';

const CLIENT_HEIGHT_M = 1;

const rows: Array<[string, string, string]> = [];
const row = (what: string, ms: number, note = '') => rows.push([what, ms < 10 ? ms.toFixed(2) : ms.toFixed(0), note]);

function benchScene(scene: BenchScene): void {
  rows.push([
    `**${scene.name}** (${scene.grid.cols} x ${scene.grid.rows} cells, ${scene.medium.panes.count} panes, ${scene.aps.length} APs, 3 bands)`,
    '',
    '',
  ]);
  const { grid, medium, aps } = scene;
  const plane = { grid, zM: CLIENT_HEIGHT_M, gainDbi: 0 };
  const cells = grid.cols * grid.rows;
  const outlines = outlinesOf(medium);
  const fields = aps.map(() => BANDS.map(() => new Float32Array(cells)));
  const all = time(9, () => aps.forEach((ap, i) => lossFieldInto(outlines, ap, plane, fields[i]!)));

  // The reference, in the same run: every pane against every cell's ray, and the link budget in double precision.
  let differing = 0;
  let worstDb = 0;
  let sumDb = 0;
  let compared = 0;
  const units = new Int32Array(cells * LANES);
  const slow = new Int32Array(LANES);
  let bruteMs = 0;
  aps.forEach((ap, a) => {
    lossUnitsInto(outlines, ap.pose, CLIENT_HEIGHT_M, grid, units);
    const begin = performance.now();
    for (let r = 0, i = 0; r < grid.rows; r++) {
      const y = grid.originYM + r * grid.cellM;
      for (let c = 0; c < grid.cols; c++, i++) {
        const x = grid.originXM + c * grid.cellM;
        rayLossUnits(medium, ap.pose, x, y, CLIENT_HEIGHT_M, slow);
        if (slow[0] !== units[i * LANES] || slow[1] !== units[i * LANES + 1] || slow[2] !== units[i * LANES + 2]) differing++;
        for (let lane = 0; lane < LANES; lane++) {
          const antenna = ap.antennas[lane];
          if (!antenna) continue;
          const exact = sightLine(medium, ap.pose, antenna, BANDS[lane]!, { xM: x, yM: y, zM: CLIENT_HEIGHT_M }).lossDb;
          const error = Math.abs(fields[a]![lane]![i]! - exact);
          worstDb = Math.max(worstDb, error);
          sumDb += error;
          compared++;
        }
      }
    }
    bruteMs += performance.now() - begin;
  });
  row(
    'loss fields of all APs',
    all,
    `${(bruteMs / all).toFixed(0)}x faster than brute force (${bruteMs.toFixed(0)} ms); wall sums differ in ${differing} of ${cells * aps.length} cells; total within ${worstDb.toFixed(4)} dB, mean ${(sumDb / compared).toFixed(4)} dB`,
  );
  const moved = { ...aps[0]!, pose: { ...aps[0]!.pose } };
  row(
    'field of one moved AP',
    time(41, () => {
      moved.pose = { ...moved.pose, xM: moved.pose.xM + 0.013 };
      lossFieldInto(outlines, moved, plane, fields[0]!);
    }),
    'aim: 4 ms or less',
  );
  row(
    'outlines of the plan (once per edit of a wall)',
    time(21, () => outlinesOf(medium)),
  );

  const lane = 1;
  const primaries = [36, 44, 52, 100, 108];
  const lit: LitRadio[] = aps.map((ap, i) => ({
    key: ap.name,
    name: ap.name,
    txPowerDbm: ap.txPowerDbm,
    channel: { band: '5', primary: primaries[i % primaries.length]!, widthMhz: 40 },
    streams: 2,
    generation: 'Wi-Fi 6',
    lossDb: fields[i]![lane]!,
  }));
  let top: TopThree = topThree(lit, cells);
  const out = new Float32Array(cells);
  row(
    'combine: strongest three of all radios',
    time(21, () => void (top = topThree(lit, cells))),
  );
  const others = topThree(lit.slice(1), cells);
  row(
    'combine while dragging: one radio into the others',
    time(41, () => {
      const next = newTopThree(cells);
      next.level.set(others.level);
      next.radio.set(others.radio);
      mergeRadio(next, lit[0]!, 0);
    }),
  );
  row(
    'lens Signal',
    time(21, () => signalInto(top, 0, -90, out)),
  );
  row(
    'lens SNR',
    time(21, () => snrInto(top, lit, COMMON_CLIENT.noiseFigureDb, -90, out)),
  );
  const own = Int16Array.from(lit, (_, i) => i);
  row(
    'lens Serving AP',
    time(21, () => kindsInto(top, own, -90, out)),
  );
  const n = lit.length;
  let between: readonly Float32Array[] = [];
  row(
    'losses between all APs, 3 bands',
    time(5, () => void (between = perBand((band) => lossBetween(medium, aps, band).lossDb))),
  );
  const levels = Float32Array.from({ length: n * n }, (_, k) => lit[k % n]!.txPowerDbm - between[lane]![(k % n) * n + Math.floor(k / n)]!);
  row(
    'lens Contention',
    time(21, () => sharersInto(top, lit, airtimeLimits(lit, levels), -90, out)),
  );
  signalInto(top, 0, -90, out);
  row(
    'contours, 6 levels',
    time(9, () => void contoursOf(out, grid, [-80, -70, -67, -60, -50, -40])),
  );
  rows.push(...benchRetune(scene, fields, between));
}

/** What an engineer with 200 access points waits for; without the reference, which would take a minute. */
function benchLarge(): void {
  const scene = generatedFloor(450, 200);
  rows.push([`**${scene.name}**`, '', '']);
  const cells = scene.grid.cols * scene.grid.rows;
  const outlines = outlinesOf(scene.medium);
  const fields = scene.aps.map(() => BANDS.map(() => new Float32Array(cells)));
  row(
    'loss fields of all APs',
    time(1, () => scene.aps.forEach((ap, i) => lossFieldInto(outlines, ap, { grid: scene.grid, zM: CLIENT_HEIGHT_M, gainDbi: 0 }, fields[i]!))),
  );
  const lit: LitRadio[] = scene.aps.map((ap, i) => ({
    key: ap.name,
    name: ap.name,
    txPowerDbm: ap.txPowerDbm,
    channel: { band: '5', primary: 36, widthMhz: 20 },
    streams: 2,
    generation: 'Wi-Fi 6',
    lossDb: fields[i]![1]!,
  }));
  row(
    'combine: strongest three of all radios',
    time(5, () => void topThree(lit, cells)),
  );
  let between: readonly Float32Array[] = [];
  row(
    'levels between all APs',
    time(1, () => void (between = perBand((band) => lossBetween(scene.medium, scene.aps, band).lossDb))),
  );
  rows.push(...benchRetune(scene, fields, between));
}

console.log(`Node ${process.version}, ${os.cpus().length} cores, one thread. Medians in ms.\n`);
/** Parts of the bench by name: `npm run bench -- speed` does one alone. */
const PARTS: Readonly<Record<string, () => void | Promise<void>>> = {
  speed: () => void rows.push(...benchSpeed()),
  floors: () => {
    benchScene(quayLevel());
    benchScene(generatedFloor(450, 14));
    benchLarge();
  },
  channels: () => void rows.push(...benchChannels()),
  positions: () => void rows.push(...benchPositions()),
  finding: () => void rows.push(...benchFinding()),
  survey: async () => {
    rows.push(['**What a walk teaches** (5 GHz, held out: spots within 5 m of a reading that nobody walked; six seeds of each kind)', '', '']);
    await benchSurvey(row);
  },
  air: () => {
    rows.push(['**The air** (scenes by chance; sites measured for a minute, 0.2 s on each channel in turn)', '', '']);
    rows.push(...benchAir());
  },
};
const asked = process.argv.slice(2).filter((word) => !word.startsWith('-') && !word.endsWith('.ts') && !word.endsWith('.mjs'));
const unknown = asked.find((part) => !Object.hasOwn(PARTS, part));
if (unknown !== undefined) {
  console.error(`There is no part “${unknown}”: name some of ${Object.keys(PARTS).join(', ')}, or none for all.`);
  process.exit(1);
}
for (const [part, run] of Object.entries(PARTS)) if (asked.length === 0 || asked.includes(part)) await run();
const [a, b] = [Math.max(...rows.map((r) => r[0].length)), 8];
console.log(`| ${'what'.padEnd(a)} | ${'ms'.padStart(b)} | notes`);
console.log(`|-${'-'.repeat(a)}-|-${'-'.repeat(b)}-|------`);
for (const [what, ms, note] of rows) console.log(`| ${what.padEnd(a)} | ${ms.padStart(b)} | ${note}`);
