'use client';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useState } from 'react';
import { domainOf, floorsOf, type Project } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { DEFAULT_RULES } from '@/core/planning/problem';
import type { RetuneProgress } from '@/core/planning/retune';
import { BANDS, type Band } from '@/core/radio/band';
import type { Sample } from '@/core/survey/sample';
import { CheckField, NumberField, SelectField } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { bandLabel, usePlace } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { CourseChart } from './CourseChart';
import { BandRules, LimitRules } from './RetuneRules';
import { RetuneGroups } from './RetuneGroups';
import { applySheet, discardSheet, previewSheet, selectedHere, useRetune, type RetuneAsk, type RetuneRun } from './useRetune';

/** What a retune may do, and its run. */
export function RetunePanel({ project, bands, samples }: { project: Project; bands: ReadonlySet<Band>; samples: readonly Sample[] }) {
  const place = usePlace();
  const inView = useSession((s) => s.band);
  const threshold = useSession((s) => s.thresholds.signal);
  const shownSheet = useSession((s) => s.sheet);
  const sheet = shownSheet?.applied === true ? null : shownSheet;
  const previewing = useSession((s) => s.preview?.kind === 'retune');
  useSession((s) => s.selection);
  const design = useDocument((s) => s.design);
  const set = useSession((s) => s.set);
  const domain = domainOf(project);
  const saved = place?.variant.retune ?? null;
  const [ask, setAsk] = useState<RetuneAsk>(() => {
    const { bands: wished, building, countPeople, starts, ...kept } = saved ?? { ...NOTHING_SAVED, bands: [inView], thresholdDbm: threshold };
    return {
      bands: saved === null ? wished : wished.filter((band) => bands.has(band)),
      rules: { ...DEFAULT_RULES, ...kept, domain },
      scope: building ? 'building' : 'floor',
      countPeople,
      starts,
    };
  });
  const { state, start, stop, cancel } = useRetune(samples);
  const { rules, bands: chosen } = ask;
  const change = (fields: Partial<RetuneAsk>) => setAsk((was) => ({ ...was, ...fields }));
  const changeRules = (fields: Partial<RetuneAsk['rules']>) => setAsk((was) => ({ ...was, rules: { ...was.rules, ...fields } }));
  const compute = (round: boolean) =>
    void start({ ...ask, scope, rules: { ...rules, domain, leastServiceDbm: useSession.getState().ignoreBelowDbm } }, round);
  if (place === null) return null;
  const floors = floorsOf(design);
  const selected = selectedHere(place);
  // What is selected may be gone meanwhile.
  const scope = ask.scope === 'selected' && selected === null ? 'floor' : ask.scope;
  const people = floors.some((floor) => Object.values(design.zones).some((zone) => zone.floorId === floor.id && (zone.people ?? 0) > 0));
  return (
    <div aria-label="Retune" role="region">
      <h2>Retune</h2>
      <p>Plans channels, widths and powers of the radios that are on, so that they share airtime as little as possible and coverage is kept.</p>
      <SelectField
        label="plan"
        value={scope}
        options={[
          { value: 'floor', label: place.floor.name },
          ...(floors.length > 1 ? [{ value: 'building' as const, label: `all ${floors.length} floors together` }] : []),
          ...(selected === null ? [] : [{ value: 'selected' as const, label: `the ${selected.length} selected` }]),
        ]}
        onCommit={(to) => change({ scope: to })}
      />
      {scope !== 'building' && place.around.length > (scope === 'selected' ? selected!.length : place.aps.length) && (
        <p>All other radios of the building stay as they are, and count where they are heard here.</p>
      )}
      <h3>Bands</h3>
      {BANDS.filter((band) => bands.has(band)).map((band) => (
        <CheckField
          key={band}
          label={bandLabel(band)}
          checked={chosen.includes(band)}
          onCommit={(on) => change({ bands: BANDS.filter((b) => (b === band ? on : chosen.includes(b))) })}
        />
      ))}
      {chosen.map((band) => (
        <BandRules
          key={band}
          domain={domain}
          band={band}
          aps={scope === 'building' ? place.around : place.aps}
          channels={rules.channels[band]}
          widthsMhz={rules.widthsMhz[band]}
          onChannels={(channels) => changeRules({ channels: { ...rules.channels, [band]: channels } })}
          onWidths={(widths) => changeRules({ widthsMhz: { ...rules.widthsMhz, [band]: widths } })}
        />
      ))}
      <LimitRules rules={rules} bands={chosen} onChange={changeRules} />
      <RetuneGroups rules={rules} bands={chosen} domain={domain} place={place} onChange={(groups) => changeRules({ groups })} />
      <h3>How it is judged</h3>
      {people && <CheckField label="by people expected, not area" checked={ask.countPeople} onCommit={(countPeople) => change({ countPeople })} />}
      <NumberField label="search from" value={ask.starts} unit="starts" {...LIMITS.starts} digits={0} onCommit={(starts) => change({ starts })} />
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
            <Button variant={sheet === null ? 'contained' : 'outlined'} disabled={chosen.length === 0} onClick={() => compute(false)}>
              {sheet === null ? 'Compute' : 'Compute again'}
            </Button>
          )}
          {sheet !== null && (
            <>
              {sheet.left.length > 0 && state.phase !== 'running' && (
                <Button variant="outlined" disabled={chosen.length === 0} onClick={() => compute(true)}>
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
              if (sheet !== null) discardSheet();
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

/** How a variant without rules begins. */
const NOTHING_SAVED = { building: false, countPeople: false, starts: 2 };

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
