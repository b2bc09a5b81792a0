'use client';
import Button from '@mui/material/Button';
import Link from 'next/link';
import { useCallback, useEffect, useRef, useState } from 'react';
import { accessPointsAround, floorsOf, projectOf, variantsOf, type Design } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { UpperRoomError } from '@/core/errors';
import { DIFFICULTIES, difficultyOf, ofDifficulty, trueTransmitters, type DifficultyId, type SiteParameters } from '@/core/survey/site';
import { emittersOf } from '@/engine/scene';
import { BANDS } from '@/core/radio/band';
import { NumberField, SelectField } from '../inspector/fields';
import { api } from '../state/api';
import { wordsOf } from '../state/notices';
import { FaultList } from './FaultList';
import { InterfererList } from './InterfererList';
import { NeighbourList } from './NeighbourList';
import { SitePlan } from './SitePlan';
import './site.css';

/** The training ground: what a floor of the simulated site is really like. It is hidden from everybody who designs and surveys, and shown only when asked for. */
export function SitePage({ projectId }: { projectId: string }) {
  const [design, setDesign] = useState<Design | null>(null);
  const [floorId, setFloorId] = useState<string | null>(null);
  const [variantId, setVariantId] = useState<string | null>(null);
  const [site, setSite] = useState<{ of: string; site: SiteParameters } | null>(null);
  const [shown, show] = useState(false);
  const [state, setState] = useState<'kept' | 'keeping' | 'not kept'>('kept');
  const [problem, setProblem] = useState<string | null>(null);
  const fail = useCallback((error: unknown) => {
    if (!(error instanceof UpperRoomError)) throw error;
    setProblem(wordsOf(error));
  }, []);
  useEffect(() => {
    let current = true;
    api.openProject(projectId).then(({ design: opened }) => {
      if (!current) return;
      setDesign(opened);
      setFloorId(floorsOf(opened)[0]?.id ?? null);
      setVariantId(variantsOf(opened).at(-1)?.id ?? null);
    }, fail);
    return () => void (current = false);
  }, [projectId, fail]);
  useEffect(() => {
    if (!shown || floorId === null) return;
    let current = true;
    api.getSite(projectId, floorId).then((answer) => current && setSite({ of: floorId, site: answer.site }), fail);
    return () => void (current = false);
  }, [projectId, floorId, shown, fail]);

  const asked = useRef(0);
  const keep = (next: SiteParameters) => {
    if (floorId === null) return;
    setSite({ of: floorId, site: next });
    setState('keeping');
    const mine = ++asked.current;
    api.putSite(projectId, floorId, next).then(
      () => {
        // Only the newest answer says that all is kept.
        if (mine !== asked.current) return;
        setState('kept');
        setProblem(null);
      },
      (error: unknown) => {
        setState('not kept');
        fail(error);
      },
    );
  };

  if (design === null) return <main className="site-page">{problem === null ? <p role="status">Opening …</p> : <p role="alert">{problem}</p>}</main>;
  const project = projectOf(design)!;
  const { units } = project;
  const own = site !== null && site.of === floorId ? site.site : null;
  const floor = floorId === null ? undefined : design.floors[floorId];
  const aps = floorId === null || variantId === null ? [] : accessPointsAround(design, floorId, variantId);
  const walls = Object.values(design.walls).filter((wall) => wall.floorId === floorId);
  return (
    <main className="site-page">
      <header>
        <h1>Training ground</h1>
        <p>{project.name}</p>
        <Link href={`/projects/${encodeURIComponent(projectId)}`}>Back to the project</Link>
        {shown && <span role="status">{state === 'kept' ? 'kept' : state === 'keeping' ? 'keeping …' : 'not kept'}</span>}
      </header>
      {problem !== null && <p role="alert">{problem}</p>}
      {!shown ? (
        <section className="gate">
          <p>
            Here is what the simulated site is really like: what surveys are meant to find out. Whoever surveys should not look; whoever sets an
            exercise does it here. What was measured stays as it was measured.
          </p>
          <Button variant="contained" onClick={() => show(true)}>
            Show what is hidden
          </Button>
        </section>
      ) : own === null || floor === undefined ? (
        <p role="status">Looking …</p>
      ) : (
        <div className="ground">
          <div>
            <SelectField
              label="floor"
              value={floorId!}
              options={floorsOf(design).map(({ id, name }) => ({ value: id, label: name }))}
              onCommit={setFloorId}
            />
            <SelectField
              label="access points of"
              value={variantId!}
              options={variantsOf(design).map(({ id, name }) => ({ value: id, label: name }))}
              onCommit={setVariantId}
            />
            <h2>The building</h2>
            <SelectField
              label="difficulty"
              value={difficultyOf(own) ?? 'own'}
              options={[
                ...DIFFICULTIES.map(({ id, label }) => ({ value: id as string, label })),
                ...(difficultyOf(own) === null ? [{ value: 'own', label: 'of its own' }] : []),
              ]}
              onCommit={(id) => id !== 'own' && keep(ofDifficulty(own, id as DifficultyId))}
            />
            {NUMBERS.map(({ label, unit, field, limits, digits }) => (
              <NumberField
                key={field}
                label={label}
                unit={unit}
                value={own[field] ?? 0}
                min={limits.min}
                max={limits.max}
                digits={digits}
                onCommit={(value) => keep({ ...own, [field]: value })}
              />
            ))}
            <NumberField
              label="seed"
              unit=""
              value={own.seed}
              min={-2147483648}
              max={4294967295}
              digits={0}
              onCommit={(seed) => keep({ ...own, seed: Math.round(seed) })}
            />
            <p>Another seed is another building of the same kind: other walls off, other shadows.</p>
          </div>
          <div>
            <SitePlan
              floor={floor}
              walls={walls}
              site={own}
              transmitters={trueTransmitters(
                emittersOf(
                  design,
                  aps.filter((ap) => ap.floorId === floor.id),
                  BANDS,
                  true,
                ).map(({ of, ...emitter }) => ({ ...emitter, bssid: '', ssid: of.name, apId: of.id })),
                own.faults ?? [],
              )}
            />
            <FaultList site={own} design={design} aps={aps} walls={walls} units={units} onSite={keep} />
            <NeighbourList site={own} onSite={keep} />
            <InterfererList site={own} onSite={keep} />
          </div>
        </div>
      )}
    </main>
  );
}

type NumberOf = 'exponentOffset' | 'wallSigmaDb' | 'shadowSigmaDb' | 'correlationM' | 'receiverOffsetDb' | 'dropOutsPerHour';
const NUMBERS: ReadonlyArray<Readonly<{ label: string; unit: string; field: NumberOf; limits: { min: number; max: number }; digits: number }>> = [
  { label: 'exponent off by', unit: '', field: 'exponentOffset', limits: LIMITS.site.exponentOffset, digits: 2 },
  { label: 'walls off by', unit: 'dB', field: 'wallSigmaDb', limits: LIMITS.site.wallSigmaDb, digits: 1 },
  { label: 'shadows', unit: 'dB', field: 'shadowSigmaDb', limits: LIMITS.site.shadowSigmaDb, digits: 1 },
  { label: 'shadows reach', unit: 'm', field: 'correlationM', limits: LIMITS.site.correlationM, digits: 1 },
  { label: 'receiver off by', unit: 'dB', field: 'receiverOffsetDb', limits: LIMITS.site.receiverOffsetDb, digits: 1 },
  { label: 'drop-outs', unit: '/h', field: 'dropOutsPerHour', limits: LIMITS.site.dropOutsPerHour, digits: 0 },
];
