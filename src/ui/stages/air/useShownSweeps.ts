import { useMemo } from 'react';
import type { SweepSetting } from '@/core/spectrum/sweep';
import type { Traces } from '@/core/spectrum/traces';
import { tracesOf, useSweeps, type Swept } from './sweepStore';

/** What is shown: the recording that plays, or what is live; and the one drawn beside it, where it has the same span. */
export function useShownSweeps(): { setting: SweepSetting; traces: Traces; sweeps: readonly Swept[]; beside: Traces | null } {
  const live = useSweeps((s) => s.traces);
  const sweeps = useSweeps((s) => s.sweeps);
  const liveSetting = useSweeps((s) => s.setting);
  const recordings = useSweeps((s) => s.recordings);
  const playing = useSweeps((s) => s.playing);
  const besideId = useSweeps((s) => s.beside);
  const thresholdDbm = useSweeps((s) => s.thresholdDbm);
  const over = useSweeps((s) => s.averageOver);
  const recording = recordings.find(({ id }) => id === playing);
  const other = recordings.find(({ id }) => id === besideId);
  const replay = useSweeps((s) => (s.replay !== null && s.replay.id === s.playing ? s.replay : null));
  const whole = useMemo(
    () => (recording === undefined || replay !== null ? null : tracesOf(recording, thresholdDbm, over)),
    [recording, replay, thresholdDbm, over],
  );
  const played = useMemo(() => (replay === null ? recording?.sweeps : recording?.sweeps.slice(0, replay.count)), [recording, replay]);
  const setting = recording?.setting ?? liveSetting;
  const beside = useMemo(
    () =>
      other === undefined ||
      other.setting.startMhz !== setting.startMhz ||
      other.setting.stopMhz !== setting.stopMhz ||
      other.setting.bins !== setting.bins
        ? null
        : tracesOf(other, thresholdDbm, over),
    [other, setting, thresholdDbm, over],
  );
  return { setting, traces: replay?.traces ?? whole ?? live, sweeps: played ?? sweeps, beside };
}
