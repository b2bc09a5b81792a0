import { create } from 'zustand';
import { AIR_LIMITS, type AirQuestion, type AirWhere, type AnswerTo } from '@/contract/air';
import { NOTHING_ON_AIR, withRounds, type HeardAir } from '@/core/air/heard';
import type { ChannelLoad } from '@/core/air/load';
import { UpperRoomError } from '@/core/errors';
import { BANDS, type Band } from '@/core/radio/band';
import { channelExists, isPreferredScanning } from '@/core/radio/channel';
import type { Identified } from '@/core/spectrum/identify';
import { DAY_MS } from '@/core/spectrum/signal';
import { api } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { isPassing, wordsOf } from '../../state/notices';
import { placeNow } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { chosenChannels, type ScanChannel } from '@/core/survey/setting';
import { NO_CHANNEL, type NetworkList } from './columns';
import { addSweeps, clearSweeps, forgetRecordings, newestSweeps } from './sweepStore';

/** Tabs of the stage. */
export const AIR_TABS = ['networks', 'time', 'load', 'spectrum', 'what', 'plan'] as const;
export type AirTab = (typeof AIR_TABS)[number];

export const AIR_TAB_LABEL: Readonly<Record<AirTab, string>> = {
  networks: 'Networks',
  time: 'Over time',
  load: 'Load',
  spectrum: 'Spectrum',
  what: 'What is it?',
  plan: 'Against the plan',
};

/** Simulated seconds in one. */
export const PACES = [1, 10, 60, 600] as const;

/** How the receiver scans: bands, and of them only some channels where any are named. No bands: nothing is listened to. */
export type AirScan = Readonly<{ bands: readonly Band[]; only: readonly number[]; dwellMs: number; intervalS: number }>;

/** A measurement of the load: what was dwelt on so far, where, and what was asked. */
export type LoadRun = Readonly<{
  spotKey: string;
  spotName: string;
  band: Band;
  atMs: number;
  forS: number;
  loads: readonly ChannelLoad[];
  done: boolean;
}>;

/** The air as one open project's window has it: one object, forgotten with the project. */
export type AirState = {
  tab: AirTab;
  band: Band;
  clockMs: number;
  running: boolean;
  pace: (typeof PACES)[number];
  /** Where the receiver stands, or at which access point; null before it was put anywhere. */
  spot: Readonly<{ xM: number; yM: number }> | null;
  apId: string | null;
  scan: AirScan;
  heard: HeardAir;
  /** Where that was heard: elsewhere it begins anew. */
  heardAt: string | null;
  /** Addresses of the networks that are picked, which stand out everywhere. */
  picked: readonly string[];
  onlyOurs: 'everybody' | 'ours' | 'others';
  find: string;
  list: NetworkList;
  planWide: boolean;
  /** The newest measurement of each band, and the one before it at the same place. */
  load: Readonly<Partial<Record<Band, LoadRun>>>;
  before: Readonly<Partial<Record<Band, LoadRun>>>;
  identified: Readonly<{ atMs: number; spotKey: string; found: readonly Identified[]; of: string }> | null;
  busy: 'load' | 'identify' | null;
  problem: string | null;
};

/** The day begins when the house opens. */
export const OPENING_MS = 10 * 3_600_000;

const START: AirState = {
  tab: 'networks',
  band: '2.4',
  clockMs: OPENING_MS,
  running: true,
  pace: 1,
  spot: null,
  apId: null,
  scan: { bands: BANDS, only: [], dwellMs: 110, intervalS: 0 },
  heard: NOTHING_ON_AIR,
  heardAt: null,
  picked: [],
  onlyOurs: 'everybody',
  find: '',
  list: { channel: NO_CHANNEL.every, security: 'any', widthMhz: 0, group: 'none', by: [{ id: 'best', down: false }] },
  planWide: false,
  load: {},
  before: {},
  identified: null,
  busy: null,
  problem: null,
};

export const useAir = create<AirState>()(() => START);
export const setAir = (fields: Partial<AirState>): void => useAir.setState(fields);
export const setList = (fields: Partial<NetworkList>): void => setAir({ list: { ...useAir.getState().list, ...fields } });

/** For another project all begins anew. */
export function forgetAir(): void {
  useAir.setState(START);
  forgetRecordings();
}

/** Where the receiver is, as the port is asked; null while no project is open. */
export function whereNow(): AirWhere | null {
  const place = placeNow();
  if (place === null) return null;
  const { spot, apId } = useAir.getState();
  const at = spot ?? middleOf(place.floor.outline);
  const there = apId !== null && place.aps.some(({ id }) => id === apId) ? apId : null;
  return { floorId: place.floor.id, variantId: place.variant.id, xM: round(at.xM), yM: round(at.yM), apId: there };
}
const round = (m: number): number => Math.round(m * 100) / 100;
export function middleOf(outline: ReadonlyArray<Readonly<{ xM: number; yM: number }>>): { xM: number; yM: number } {
  const mean = (of: (p: { xM: number; yM: number }) => number) => outline.reduce((sum, p) => sum + of(p), 0) / Math.max(1, outline.length);
  return { xM: mean(({ xM }) => xM), yM: mean(({ yM }) => yM) };
}
/** What an answer must still be about. */
const keyOf = (projectId: string, where: AirWhere): string => `${projectId}/${JSON.stringify(where)}`;
export const spotKeyNow = (): string | null => {
  const [{ projectId }, where] = [useDocument.getState(), whereNow()];
  return projectId === null || where === null ? null : keyOf(projectId, where);
};

/** Puts the receiver elsewhere: what was heard begins anew. */
export function putReceiver(at: Readonly<{ spot: AirState['spot']; apId: string | null }>): void {
  setAir({ ...at, heard: NOTHING_ON_AIR, identified: null });
  clearSweeps();
}

/** Sets the clock: what was heard begins anew. Set back, that is said, for what was heard of a time that is not yet is forgotten. */
export function jumpTo(atMs: number): void {
  const { clockMs, heard } = useAir.getState();
  if (atMs < clockMs && heard.rounds > 0) useDocument.getState().setNotice({ words: 'The clock was set back: what was heard begins anew.' });
  setAir({ clockMs: atMs, heard: NOTHING_ON_AIR, identified: null });
  clearSweeps();
}
export const jumpToHour = (hour: number): void => jumpTo(Math.floor(useAir.getState().clockMs / DAY_MS) * DAY_MS + hour * 3_600_000);

/** The channels that are scanned: those that are chosen, else all of a band's 20 MHz channels; at 6 GHz then those where clients look first. */
export function scanChannels({ bands, only }: Pick<AirScan, 'bands' | 'only'>): ScanChannel[] {
  if (only.length > 0) return chosenChannels({ bands, channels: only });
  return bands.flatMap((band) =>
    Array.from({ length: 233 }, (_, i) => i + 1)
      .filter(
        (channel) => channelExists({ band, primary: channel, widthMhz: 20 }) && (band !== '6' || isPreferredScanning({ band, primary: channel })),
      )
      .map((channel) => ({ band, channel })),
  );
}

/** Asks the port; null where the answer is of another project, place or time by now. @throws UpperRoomError */
async function ask<W extends AirQuestion['what']>(question: Extract<AirQuestion, { what: W }>): Promise<AnswerTo<W> | null> {
  const [{ projectId }, where] = [useDocument.getState(), whereNow()];
  if (projectId === null || where === null) return null;
  const key = keyOf(projectId, where);
  const answer = await api.air(projectId, { where, asked: question });
  return spotKeyNow() === key && answer.what === question.what ? (answer as AnswerTo<W>) : null;
}

function fail(error: unknown): void {
  if (!(error instanceof UpperRoomError)) throw error;
  setAir({ problem: isPassing(error.code) ? wordsOf(new UpperRoomError('SITE_UNREACHABLE')) : wordsOf(error) });
}

/** Rounds that are taken in at once: fewer where there are many networks, for the page is drawn meanwhile. */
const roundsAtOnce = (networks: number): number => Math.max(1, Math.min(20, Math.floor(4000 / Math.max(1, networks))));
let asking = false;

/** The clock goes on by some real time: what is heard meanwhile is asked for. It stands while the port does not answer. */
export async function tick(elapsedMs: number): Promise<void> {
  const { running, clockMs, pace, scan, tab, busy } = useAir.getState();
  if (!running || asking || useSession.getState().stage !== 'air' || busy === 'load') return;
  const toMs = clockMs + Math.min(elapsedMs * pace, AIR_LIMITS.stretchMs);
  asking = true;
  try {
    const channels = scanChannels(scan);
    const rounds =
      channels.length === 0
        ? null
        : await ask({
            what: 'networks',
            scan: { channels, dwellMs: scan.dwellMs, intervalMs: scan.intervalS * 1000 },
            fromMs: clockMs,
            toMs,
            most: roundsAtOnce(useAir.getState().heard.networks.size),
          });
    const sweeps = tab === 'spectrum' ? newestSweeps(clockMs, toMs) : null;
    const swept = sweeps === null ? null : await ask({ what: 'sweeps', ...sweeps });
    const now = useAir.getState();
    // The clock was set, or a measurement took it over, while the port was asked.
    if (now.clockMs !== clockMs || !now.running || now.busy === 'load') return;
    // Another floor or variant is another place.
    const [key, fresh] = [spotKeyNow(), now.heardAt !== spotKeyNow()];
    if (fresh) clearSweeps();
    const before = fresh ? NOTHING_ON_AIR : now.heard;
    const heard = rounds === null ? before : withRounds(before, rounds.rounds, (band) => scan.bands.includes(band));
    setAir({ clockMs: toMs, heard, heardAt: key, problem: null });
    if (swept !== null && sweeps !== null) addSweeps(sweeps.setting, swept.sweeps);
  } catch (error) {
    fail(error);
  } finally {
    asking = false;
  }
}

/** Dwell on one channel of a measurement, in ms. */
const DWELL_MS = 200;

/** Measures the load of a band's channels, going round them for some simulated seconds; the clock goes with it. */
export async function measureLoad(channels: readonly number[], forS: number): Promise<void> {
  const [key, { band, clockMs, load, before, busy }, place] = [spotKeyNow(), useAir.getState(), placeNow()];
  if (key === null || busy !== null || channels.length === 0 || place === null) return;
  const { apId } = useAir.getState();
  const spotName = apId === null ? 'the cross' : (place.aps.find(({ id }) => id === apId)?.name ?? 'the cross');
  const run: LoadRun = { spotKey: key, spotName, band, atMs: clockMs, forS, loads: [], done: false };
  const was = load[band];
  setAir({
    busy: 'load',
    load: { ...load, [band]: run },
    before: { ...before, [band]: was?.done === true && was.spotKey === key ? was : undefined },
    problem: null,
  });
  const roundMs = channels.length * DWELL_MS;
  const rounds = Math.max(2, Math.ceil((forS * 1000) / roundMs));
  try {
    for (let round = 0; round < rounds; round++) {
      const fromMs = useAir.getState().clockMs;
      const answer = await ask({ what: 'load', channels: channels.map((channel) => ({ band, channel })), dwellMs: DWELL_MS, fromMs });
      const now = useAir.getState();
      // Stopped, or it is about another place or time by now.
      if (answer === null || now.busy !== 'load' || now.clockMs !== fromMs) break;
      setAir({
        clockMs: fromMs + roundMs,
        load: { ...now.load, [band]: { ...now.load[band]!, loads: [...now.load[band]!.loads, ...answer.loads] } },
      });
    }
  } catch (error) {
    fail(error);
  } finally {
    const { load: now } = useAir.getState();
    const mine = now[band];
    // What brought nothing leaves what was known; of another project nothing is here.
    if (mine !== undefined) setAir({ load: { ...now, [band]: mine.loads.length === 0 ? was : { ...mine, done: true } } });
    setAir({ busy: null });
  }
}
export const stopMeasuring = (): void => setAir({ busy: null });

/** Parts of the bands that are looked at one after the other to tell what is on the air, in MHz. */
export const LOOKS: Readonly<Record<Band, ReadonlyArray<readonly [number, number]>>> = {
  '2.4': [[2400, 2500]],
  '5': [
    [5150, 5250],
    [5250, 5350],
    [5470, 5600],
    [5600, 5730],
    [5725, 5895],
  ],
  '6': [
    [5925, 6085],
    [6085, 6245],
    [6245, 6405],
    [6405, 6565],
    [6565, 6725],
    [6725, 6885],
    [6885, 7045],
    [7045, 7125],
  ],
};

/** Looks at a band, part by part, and says what is on the air that is not Wi-Fi. */
export async function identifyNow(): Promise<void> {
  const [key, { band, clockMs, busy }] = [spotKeyNow(), useAir.getState()];
  if (key === null || busy !== null) return;
  setAir({ busy: 'identify', problem: null });
  const found: Identified[] = [];
  try {
    for (const [startMhz, stopMhz] of LOOKS[band]) {
      const answer = await ask({ what: 'identify', startMhz, stopMhz, fromMs: clockMs });
      if (answer === null || useAir.getState().busy !== 'identify') return;
      found.push(...answer.found);
    }
    setAir({ identified: { atMs: clockMs, spotKey: key, found, of: band } });
  } catch (error) {
    fail(error);
  } finally {
    setAir({ busy: null });
  }
}
