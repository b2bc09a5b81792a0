import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { remove } from '@/core/design/commands';
import { addEmitter, keepSignals, type FoundEmitter, type SignalReading } from '@/core/design/surveyCommands';
import { UpperRoomError } from '@/core/errors';
import type { Contour } from '@/core/fields/contour';
import type { PointM } from '@/core/geometry/point';
import { boundsOf } from '@/core/geometry/polygon';
import { bandAt, type Band } from '@/core/radio/band';
import { centreMhz, channelExists } from '@/core/radio/channel';
import { WORTH_TELLING, type Identified } from '@/core/spectrum/identify';
import { median } from '@/core/spectrum/profiles';
import type { SignalKind } from '@/core/spectrum/signal';
import { LEAST_TO_LOCATE, type Located } from '@/core/survey/fit/locate';
import type { Sample } from '@/core/survey/sample';
import { NOTHING_COUNTED } from '@/core/survey/heard';
import { browserPool } from '@/engine/browser';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import type { Place } from '../../state/selectors';
import { surveyQuestion } from '../../state/surveyed';
import { cellsAround } from '../survey/locate';
import { middleOf, useAir } from './airStore';

/** Where a signal of a kind was found to come from, on a floor of a project. */
type SignalState = Readonly<{
  of: Readonly<{ projectId: string; floorId: string; kind: SignalKind }> | null;
  busy: boolean;
  found: Located | null;
  rings: Contour | null;
  /** About which frequency it is. */
  centreMhz: number;
  problem: string | null;
}>;
const NOTHING: SignalState = { of: null, busy: false, found: null, rings: null, centreMhz: 0, problem: null };
export const useSignals = create<SignalState>()(() => NOTHING);

let looking: AbortController | null = null;
export function forgetSignals(): void {
  looking?.abort();
  looking = null;
  useSignals.setState(NOTHING);
}

export const worthKeeping = (found: readonly Identified[]): Array<Identified & { kind: SignalKind }> =>
  found.filter((one): one is Identified & { kind: SignalKind } => one.kind !== 'not known' && one.likelihood >= WORTH_TELLING);

/** Keeps what was told where the receiver stands, as one step. */
export function keepFound({ floor, aps }: Place): void {
  const { identified, spot, apId } = useAir.getState();
  if (identified === null) return;
  const at = aps.find(({ id }) => id === apId) ?? spot ?? middleOf(floor.outline);
  const round = (value: number) => Math.round(value * 100) / 100;
  const readings = worthKeeping(identified.found).map(({ kind, centreMhz: mhz, levelDbm, likelihood }): SignalReading => ({
    id: uuid(),
    floorId: floor.id,
    signal: kind,
    atMs: Math.round(identified.atMs),
    xM: round(at.xM),
    yM: round(at.yM),
    centreMhz: mhz,
    levelDbm: Math.round(levelDbm),
    likelihood: round(likelihood),
  }));
  useDocument.getState().run('Keep what is on the air', (design) => keepSignals(design, readings));
}

/** Lets the kept readings of a kind go. */
export function forgetKept(readings: readonly SignalReading[]): void {
  forgetSignals();
  useDocument.getState().run('Let a signal go', (design) =>
    remove(
      design,
      'signalReadings',
      readings.map(({ id }) => id),
    ),
  );
}

/** The 20 MHz channel nearest to a frequency: walls are met there. */
function nearestChannel(band: Band, mhz: number): number {
  const numbers = Array.from({ length: 233 }, (_, i) => i + 1).filter((primary) => channelExists({ band, primary, widthMhz: 20 }));
  const off = (primary: number) => Math.abs(centreMhz({ band, primary, widthMhz: 20 }) - mhz);
  return numbers.reduce((best, one) => (off(one) < off(best) ? one : best));
}

/** Where a signal was told, how strong, and about which frequency. */
export type HeardAt = PointM & Readonly<{ centreMhz: number; levelDbm: number }>;

/** Readings of a signal as samples of one address: what looks for a transmitter by its beacons looks for this as well. */
export const samplesOf = (kind: SignalKind, readings: readonly HeardAt[]): Sample[] =>
  readings.map(({ xM, yM, centreMhz: mhz, levelDbm }, i) => {
    const band = bandAt(mhz);
    const channel = nearestChannel(band, mhz);
    return { leg: i, tMs: 1000 * i, xM, yM, bssid: kind, ssid: '', apId: null, band, channel, widthMhz: 20, rssiDbm: levelDbm };
  });

/** Ovens and cameras stand about so high, in m. */
const STANDS_M = 1.5;

/** Looks for where a signal comes from, by the spots at which it was told. */
export async function locateSignal(place: Place, kind: SignalKind, readings: readonly HeardAt[]): Promise<void> {
  looking?.abort();
  const own = (looking = new AbortController());
  const { projectId, design } = useDocument.getState();
  const bounds = boundsOf(place.floor.outline);
  const samples = samplesOf(kind, readings);
  const first = samples[0];
  if (projectId === null || bounds === null || first === undefined) return;
  const { band } = first;
  const heard = { ...NOTHING_COUNTED, samples: samples.filter((one) => one.band === band) };
  useSignals.setState({ ...NOTHING, of: { projectId, floorId: place.floor.id, kind }, busy: true });
  try {
    const { scene } = surveyQuestion(design, place, heard, band, []).question;
    const cells = cellsAround(bounds);
    const params = { scene, radios: [], heard, bssid: kind, band, heightM: place.floor.elevationM + STANDS_M, ...cells };
    const found = await browserPool().call('locate', params, { priority: 'long', signal: own.signal });
    if (looking !== own) return;
    if (found === null)
      return useSignals.setState({
        busy: false,
        problem: `It was told at too few spots to say where it is: ${LEAST_TO_LOCATE} at least, a metre and more apart.`,
      });
    const [rings] = await browserPool().call('contours', { grid: cells.grid, values: Float32Array.from(found.region), levels: [0.5] });
    if (looking !== own) return;
    useSignals.setState({ busy: false, found, rings: rings ?? null, centreMhz: median(readings.map((one) => one.centreMhz)) });
  } catch (error) {
    if (looking !== own) return;
    if (!(error instanceof UpperRoomError)) throw error;
    useSignals.setState(error.code === 'CANCELLED' ? NOTHING : { busy: false, problem: wordsOf(error) });
  }
}

/** Puts what was located on the plan, where the noise that it makes can count in the map. */
export function putOnPlan(place: Place): void {
  const { of, found, centreMhz: mhz } = useSignals.getState();
  if (of === null || found === null || of.floorId !== place.floor.id) return;
  const round = (value: number) => Math.round(value * 100) / 100;
  const emitter: FoundEmitter = {
    id: uuid(),
    floorId: place.floor.id,
    signal: of.kind,
    xM: round(found.xM),
    yM: round(found.yM),
    heightM: STANDS_M,
    centreMhz: Math.round(mhz),
    eirpDbm: Math.round(found.eirpDbm),
    note: '',
  };
  useDocument.getState().run('Put an emitter on the plan', () => addEmitter(emitter));
}
