import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { remove } from '@/core/design/commands';
import { keepSignals, signalsOn, type SignalReading } from '@/core/design/surveyCommands';
import { UpperRoomError } from '@/core/errors';
import type { Contour } from '@/core/fields/contour';
import { boundsOf } from '@/core/geometry/polygon';
import { bandAt, type Band } from '@/core/radio/band';
import { centreMhz, channelExists } from '@/core/radio/channel';
import type { Identified } from '@/core/spectrum/identify';
import type { SignalKind } from '@/core/spectrum/signal';
import { LEAST_TO_LOCATE, type Located } from '@/core/survey/fit/locate';
import type { Sample } from '@/core/survey/sample';
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
  problem: string | null;
}>;
const NOTHING: SignalState = { of: null, busy: false, found: null, rings: null, problem: null };
export const useSignals = create<SignalState>()(() => NOTHING);

let looking: AbortController | null = null;
export function forgetSignals(): void {
  looking?.abort();
  looking = null;
  useSignals.setState(NOTHING);
}

/** Less likely ones are not kept: a place would be looked for of what is not there. */
const KEPT_FROM = 0.5;
export const worthKeeping = (found: readonly Identified[]): Array<Identified & { kind: SignalKind }> =>
  found.filter((one): one is Identified & { kind: SignalKind } => one.kind !== 'not known' && one.likelihood >= KEPT_FROM);

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

/** Readings of a signal as samples of one address: what looks for a transmitter by its beacons looks for this as well. */
export const samplesOf = (readings: readonly SignalReading[]): Sample[] =>
  readings.map(({ signal, xM, yM, centreMhz: mhz, levelDbm }, i) => {
    const band = bandAt(mhz);
    return {
      leg: i,
      tMs: 1000 * i,
      xM,
      yM,
      bssid: signal,
      ssid: '',
      apId: null,
      band,
      channel: nearestChannel(band, mhz),
      widthMhz: 20,
      rssiDbm: levelDbm,
    };
  });

/** Ovens and cameras stand about so high, in m. */
const STANDS_M = 1.5;

/** Looks for where a signal comes from, by the spots at which it was kept. */
export async function locateSignal(place: Place, kind: SignalKind): Promise<void> {
  looking?.abort();
  const own = (looking = new AbortController());
  const { projectId, design } = useDocument.getState();
  const bounds = boundsOf(place.floor.outline);
  const samples = samplesOf(signalsOn(design, place.floor.id).get(kind) ?? []);
  const first = samples[0];
  if (projectId === null || bounds === null || first === undefined) return;
  const { band } = first;
  const heard = { samples: samples.filter((one) => one.band === band), visits: [] };
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
        problem: `It is kept at too few spots to say where it is: ${LEAST_TO_LOCATE} at least, a metre and more apart.`,
      });
    const [rings] = await browserPool().call('contours', { grid: cells.grid, values: Float32Array.from(found.region), levels: [0.5] });
    if (looking !== own) return;
    useSignals.setState({ busy: false, found, rings: rings ?? null });
  } catch (error) {
    if (looking !== own) return;
    if (!(error instanceof UpperRoomError)) throw error;
    useSignals.setState(error.code === 'CANCELLED' ? NOTHING : { busy: false, problem: wordsOf(error) });
  }
}
