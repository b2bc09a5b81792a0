import type { Design, RecordOf } from './registry';
import { SIGNAL_KINDS, type SignalKind } from '../spectrum/signal';
import { change, type Change } from './step';

export type Mark = RecordOf<'marks'>;
export type TransferTest = RecordOf<'transferTests'>;
export type SignalReading = RecordOf<'signalReadings'>;
export type FoundEmitter = RecordOf<'emitters'>;

/** A mark at a spot, with nothing said yet. */
export const addMark = ({ id, floorId, xM, yM }: Pick<Mark, 'id' | 'floorId' | 'xM' | 'yM'>): Change[] =>
  change('marks', id, null, { id, floorId, xM, yM, note: '', photos: [] });

/** Keeps a throughput test. */
export const addTransferTest = (test: TransferTest): Change[] => change('transferTests', test.id, null, test);

/** Readings of one signal nearer than this to each other, in m, are of one spot: the newer one stands. */
const SAME_READING_M = 1;

/** Keeps signals as they were told at a spot. */
export function keepSignals({ signalReadings }: Pick<Design, 'signalReadings'>, found: readonly SignalReading[]): Change[] {
  return found.flatMap((one) => {
    const before = Object.values(signalReadings).filter(
      ({ floorId, signal, xM, yM }) => floorId === one.floorId && signal === one.signal && Math.hypot(xM - one.xM, yM - one.yM) < SAME_READING_M,
    );
    return [...before.flatMap((old) => change('signalReadings', old.id, old, null)), ...change('signalReadings', one.id, null, one)];
  });
}

/** The kept readings of a floor, kind by kind, in the order in which the kinds are listed. */
export function signalsOn({ signalReadings }: Pick<Design, 'signalReadings'>, floorId: string): ReadonlyMap<SignalKind, readonly SignalReading[]> {
  const own = Object.values(signalReadings).filter((one) => one.floorId === floorId);
  return new Map(
    SIGNAL_KINDS.flatMap((kind) => {
      const of = own.filter(({ signal }) => signal === kind).sort((a, b) => (a.id < b.id ? -1 : 1));
      return of.length === 0 ? [] : [[kind, of] as const];
    }),
  );
}

/** Puts something that was found on the plan. */
export const addEmitter = (found: FoundEmitter): Change[] => change('emitters', found.id, null, found);

/** What was found on a floor that sends and is not Wi-Fi, in the order in which it was put on the plan. */
export const emittersOn = ({ emitters }: Pick<Design, 'emitters'>, floorId: string): FoundEmitter[] =>
  Object.values(emitters)
    .filter((one) => one.floorId === floorId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));

/** Says that an address is an access point's; another that it was before is forgotten. With null it is nobody's again. */
export function linkAddress({ addresses }: Pick<Design, 'addresses'>, id: string, bssid: string, apId: string | null): Change[] {
  const before = Object.values(addresses).find((one) => one.bssid === bssid) ?? null;
  if (apId === null) return before === null ? [] : change('addresses', before.id, before, null);
  return change('addresses', before?.id ?? id, before, { id: before?.id ?? id, apId, bssid });
}

const linkedBy = new WeakMap<Design['addresses'], ReadonlyMap<string, string>>();

/** Whose linked addresses are: the same map as long as none is linked or unlinked. */
export function linkedAddresses({ addresses }: Pick<Design, 'addresses'>): ReadonlyMap<string, string> {
  const known = linkedBy.get(addresses) ?? new Map(Object.values(addresses).map(({ bssid, apId }) => [bssid, apId]));
  linkedBy.set(addresses, known);
  return known;
}

/** Marks of a floor in the order in which they were set: their ids rise with time. The first is number 1. */
export const marksOn = ({ marks }: Pick<Design, 'marks'>, floorId: string): Mark[] =>
  Object.values(marks)
    .filter((mark) => mark.floorId === floorId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));

/** Tests nearer than this to each other, in m, are of one spot. */
const SAME_SPOT_M = 1;

/** The tests of a floor by spot, each spot with the oldest first: it is what the later ones are held against. */
export function testsBySpot({ transferTests }: Pick<Design, 'transferTests'>, floorId: string): TransferTest[][] {
  const spots: TransferTest[][] = [];
  const own = Object.values(transferTests).filter((test) => test.floorId === floorId);
  for (const test of own.sort((a, b) => a.at.localeCompare(b.at) || (a.id < b.id ? -1 : 1))) {
    const same = spots.find(([first]) => Math.hypot(first!.xM - test.xM, first!.yM - test.yM) < SAME_SPOT_M);
    if (same === undefined) spots.push([test]);
    else same.push(test);
  }
  return spots;
}
