'use client';
import { useId } from 'react';
import { BANDS } from '@/core/radio/band';
import { Choice } from '../../kit/Choice';
import { NumberEntry } from '../../kit/NumberEntry';
import { useDocument } from '../../state/documentStore';
import { bandLabel } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { jumpToHour, PACES, setAir, useAir } from './airStore';
import { clock, hourOf } from './clock';

/** Hours that are worth a look. */
const HOURS = [
  { value: 3, label: 'night, 03:00' },
  { value: 10, label: 'opening, 10:00' },
  { value: 12.25, label: 'lunch, 12:15' },
  { value: 15, label: 'afternoon, 15:00' },
  { value: 20.5, label: 'evening, 20:30' },
] as const;

/** What of the air is looked at, and the clock of the simulated day. */
export function AirBar() {
  const band = useAir((s) => s.band);
  const onlyOurs = useAir((s) => s.onlyOurs);
  const clockMs = useAir((s) => s.clockMs);
  const running = useAir((s) => s.running);
  const pace = useAir((s) => s.pace);
  const ignoreBelowDbm = useSession((s) => s.ignoreBelowDbm);
  const id = useId();
  return (
    <div className="lensbar air-bar" role="toolbar" aria-label="Air">
      <span className="chip">
        <label htmlFor={`${id}-band`}>band</label>
        <Choice
          id={`${id}-band`}
          value={band}
          options={BANDS.map((value) => ({ value, label: bandLabel(value) }))}
          onChoose={(value) => setAir({ band: value })}
        />
      </span>
      <span className="chip">
        <label htmlFor={`${id}-below`}>ignore below</label>
        <NumberEntry
          id={`${id}-below`}
          label="Ignore below"
          unit="dBm"
          value={ignoreBelowDbm}
          min={-100}
          max={-40}
          digits={0}
          onProblem={(words) => words !== null && useDocument.getState().setNotice({ words })}
          onCommit={(dbm) => useSession.getState().set({ ignoreBelowDbm: dbm })}
        />
      </span>
      <span className="chip">
        <label htmlFor={`${id}-whose`}>of</label>
        <Choice
          id={`${id}-whose`}
          value={onlyOurs}
          options={[
            { value: 'everybody', label: 'everybody' },
            { value: 'ours', label: 'ours' },
            { value: 'others', label: 'others' },
          ]}
          onChoose={(value) => setAir({ onlyOurs: value })}
        />
      </span>
      <span className="air-clock">
        <Clock key={running ? 'running' : clockMs} clockMs={clockMs} running={running} />
        <button type="button" className="quiet-button" onClick={() => setAir({ running: !running })}>
          {running ? 'pause' : 'run'}
        </button>
        <Choice
          label="Pace of the clock"
          value={pace}
          options={PACES.map((value) => ({ value, label: `${value}×` }))}
          onChoose={(value) => setAir({ pace: value })}
        />
        <Choice
          label="Jump to"
          value={-1}
          options={[{ value: -1, label: 'jump to …' }, ...HOURS]}
          onChoose={(hour) => hour >= 0 && jumpToHour(hour)}
        />
      </span>
    </div>
  );
}

/** The time of the simulated day; while it stands, another can be typed. */
function Clock({ clockMs, running }: { clockMs: number; running: boolean }) {
  if (running)
    return (
      <span className="mono" role="timer" aria-label="Simulated time">
        {clock(clockMs)}
      </span>
    );
  return (
    <input
      className="mono time"
      aria-label="Simulated time"
      defaultValue={clock(clockMs)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={(event) => {
        const hour = hourOf(event.currentTarget.value);
        if (hour === null) {
          event.currentTarget.value = clock(clockMs);
          useDocument.getState().setNotice({ words: 'A time of the day is written as 12:15; the clock stays as it was.' });
        } else if (clock(clockMs) !== event.currentTarget.value) jumpToHour(hour);
      }}
    />
  );
}
