import { gainAtAnglesDbi, isOmni, type Antenna } from '../../radio/antenna';
import { MIN_DISTANCE_M, oneMetreLossDb } from '../../propagation/pathLoss';
import { BANDS, centreOfBandMhz } from '../../radio/band';

const DEG = 180 / Math.PI;

/** What is added to a squared distance in m2, so that the table has no kink under the antenna. */
export const NEAR_M2 = Math.fround(0.01);
/** Upper bits of a 32-bit float that choose an entry: 32 entries to an octave. */
const SHIFT = 18;

const bits = new Int32Array(1);
const number = new Float32Array(bits.buffer);
const bitsOf = (value: number): number => ((number[0] = value), bits[0]!);
const floatOf = (pattern: number): number => ((bits[0] = pattern), number[0]!);

const ids = new WeakMap<Antenna, number>();
let nextId = 0;
/** A short name for an antenna's own arrays. */
function idOf(antenna: Antenna | null | undefined): number {
  if (antenna === null || antenna === undefined) return -1;
  const known = ids.get(antenna) ?? nextId++;
  ids.set(antenna, known);
  return known;
}

function remembered<T>(most: number, key: string, known: Map<string, T>, make: () => T): T {
  const found = known.get(key);
  if (found !== undefined) return found;
  if (known.size >= most) known.clear();
  const made = make();
  known.set(key, made);
  return made;
}

const paths = new Map<string, Float32Array>();

/**
 * Path loss of three bands, less the gain of what receives and of antennas that send alike all round, by the squared horizontal distance: entries [a0 a1 a2 - b0 b1 b2 -], value
 * a + b q in dB with q = dx^2 + dy^2 + NEAR_M2 in m2, straight from entry to entry.
 */
export function pathTable(
  antennas: ReadonlyArray<Antenna | null | undefined>,
  riseM: number,
  exponent: number,
  endGainDbi: number,
  reachM: number,
): Float32Array {
  const first = bitsOf(NEAR_M2) >> SHIFT;
  const count = (bitsOf(reachM * reachM + 1) >> SHIFT) - first + 1;
  const key = `${antennas.map(idOf).join()}/${riseM}/${exponent}/${endGainDbi}/${count}`;
  return remembered(100, key, paths, () => {
    const lossAt = (band: number, q: number): number => {
      const antenna = antennas[band];
      if (!antenna) return 0;
      const horizontalSq = Math.max(0, q - NEAR_M2);
      const distanceM = Math.max(MIN_DISTANCE_M, Math.sqrt(horizontalSq + riseM * riseM));
      const gainDbi = isOmni(antenna) ? gainAtAnglesDbi(antenna, 0, 0, 1, Math.atan2(riseM, Math.sqrt(horizontalSq)) * DEG) : 0;
      return oneMetreLossDb(centreOfBandMhz(BANDS[band]!)) + 10 * exponent * Math.log10(distanceM) - gainDbi - endGainDbi;
    };
    const table = new Float32Array(count * 8);
    for (let band = 0; band < BANDS.length; band++) {
      let [q, value] = [floatOf(first << SHIFT), lossAt(band, floatOf(first << SHIFT))];
      for (let k = 0; k < count; k++) {
        const nextQ = floatOf((first + k + 1) << SHIFT);
        const next = lossAt(band, nextQ);
        const slope = (next - value) / (nextQ - q);
        table[k * 8 + band] = value - slope * q;
        table[k * 8 + 4 + band] = slope;
        [q, value] = [nextQ, next];
      }
    }
    return table;
  });
}

/** Nodes from the middle of a table of gains to its rim, as in `assembly/cells.ts`. */
const REACH = 128;
const ACROSS = 2 * REACH + 1;
export const GAIN_TABLE_BYTES = ACROSS * ACROSS * 16;

/** A table of gains; `key` tells it from others. */
export type Gains = Readonly<{ key: string; table: Float32Array }>;

const gains = new Map<string, Gains>();

/**
 * Gains in dBi of the antennas that send more one way than another, three bands and a number nobody reads per node; 0 for the others. By direction in the antenna's own frame, on
 * half an octahedron laid flat: from the middle, straight up or down as `riseM` is, |forward| + |right| = REACH at the height of the antenna. Null where all
 * send alike all round. Turning an antenna changes nothing here.
 */
export function gainTable(antennas: ReadonlyArray<Antenna | null | undefined>, tiltDeg: number, riseM: number): Gains | null {
  if (antennas.every((antenna) => !antenna || isOmni(antenna))) return null;
  const sign = riseM < 0 ? -1 : 1;
  const key = `${antennas.map(idOf).join()}/${tiltDeg}/${sign}`;
  return remembered(8, key, gains, () => {
    const table = new Float32Array(ACROSS * ACROSS * 4);
    for (let v = -REACH, at = 0; v <= REACH; v++) {
      for (let u = -REACH; u <= REACH; u++, at += 4) {
        // A little beyond the rim the pattern goes on, below the antenna's height or above it: between nodes it stays smooth.
        const up = sign * (REACH - Math.abs(u) - Math.abs(v));
        if (sign * up < -2) continue;
        const flat = Math.sqrt(u * u + v * v);
        for (let band = 0; band < BANDS.length; band++) {
          const antenna = antennas[band];
          if (!antenna || isOmni(antenna)) continue;
          table[at + band] = gainAtAnglesDbi(antenna, tiltDeg, Math.atan2(v, u) * DEG, flat === 0 ? 1 : u / flat, Math.atan2(up, flat) * DEG);
        }
      }
    }
    return { key, table };
  });
}
