'use client';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useState } from 'react';
import { domainOf, type Project } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { DEFAULT_RULES, type PlanRules } from '@/core/planning/problem';
import type { RetuneProgress } from '@/core/planning/retune';
import { BANDS, WIDTHS_MHZ, type Band, type WidthMhz } from '@/core/radio/band';
import { allowedWidths } from '@/core/radio/regulation';
import type { Sample } from '@/core/survey/sample';
import { CheckField, NumberField } from '../../inspector/fields';
import { bandLabel, usePlace } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { BandSheet } from './BandSheet';
import { CourseChart } from './CourseChart';
import { applySheet, discardSheet, previewSheet, useRetune, type RetuneRun } from './useRetune';

/** What a retune may do, and its run. */
export function RetunePanel({ project, bands, samples }: { project: Project; bands: ReadonlySet<Band>; samples: readonly Sample[] }) {
  const place = usePlace();
  const inView = useSession((s) => s.band);
  const threshold = useSession((s) => s.thresholds.signal);
  const sheet = useSession((s) => s.sheet);
  const previewing = useSession((s) => s.preview?.kind === 'retune');
  const set = useSession((s) => s.set);
  const saved = place?.variant.retune ?? null;
  const [chosen, setChosen] = useState<ReadonlySet<Band>>(new Set(saved?.bands.filter((band) => bands.has(band)) ?? [inView]));
  const [rules, setRules] = useState<PlanRules>(() => {
    const { bands: _bands, ...kept } = saved ?? { bands: [], thresholdDbm: threshold };
    return { ...DEFAULT_RULES, ...kept, domain: domainOf(project) };
  });
  const { state, start, stop, cancel } = useRetune(samples);
  const compute = (round: boolean) =>
    void start([...chosen], { ...rules, domain: domainOf(project), leastServiceDbm: useSession.getState().ignoreBelowDbm }, round);
  const change = (fields: Partial<PlanRules>) => setRules((was) => ({ ...was, ...fields }));
  const toggleWidth = (band: Band, widthMhz: WidthMhz, on: boolean) =>
    change({ widthsMhz: { ...rules.widthsMhz, [band]: WIDTHS_MHZ.filter((w) => (w === widthMhz ? on : rules.widthsMhz[band].includes(w))) } });
  return (
    <div aria-label="Retune" role="region">
      <h2>Retune</h2>
      <p>Plans channels, widths and powers of the radios that are on, so that they share airtime as little as possible and coverage is kept.</p>
      {place !== null && place.around.length > place.aps.length && (
        <p>{`It plans the radios of ${place.floor.name}. Those of other floors stay as they are, and count where they are heard here.`}</p>
      )}
      <h3>Bands</h3>
      {BANDS.filter((band) => bands.has(band)).map((band) => (
        <CheckField
          key={band}
          label={bandLabel(band)}
          checked={chosen.has(band)}
          onCommit={(on) => setChosen(new Set(BANDS.filter((b) => (b === band ? on : chosen.has(b)))))}
        />
      ))}
      {[...chosen].map((band) => {
        const ours = new Map<number, number>();
        for (const { radios } of place?.aps ?? [])
          for (const radio of radios) if (radio.band === band && radio.on) ours.set(radio.channel, (ours.get(radio.channel) ?? 0) + 1);
        return (
          <div key={band}>
            <h3>{bandLabel(band)}</h3>
            <BandSheet
              domain={domainOf(project)}
              band={band}
              channels={rules.channels[band]}
              ours={ours}
              onChange={(channels) => change({ channels: { ...rules.channels, [band]: channels } })}
            />
            {allowedWidths(domainOf(project), band).map((w) => (
              <CheckField key={w} label={`${w} MHz`} checked={rules.widthsMhz[band].includes(w)} onCommit={(on) => toggleWidth(band, w, on)} />
            ))}
          </div>
        );
      })}
      <h3>Limits</h3>
      {chosen.has('5') && <CheckField label="use DFS" checked={rules.useDfs} onCommit={(useDfs) => change({ useDfs })} />}
      <CheckField label="plan power" checked={rules.planPower} onCommit={(planPower) => change({ planPower })} />
      {chosen.has('2.4') && (
        <CheckField label="may switch off 2.4 GHz radios" checked={rules.maySwitchOff24} onCommit={(maySwitchOff24) => change({ maySwitchOff24 })} />
      )}
      <NumberField
        label="minimum power"
        value={rules.minPowerDbm}
        unit="dBm"
        min={LIMITS.txPowerDbm.min}
        max={rules.maxPowerDbm}
        digits={1}
        onCommit={(minPowerDbm) => change({ minPowerDbm })}
      />
      <NumberField
        label="maximum power"
        value={rules.maxPowerDbm}
        unit="dBm"
        min={rules.minPowerDbm}
        max={LIMITS.txPowerDbm.max}
        digits={1}
        onCommit={(maxPowerDbm) => change({ maxPowerDbm })}
      />
      <NumberField
        label="headroom"
        value={rules.headroomDb}
        unit="dB"
        {...LIMITS.headroomDb}
        digits={1}
        onCommit={(headroomDb) => change({ headroomDb })}
      />
      {rules.planPower && (
        <NumberField
          label="power spread"
          value={rules.powerSpreadDb}
          unit="dB"
          {...LIMITS.powerSpreadDb}
          digits={1}
          onCommit={(powerSpreadDb) => change({ powerSpreadDb })}
        />
      )}
      <NumberField
        label="coverage to keep"
        value={rules.coverageShare * 100}
        unit="%"
        min={0}
        max={100}
        digits={1}
        onCommit={(percent) => change({ coverageShare: percent / 100 })}
      />
      <NumberField
        label="at this level"
        value={rules.thresholdDbm}
        unit="dBm"
        min={-90}
        max={-40}
        digits={0}
        onCommit={(thresholdDbm) => change({ thresholdDbm })}
      />
      <NumberField
        label="change penalty"
        value={rules.changePenalty}
        unit="radios"
        {...LIMITS.changePenalty}
        digits={3}
        onCommit={(changePenalty) => change({ changePenalty })}
      />
      {samples.length > 0 && <p>Networks of others heard on the chosen walk are counted in, each in the cells where it was heard.</p>}
      <div className="actions">
        {state.phase === 'running' && <Running state={state} />}
        {state.phase === 'failed' && (
          <p role="alert" className="urgent">
            {state.message}
          </p>
        )}
        <div className="row">
          {state.phase === 'running' ? (
            <Button variant="outlined" color="secondary" disabled={state.stopping} onClick={stop}>
              {state.stopping ? 'Stopping …' : 'Stop'}
            </Button>
          ) : (
            <Button variant={sheet === null ? 'contained' : 'outlined'} disabled={chosen.size === 0} onClick={() => compute(false)}>
              {sheet === null ? 'Compute' : 'Compute again'}
            </Button>
          )}
          {sheet !== null && (
            <>
              {sheet.left.length > 0 && state.phase !== 'running' && (
                <Button variant="outlined" disabled={chosen.size === 0} onClick={() => compute(true)}>
                  Keep the ticked, plan the rest
                </Button>
              )}
              <Button variant="contained" disabled={sheet.left.length === sheet.rows.length} onClick={applySheet}>
                {sheet.left.length === 0 ? 'Apply' : 'Apply what is ticked'}
              </Button>
              <Button variant="outlined" color="secondary" onClick={discardSheet}>
                Discard
              </Button>
            </>
          )}
          <Button
            color="secondary"
            onClick={() => {
              cancel();
              discardSheet();
              set({ retuneOpen: false });
            }}
          >
            Close
          </Button>
        </div>
        {sheet !== null && <CheckField label="on the map" checked={previewing} onCommit={previewSheet} />}
      </div>
    </div>
  );
}

/** Where the search is, in words. */
function wordsOfProgress(progress: RetuneProgress | null): string {
  if (progress === null) return 'preparing';
  const { band, stage, bestCost, costBefore, bound } = progress;
  const apart =
    bound === null || bestCost <= 0 ? '' : `, no choice under ${bound.toFixed(2)} (${Math.round((100 * (bestCost - bound)) / bestCost)} % apart)`;
  return `${band} GHz, ${stage}: best so far ${bestCost.toFixed(2)}${apart}, today ${costBefore.toFixed(2)} radios`;
}

function Running({ state: { startedAt, progress, course } }: { state: Extract<RetuneRun, { phase: 'running' }> }) {
  const [now, setNow] = useState(startedAt);
  useEffect(() => {
    const timer = setInterval(() => setNow(performance.now()), 100);
    return () => clearInterval(timer);
  }, []);
  return (
    <div role="status" className="running">
      <LinearProgress aria-label="Retune runs" />
      <p className="mono">{`${((now - startedAt) / 1000).toFixed(1)} s · ${wordsOfProgress(progress)}`}</p>
      {course.length > 1 && <CourseChart course={course} today={progress!.costBefore} />}
    </div>
  );
}
