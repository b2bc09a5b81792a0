/** When sweeps are taken in: for `goesOnMs`, beginning `delayMs` after a sweep that is at `levelDbm` or above somewhere. */
export type Trigger = Readonly<{ levelDbm: number; delayMs: number; goesOnMs: number }>;

/** Limits of a trigger's fields. */
export const TRIGGER_LIMITS = {
  levelDbm: { min: -130, max: 0 },
  delayMs: { min: 0, max: 60_000 },
  goesOnMs: { min: 0, max: 60_000 },
} as const;

/** What a trigger is about to do: the times at which it opens yet, in order, and until when it is open. In ms. */
export type Gate = Readonly<{ opensMs: readonly number[]; untilMs: number }>;

export const SHUT: Gate = { opensMs: [], untilMs: -Infinity };

/**
 * Whether a sweep is taken in, and the gate after it. Each sweep that meets the level opens the gate once the delay is over; whatever comes first then is taken, however short the gate is
 * open, for a sweep rarely begins on the millisecond.
 */
export function passesTrigger(
  { levelDbm, delayMs, goesOnMs }: Trigger,
  gate: Gate,
  atMs: number,
  levels: Float32Array,
): { taken: boolean; gate: Gate } {
  const meets = levels.some((dbm) => dbm >= levelDbm);
  const opensMs = meets ? [...gate.opensMs, atMs + delayMs] : gate.opensMs;
  const later = opensMs.findIndex((ms) => ms > atMs);
  const opened = later < 0 ? opensMs.length : later;
  const untilMs = opened === 0 ? gate.untilMs : opensMs[opened - 1]! + goesOnMs;
  return { taken: opened > 0 || atMs <= untilMs, gate: { opensMs: opensMs.slice(opened), untilMs } };
}
