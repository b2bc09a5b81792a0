import { create } from 'zustand';
import { AIR_LIMITS } from '@/contract/air';
import type { Band } from '@/core/radio/band';
import { leastSweepMs, type SweepSetting } from '@/core/spectrum/sweep';
import { addSweep, noTraces, type Traces } from '@/core/spectrum/traces';
import { passesTrigger, SHUT, type Gate, type Trigger } from '@/core/spectrum/trigger';

/** A sweep as it came. */
export type Swept = Readonly<{ atMs: number; tenthsDbm: Int16Array }>;
/** A recording that was kept: its sweeps, under a name. */
export type Recording = Readonly<{ id: string; name: string; setting: SweepSetting; sweeps: readonly Swept[]; spot: string }>;

/** A recording replayed up to a time since its first sweep: so many of its sweeps, and the traces they make. */
export type Replay = Readonly<{ id: string; untilMs: number; count: number; traces: Traces }>;

export const TRACES = ['live', 'max', 'mean', 'min'] as const;
export type TraceId = (typeof TRACES)[number];

/** What traces are called. */
export const TRACE_LABEL: Readonly<Record<TraceId, string>> = { live: 'live', max: 'max hold', mean: 'average', min: 'min hold' };

/** A marker: it stays at its frequency and rides a trace. */
export type Marker = Readonly<{ id: number; mhz: number; trace: TraceId }>;

export type SweepState = {
  setting: SweepSetting;
  hold: boolean;
  /** Which sweeps are taken in, whether that goes on (else all are), and what it is about to do. */
  trigger: Trigger;
  triggered: boolean;
  gate: Gate;
  shown: readonly TraceId[];
  averageOver: number;
  smoothOver: number;
  thresholdDbm: number;
  refDbm: number;
  dbPerDiv: number;
  lower: 'waterfall' | 'density' | 'duty';
  markers: readonly Marker[];
  /** What is kept of the sweeps: its value changes with each. */
  traces: Traces;
  /** The newest sweeps, oldest first. */
  sweeps: readonly Swept[];
  waits: boolean;
  recordings: readonly Recording[];
  /** The recording that is shown instead of what is live, and one drawn beside it. */
  playing: string | null;
  beside: string | null;
  /** How far the recording that is shown is replayed; null where all of it is shown. */
  replay: Replay | null;
  recordingFromMs: number | null;
};

/** Presets by band; channels and sub-bands are set by their edges. */
export const PRESET: Readonly<Record<Band, Pick<SweepSetting, 'startMhz' | 'stopMhz'>>> = {
  '2.4': { startMhz: 2400, stopMhz: 2500 },
  '5': { startMhz: 5150, stopMhz: 5900 },
  '6': { startMhz: 5925, stopMhz: 7125 },
};

/** A span with the resolution bandwidth and the time that suit it: as fine as 20 sweeps a second allow. */
export function settingFor(span: Pick<SweepSetting, 'startMhz' | 'stopMhz'>, before: SweepSetting): SweepSetting {
  const setting = { ...before, ...span };
  const rbwKhz =
    [30, 100, 300, 1000].find((khz) => khz / 1e3 <= span.stopMhz - span.startMhz && leastSweepMs({ ...setting, rbwKhz: khz }) <= 50) ?? 1000;
  const least = Math.max(1, leastSweepMs({ ...setting, rbwKhz }));
  return { ...setting, rbwKhz: Math.min(rbwKhz, (span.stopMhz - span.startMhz) * 1000), sweepMs: Math.max(50, Math.ceil(least)) };
}

const FIRST: SweepSetting = { startMhz: 2400, stopMhz: 2500, bins: 1000, rbwKhz: 300, sweepMs: 50, detector: 'peak' };
/** Ten simulated minutes at 20 sweeps a second are too many rows for any window: older ones are dropped past this. */
export const MOST_SWEEPS = 12_000;

const START: SweepState = {
  setting: FIRST,
  hold: false,
  trigger: { levelDbm: -60, delayMs: 0, goesOnMs: 0 },
  triggered: false,
  gate: SHUT,
  shown: ['live', 'max', 'mean'],
  averageOver: 20,
  smoothOver: 1,
  thresholdDbm: -80,
  refDbm: -30,
  dbPerDiv: 10,
  lower: 'waterfall',
  markers: [],
  traces: noTraces(FIRST.bins),
  sweeps: [],
  waits: false,
  recordings: [],
  playing: null,
  beside: null,
  replay: null,
  recordingFromMs: null,
};

export const useSweeps = create<SweepState>()(() => START);
export const setSweeps = (fields: Partial<SweepState>): void => useSweeps.setState(fields);

/** What was swept is forgotten: the receiver stands elsewhere, or the clock was set. Settings and recordings stay. */
export function clearSweeps(): void {
  const { setting, triggered } = useSweeps.getState();
  setSweeps({ traces: noTraces(setting.bins), sweeps: [], waits: triggered, gate: SHUT, recordingFromMs: null });
}
/** Of another project nothing stays. */
export const forgetRecordings = (): void => useSweeps.setState({ ...START, traces: noTraces(FIRST.bins) });

/** Another trigger: what the one before was about to do is forgotten. */
export const changeTrigger = (fields: Partial<Trigger>, triggered = true): void => {
  setSweeps({ trigger: { ...useSweeps.getState().trigger, ...fields }, triggered, waits: triggered, gate: SHUT });
};

/** Another setting begins anew. */
export function changeSetting(setting: SweepSetting): void {
  setSweeps({ setting });
  clearSweeps();
}

/** Sweeps of a stretch of time: as many as fit, the newest where there are too many; none while it is held. */
export function newestSweeps(fromMs: number, toMs: number): { setting: SweepSetting; fromMs: number; count: number } | null {
  const { setting, hold, playing } = useSweeps.getState();
  if (hold || playing !== null) return null;
  const count = Math.min(AIR_LIMITS.sweeps, Math.floor((toMs - fromMs) / setting.sweepMs));
  // Of a stretch shorter than one sweep the sweep that ends with it is taken.
  const n = Math.max(1, Math.min(count, 20));
  return { setting, count: n, fromMs: Math.max(0, toMs - n * setting.sweepMs) };
}

export const dbmOf = ({ tenthsDbm }: Swept): Float32Array => Float32Array.from(tenthsDbm, (tenths) => tenths / 10);

/** Takes sweeps in: into the traces, the waterfall and a recording under way. */
export function addSweeps(setting: SweepSetting, sweeps: readonly Swept[]): void {
  const now = useSweeps.getState();
  // Asked for under another setting.
  if (now.setting !== setting || now.hold) return;
  let { traces, gate, waits } = now;
  const taken: Swept[] = [];
  for (const swept of sweeps) {
    const levels = dbmOf(swept);
    if (now.triggered) {
      const answer = passesTrigger(now.trigger, gate, swept.atMs, levels);
      gate = answer.gate;
      waits = !answer.taken;
      if (waits) continue;
    } else waits = false;
    traces = addSweep(traces, levels, now.thresholdDbm, now.averageOver);
    taken.push(swept);
  }
  setSweeps({ traces, waits, gate, sweeps: [...now.sweeps, ...taken].slice(-MOST_SWEEPS) });
}

/** The traces of a recording, made again from its sweeps. */
export function tracesOf({ setting, sweeps }: Recording, thresholdDbm: number, over: number): Traces {
  let traces = noTraces(setting.bins);
  for (const swept of sweeps) traces = addSweep(traces, dbmOf(swept), thresholdDbm, over);
  return traces;
}

/** From the first sweep of a recording to the last, in ms. */
export const lengthMs = ({ sweeps }: Recording): number => (sweeps.at(-1)?.atMs ?? 0) - (sweeps[0]?.atMs ?? 0);

/** Replays a recording up to a time: from where it was on, or from its beginning where that lies before. */
export function replayTo(recording: Recording, untilMs: number): void {
  const { replay, thresholdDbm, averageOver } = useSweeps.getState();
  const { id, sweeps, setting } = recording;
  const on = replay !== null && replay.id === id && replay.untilMs <= untilMs;
  let { count, traces } = on ? replay : { count: 0, traces: noTraces(setting.bins) };
  const lastMs = (sweeps[0]?.atMs ?? 0) + untilMs;
  for (; count < sweeps.length && sweeps[count]!.atMs <= lastMs; count++) traces = addSweep(traces, dbmOf(sweeps[count]!), thresholdDbm, averageOver);
  setSweeps({ replay: { id, untilMs, count, traces } });
}
