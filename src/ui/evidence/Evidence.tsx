'use client';
import { memo, useRef } from 'react';
import type { Counted } from '@/core/survey/heard';
import { linkedAddresses } from '@/core/design/surveyCommands';
import { samplesByWalk } from '../state/samplesStore';
import { onFloorWalks } from '../stages/survey/walks';
import { useStillDesign, type Place } from '../state/selectors';
import { EVIDENCE_PX, hasMap, useSession, useSessionFields } from '../state/sessionStore';
import { useMap, useOtherMap } from '../state/useLens';
import { RetuneSheetTable } from '../stages/design/RetuneSheetTable';
import { useDocument } from '../state/documentStore';
import { TabRow } from '../kit/TabRow';
import { useCompared } from '../compare/compared';
import { csvOf } from '@/core/formats/csv';
import { CompareTable, useCompareRows } from '../compare/CompareTable';
import { saveFile } from '../kit/saveFile';
import { useMaterials } from '../state/useMaterials';
import { FitPanel } from './FitPanel';
import { FindingsTable } from '../checks/FindingsTable';
import { useFactsOf, useFindings } from '../checks/useFindings';
import { CSV_OF } from './csv';
import { CurvePanel } from './CurvePanel';
import { HistoryPanel } from './HistoryPanel';
import { KeysPanel } from './KeysPanel';
import { LegendPanel } from './LegendPanel';
import { MaterialsTable } from './MaterialsTable';
import { ClientTypesTable, ModelsTable } from '../equipment/EquipmentTables';
import { OwedTable } from './OwedTable';
import { RadiosTable } from './RadiosTable';
import { RefusedPanel } from './RefusedPanel';
import { SamplesTable } from './SamplesTable';
import { SightCut } from './SightCut';
import { TransfersTable } from './TransfersTable';
import { ZonesTable } from './ZonesTable';

/** The drawer below the plan: the table or chart behind what the map shows. */
export const Evidence = memo(function Evidence({ place, heard }: { place: Place; heard: Counted }) {
  const { stage, evidence, evidenceOpen, evidencePx, sheet, against, set } = useSessionFields(
    'stage',
    'evidence',
    'evidenceOpen',
    'evidencePx',
    'sheet',
    'against',
  );
  useFactsOf(place);
  const refusedCount = useDocument((s) => s.refused.length + s.unreadable.length);
  const tabs = [
    ...(stage === 'brief'
      ? [
          { id: 'owed', label: 'What is owed' },
          { id: 'models', label: 'Access point models' },
          { id: 'clients', label: 'Client types' },
        ]
      : []),
    ...(against !== null && stage === 'design' ? [{ id: 'compare', label: 'Comparison' }] : []),
    ...(!hasMap(stage)
      ? []
      : [
          { id: 'radios', label: 'Radios' },
          { id: 'curve', label: 'Coverage curve' },
          { id: 'zones', label: 'Zones' },
          { id: 'cut', label: 'Sight line' },
        ]),
    ...(stage === 'design' ? [{ id: 'findings', label: 'Findings' }] : []),
    ...(sheet !== null && stage === 'design' ? [{ id: 'sheet', label: 'Retune sheet' }] : []),
    ...(stage === 'survey'
      ? [
          { id: 'samples', label: 'Samples' },
          { id: 'fit', label: 'Fit' },
          { id: 'transfers', label: 'Throughput' },
        ]
      : []),
    ...(stage === 'building' ? [{ id: 'materials', label: 'Materials' }] : []),
    { id: 'history', label: 'History' },
    ...(refusedCount > 0 || evidence === 'refused' ? [{ id: 'refused', label: `Refused edits (${refusedCount})` }] : []),
    { id: 'legend', label: 'Legend' },
    ...(evidence === 'keys' ? [{ id: 'keys', label: 'Keys' }] : []),
  ];
  const open = tabs.some((tab) => tab.id === evidence) ? evidence : tabs[0]!.id;
  return (
    <section className="evidence" aria-label="Evidence">
      {evidenceOpen && <Edge heightPx={evidencePx} onChange={(px) => set({ evidencePx: px })} />}
      <div className="tabs">
        <TabRow
          label="Evidence"
          tabs={tabs}
          value={evidenceOpen ? open : null}
          controls="evidence-body"
          onChoose={(id) => set({ evidence: id, evidenceOpen: true })}
        />
        {evidenceOpen && CSV_OF[open] !== undefined && <SaveTable key={open} tab={open} place={place} />}
        <button
          type="button"
          aria-expanded={evidenceOpen}
          aria-controls="evidence-body"
          className="quiet-button fold"
          onClick={() => set({ evidenceOpen: !evidenceOpen })}
        >
          {evidenceOpen ? 'fold ▾' : 'unfold ▴'}
        </button>
      </div>
      {evidenceOpen && (
        <div
          key={open}
          className="body"
          style={{ height: evidencePx }}
          id="evidence-body"
          role="tabpanel"
          aria-labelledby={`tab-${open}`}
          tabIndex={0}
        >
          {open === 'owed' && <OwedTable units={place.project.units} />}
          {open === 'models' && <ModelsTable units={place.project.units} />}
          {open === 'clients' && <ClientTypesTable project={place.project} />}
          {open === 'compare' && <CompareTable place={place} />}
          {open === 'radios' && <RadiosTable place={place} />}
          {open === 'curve' && <CurvePanel place={place} />}
          {open === 'cut' && <SightCut place={place} />}
          {open === 'zones' && <ZonesTable place={place} />}
          {open === 'findings' && <FindingsTable place={place} />}
          {open === 'sheet' && sheet !== null && <RetuneSheetTable sheet={sheet} />}
          {open === 'fit' && <FitPanel place={place} heard={heard} />}
          {open === 'transfers' && <TransfersTable place={place} />}
          {open === 'samples' && <SamplesTable heard={heard} place={place} />}
          {open === 'materials' && <MaterialsTable place={place} />}
          {open === 'history' && <HistoryPanel />}
          {open === 'refused' && <RefusedPanel />}
          {open === 'legend' && <LegendPanel />}
          {open === 'keys' && <KeysPanel />}
        </div>
      )}
    </section>
  );
});

/** Keeps the table that is open as a file, as comma-separated values. */
function SaveTable({ tab, place }: { tab: string; place: Place }) {
  const design = useStillDesign();
  const { all: materials } = useMaterials();
  const compared = useCompared(place);
  const comparison = useCompareRows(place, compared);
  const { listed: findings } = useFindings(place);
  const save = () => {
    const [{ map }, { map: other }, { sheet }] = [useMap.getState(), useOtherMap.getState(), useSession.getState()];
    const then = compared === null || other === null ? null : { map: other, title: compared.title };
    const { walkId, alsoWalkIds, walkTime } = useSession.getState();
    const counted = onFloorWalks(design, place).filter(({ id }) => id === walkId || alsoWalkIds.includes(id));
    const walks = samplesByWalk(counted, linkedAddresses(design), walkTime);
    const table = CSV_OF[tab]!({ design, place, map, then, comparison, sheet, walks, materials, findings });
    if (table === null)
      return useDocument.getState().setNotice({ words: 'There is nothing to write yet: the map is on its way, or has no such table.' });
    saveFile(`${place.project.name} ${place.floor.name} ${tab}`, 'csv', new Blob([csvOf(table)], { type: 'text/csv' }));
  };
  return (
    <button type="button" className="quiet-button fold" onClick={save} title="Keep this table as a file of comma-separated values">
      save as CSV
    </button>
  );
}

/** The upper edge of the drawer: drag it, or move it with the arrow keys. */
function Edge({ heightPx, onChange }: { heightPx: number; onChange: (px: number) => void }) {
  const to = (px: number) => onChange(Math.round(Math.min(EVIDENCE_PX.max, Math.max(EVIDENCE_PX.min, px))));
  const from = useRef<{ y: number; px: number } | null>(null);
  return (
    <div
      role="separator"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label="Height of the evidence"
      aria-valuemin={EVIDENCE_PX.min}
      aria-valuemax={EVIDENCE_PX.max}
      aria-valuenow={heightPx}
      className="edge"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { y: event.clientY, px: heightPx };
      }}
      onPointerMove={(event) => from.current !== null && to(from.current.px + from.current.y - event.clientY)}
      onPointerUp={() => (from.current = null)}
      onPointerCancel={() => (from.current = null)}
      onKeyDown={(event) => {
        const delta = { ArrowUp: 20, ArrowDown: -20 }[event.key];
        if (delta === undefined) return;
        event.preventDefault();
        to(heightPx + delta);
      }}
    />
  );
}
