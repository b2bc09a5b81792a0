import type { Band, WidthMhz } from '../radio/band';
import type { Reading, Round } from './scan';

/** Levels over time, oldest first; `NaN` where a round listened and did not hear it. */
export type History = Readonly<{ atMs: readonly number[]; dbm: readonly number[] }>;

/** A network as it was heard so far at a spot. `nowDbm` null: the newest round did not hear it. `moved`: when it was found on another channel, and on which. */
export type HeardNetwork = Readonly<{
  bssid: string;
  newest: Reading;
  nowDbm: number | null;
  bestDbm: number;
  meanDbm: number;
  times: number;
  firstMs: number;
  lastMs: number;
  moved: ReadonlyArray<Readonly<{ atMs: number; channel: number; band: Band; widthMhz: number }>>;
  history: History;
}>;

/** All that was heard at a spot, by address, and how many rounds there were. */
export type HeardAir = Readonly<{ networks: ReadonlyMap<string, HeardNetwork>; rounds: number; lastMs: number }>;
export const NOTHING_ON_AIR: HeardAir = { networks: new Map(), rounds: 0, lastMs: 0 };

/** Levels kept of one network. When there are more, every other of the older half goes, so that a day keeps its course. */
export const MOST_KEPT = 1200;

function kept(history: History, atMs: number, dbm: number): History {
  const add = { atMs: [...history.atMs, atMs], dbm: [...history.dbm, dbm] };
  if (add.atMs.length <= MOST_KEPT) return add;
  const half = add.atMs.length >> 1;
  const stays = (_: number, i: number) => i >= half || i % 2 === 0 || (Number.isNaN(add.dbm[i]!) && !Number.isNaN(add.dbm[i - 1]!));
  return { atMs: add.atMs.filter(stays), dbm: add.dbm.filter(stays) };
}

/** What was heard with some rounds more, which come in order. What a round listened for and did not hear has a gap there. */
export function withRounds(heard: HeardAir, rounds: readonly Round[], listenedTo: (band: Band, channel: number) => boolean): HeardAir {
  if (rounds.length === 0) return heard;
  const networks = new Map(heard.networks);
  for (const { atMs, readings } of rounds) {
    const here = new Set<string>();
    for (const reading of readings) {
      const { bssid } = reading.network;
      here.add(bssid);
      const before = networks.get(bssid);
      const { band, channel, widthMhz, dbm } = reading;
      if (before === undefined) {
        networks.set(bssid, {
          bssid,
          newest: reading,
          nowDbm: dbm,
          bestDbm: dbm,
          meanDbm: dbm,
          times: 1,
          firstMs: atMs,
          lastMs: atMs,
          moved: [],
          history: { atMs: [atMs], dbm: [dbm] },
        });
        continue;
      }
      const was = before.newest;
      const elsewhere = was.channel !== channel || was.widthMhz !== widthMhz || was.band !== band;
      networks.set(bssid, {
        bssid,
        newest: reading,
        nowDbm: dbm,
        bestDbm: Math.max(before.bestDbm, dbm),
        meanDbm: before.meanDbm + (dbm - before.meanDbm) / (before.times + 1),
        times: before.times + 1,
        firstMs: before.firstMs,
        lastMs: atMs,
        moved: elsewhere ? [...before.moved, { atMs, channel, band, widthMhz }] : before.moved,
        history: kept(before.history, atMs, dbm),
      });
    }
    for (const [bssid, before] of networks) {
      if (here.has(bssid)) continue;
      // Not listened for: it may be there or not.
      if (!listenedTo(before.newest.band, before.newest.channel)) continue;
      networks.set(bssid, {
        ...before,
        nowDbm: null,
        history: Number.isNaN(before.history.dbm.at(-1)) ? before.history : kept(before.history, atMs, NaN),
      });
    }
  }
  return { networks, rounds: heard.rounds + rounds.length, lastMs: rounds.at(-1)!.atMs };
}

/** Gone: not heard for so long, in ms. */
export const GONE_MS = 60_000;

/** The level that a network is drawn and filtered at: what it is now, or was at last. */
export const levelOf = ({ nowDbm, newest }: HeardNetwork): number => nowDbm ?? newest.dbm;

/** A network's channel. */
export const channelOfHeard = ({ newest }: HeardNetwork) => ({ band: newest.band, primary: newest.channel, widthMhz: newest.widthMhz as WidthMhz });
