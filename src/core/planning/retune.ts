import { UpperRoomError } from '../errors';
import { BANDS } from '../radio/band';
import { sameSetting } from '../radio/law';
import type { Stop } from './assignment';
import { oneGround, type Ground, type OutsideNetwork, type PlanRadio, type PlanRules } from './problem';
import { retuneBand, type LossesAt, type RetuneTask } from './retuneBand';
import type { BandResult, RetuneProgress, RetuneSheet, SheetRow } from './sheet';

export type { LossesAt } from './retuneBand';
export type { BandResult, FloorResult, Load, RetuneProgress, RetuneSheet, SharingPair, SheetRow } from './sheet';
export { bestOf, meanContention } from './sheet';

/** A radio's row and band: what tells it from others. */
const keyOf = ({ apId, band }: Pick<SheetRow, 'apId' | 'band'>): string => `${apId}/${band}`;

/**
 * Plans channels, widths and powers for the radios that are on, band by band: channels by assignment at the present powers, then powers
 * against coverage and contention, in turn until nothing improves. Yields progress; sent true at a yield, it ends with the best so far.
 * A radio without any allowed channel is left as it is, and its row says so. Where only some radios may be touched, those stay whose change alone gains
 * least, and the others are planned again round them. Deterministic: the same radios, rules and seed give the same sheet.
 * @param lossesAt left out, what the radios carry is taken
 * @param ground left out, all is one floor
 * @throws UpperRoomError NOTHING_TO_PLAN
 */
export function* retune(
  radios: readonly PlanRadio[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
  lossesAt: LossesAt = (own) => own,
  ground: Ground = oneGround(radios),
): Generator<RetuneProgress, RetuneSheet, Stop> {
  const task: RetuneTask = { rules, outside, seed, lossesAt, ground };
  const first = yield* allBands(radios, task);
  const changed = first.rows.filter(({ before, after }) => !sameSetting(before, after));
  if (rules.mostChanges === null || changed.length <= rules.mostChanges || first.stopped) return first;
  const touched = new Set(
    [...changed]
      .sort((a, b) => first.worth.get(keyOf(b))! - first.worth.get(keyOf(a))!)
      .slice(0, rules.mostChanges)
      .map(keyOf),
  );
  const wished = new Set(changed.map(keyOf));
  const spared = radios.map((radio) =>
    touched.has(keyOf(radio)) || radio.kept !== undefined || radio.locked
      ? radio
      : { ...radio, kept: radio.before, spared: wished.has(keyOf(radio)) },
  );
  return yield* allBands(spared, task);
}

/** `worth`: by radio, what the plan would lose if that one alone went back. */
function* allBands(
  radios: readonly PlanRadio[],
  task: RetuneTask,
): Generator<RetuneProgress, RetuneSheet & Readonly<{ worth: ReadonlyMap<string, number> }>, Stop> {
  const rows: SheetRow[] = [];
  const bands: BandResult[] = [];
  const worth = new Map<string, number>();
  let stopped = false;
  for (const band of BANDS) {
    const ofBand = radios.filter((radio) => radio.band === band);
    const on = ofBand.map((_, i) => i).filter((i) => ofBand[i]!.before.on);
    if (on.length === 0) continue;
    const own = on.map((i) => ({ ...ofBand[i]!, lossToRadioDb: Float32Array.from(on, (j) => ofBand[i]!.lossToRadioDb[j]!) }));
    const result = yield* retuneBand(band, own, task);
    rows.push(...result.rows);
    bands.push(result.summary);
    result.rows.forEach((row, r) => worth.set(keyOf(row), result.worth[r]!));
    stopped = result.stopped;
    if (stopped) break;
  }
  if (bands.length === 0) throw new UpperRoomError('NOTHING_TO_PLAN');
  return { rows, bands, stopped, worth };
}
