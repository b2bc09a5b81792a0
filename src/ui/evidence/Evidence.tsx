'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { memo, useCallback, useMemo, useRef } from 'react';
import type { Sample } from '@/core/survey/sample';
import { MATERIALS, materialLossDb } from '@/core/building/material';
import { wallLengthM } from '@/core/building/wall';
import { onFloor, type AccessPoint, type Radio } from '@/core/design/design';
import { modelOf } from '@/core/radio/catalogue';
import { lawProblem, lawWords } from '@/core/radio/law';
import { BANDS } from '@/core/radio/band';
import { formatArea, formatLength } from '@/core/units/length';
import { LENSES, lensOf } from '@/core/fields/lenses';
import { signed } from '../state/format';
import { BAND_MARK, useViewDesign, type Place } from '../state/selectors';
import { EVIDENCE_PX, useSession, useSessionFields } from '../state/sessionStore';
import type { LensResult } from '@/engine/protocol';
import { useMap } from '../state/useLens';
import { RetuneSheetTable } from '../stages/design/RetuneSheetTable';
import { useDocument } from '../state/documentStore';
import { BreachMark } from '../kit/BreachMark';
import { TabRow } from '../kit/TabRow';
import { VirtualBody } from '../kit/VirtualBody';
import { CurveChart } from './CurveChart';
import { HistoryPanel } from './HistoryPanel';
import { KeysPanel } from './KeysPanel';
import { LegendPanel } from './LegendPanel';
import { RefusedPanel } from './RefusedPanel';

/** The drawer below the plan: the table or chart behind what the map shows. */
export function Evidence({ place, samples }: { place: Place; samples: readonly Sample[] }) {
  const { stage, evidence, evidenceOpen, evidencePx, sheet, set } = useSessionFields('stage', 'evidence', 'evidenceOpen', 'evidencePx', 'sheet');
  const refusedCount = useDocument((s) => s.refused.length + s.unreadable.length);
  const tabs = [
    ...(stage === 'building'
      ? []
      : [
          { id: 'radios', label: 'Radios' },
          { id: 'curve', label: 'Coverage curve' },
        ]),
    ...(sheet !== null && stage === 'design' ? [{ id: 'sheet', label: 'Retune sheet' }] : []),
    ...(stage === 'survey' ? [{ id: 'samples', label: 'Samples' }] : []),
    ...(stage === 'building' ? [{ id: 'materials', label: 'Walls by material' }] : []),
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
        <div className="body" style={{ height: evidencePx }} id="evidence-body" role="tabpanel" aria-labelledby={`tab-${open}`} tabIndex={0}>
          {open === 'radios' && <RadiosTable place={place} />}
          {open === 'curve' && <Curve />}
          {open === 'sheet' && sheet !== null && <RetuneSheetTable sheet={sheet} />}
          {open === 'samples' && <SamplesTable samples={samples} place={place} />}
          {open === 'materials' && <MaterialsTable place={place} />}
          {open === 'history' && <HistoryPanel />}
          {open === 'refused' && <RefusedPanel />}
          {open === 'legend' && <LegendPanel />}
          {open === 'keys' && <KeysPanel />}
        </div>
      )}
    </section>
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

type RadioRowProps = {
  ap: AccessPoint;
  radio: Radio;
  area: string;
  mean: string;
  shares: string | null;
  who: string | null;
  /** What model or law do not allow of it. */
  breach: string | null;
  chosen: boolean;
  onPick: (id: string) => void;
  index: number;
  measure: ((element: HTMLTableRowElement | null) => void) | undefined;
};

/** Plain cells and plain values: with 200 access points there are 400 rows, and a drag changes few of them. */
const RadioRow = memo(function RadioRow({ ap, radio, area, mean, shares, who, breach, chosen, onPick, index, measure }: RadioRowProps) {
  return (
    <tr ref={measure} data-index={index} aria-current={chosen ? 'true' : undefined} onClick={() => onPick(ap.id)}>
      <td>
        <button type="button" className="plain" aria-label={`${ap.name}, ${radio.band} GHz`} onClick={() => onPick(ap.id)}>
          {ap.name}
        </button>
      </td>
      <td>{`${BAND_MARK[radio.band]} ${radio.band}`}</td>
      <td className="mono">{radio.on ? `${radio.channel}/${radio.widthMhz}` : 'off'}</td>
      <td className="mono">
        {radio.on ? signed(radio.txPowerDbm) : '–'}
        {breach !== null && <BreachMark words={breach} />}
      </td>
      <td>{modelOf(ap.modelId).name}</td>
      <td className="mono">{area}</td>
      <td className="mono">{mean}</td>
      {shares !== null && <td className="mono">{shares}</td>}
      {who !== null && <td className="wide">{who}</td>}
    </tr>
  );
});

function RadiosTable({ place }: { place: Place }) {
  const map = useMap((s) => s.map);
  const selection = useSession((s) => s.selection);
  const set = useSession((s) => s.set);
  const rows = useMemo(() => place.aps.flatMap((ap) => ap.radios.map((radio) => ({ ap, radio }))), [place.aps]);
  const pick = useCallback((id: string) => set({ selection: { table: 'accessPoints', ids: [id] } }), [set]);
  const servedOf = useMemo(() => new Map(map?.radios.map((radio, i) => [`${radio.ap.id}/${radio.band}`, map.served[i]!])), [map]);
  const measured = useSession((s) => s.source === 'measured');
  // Contention and Overlap name who, and how much of the radio's area they count in.
  const counted = map !== null && map.sharers !== null && !measured;
  const sharersOf = useMemo(() => new Map(map?.radios.map((radio, i) => [`${radio.ap.id}/${radio.band}`, map.sharers?.[i]])), [map]);
  const nameOf = (radio: number) => map!.radios[radio]!.ap.name;
  return (
    <table className="dense" aria-label="Radios">
      <thead>
        <tr>
          {[
            'radio',
            'band',
            'channel/MHz',
            'dBm',
            'model',
            ...(measured ? ['serves, predicted', 'mean dBm, predicted'] : ['serves', 'mean dBm']),
            ...(counted ? ['shares with, mean', 'who, in % of its area'] : []),
          ].map((head) => (
            <th key={head} scope="col">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <VirtualBody
        items={rows}
        rowPx={27}
        columns={counted ? 9 : 7}
        row={({ ap, radio }, index, measure) => {
          const served = servedOf.get(`${ap.id}/${radio.band}`);
          const problem = lawProblem(place.project.domain, ap.modelId, radio);
          return (
            <RadioRow
              key={`${ap.id}/${radio.band}`}
              ap={ap}
              radio={radio}
              area={served === undefined ? '–' : formatArea(served.areaM2, place.project.units)}
              shares={counted ? meanOf(sharersOf.get(`${ap.id}/${radio.band}`)) : null}
              who={counted ? listed(sharersOf.get(`${ap.id}/${radio.band}`), nameOf) : null}
              mean={served === undefined || Number.isNaN(served.meanDbm) ? '–' : signed(served.meanDbm, 1)}
              breach={problem === null ? null : lawWords(problem)}
              chosen={selection?.table === 'accessPoints' && selection.ids.includes(ap.id)}
              onPick={pick}
              index={index}
              measure={measure}
            />
          );
        }}
      />
    </table>
  );
}

type Sharers = NonNullable<LensResult['sharers']>[number] | undefined;

/** The mean of a radio's own area; a dash for another band's radio, or one that serves nowhere. */
const meanOf = (sharers: Sharers): string => (sharers === undefined || Number.isNaN(sharers.mean) ? '–' : sharers.mean.toFixed(2));

/** Who, each with the share of the area; the first few of many with the number of the others. */
function listed(sharers: Sharers, nameOf: (radio: number) => string): string {
  if (sharers === undefined || Number.isNaN(sharers.mean)) return '–';
  const { who } = sharers;
  if (who.length === 0) return 'nobody';
  const shown = who.slice(0, 6).map(({ radio, share }) => `${nameOf(radio)} ${percent(share)}`);
  return who.length > 6 ? `${shown.join(', ')} and ${who.length - 6} more` : shown.join(', ');
}

const percent = (share: number): string => (share > 0 && share < 0.005 ? '<1' : (share * 100).toFixed(0));

function Curve() {
  const map = useMap((s) => s.map);
  const lens = useSession((s) => s.lens);
  const { label, unit, curve, threshold } = lensOf(lens);
  if (curve === null || threshold === null) {
    const others = LENSES.filter((other) => other.curve !== null).map((other) => other.label);
    return <p className="empty">{`${label} has no order and so no curve; choose ${others.join(', ')}.`}</p>;
  }
  if (map === null || map.lens !== lens) return <p className="empty">The map is on its way.</p>;
  return (
    <CurveChart
      from={curve.from}
      step={curve.step}
      shares={map.curve}
      threshold={map.threshold}
      unit={unit}
      better={threshold.sense === 'least' ? 'or more' : 'or fewer'}
    />
  );
}

function SamplesTable({ samples, place }: { samples: readonly Sample[]; place: Place }) {
  const rows = useMemo(() => {
    const by = new Map<
      string,
      { ssid: string; apId: string | null; band: Sample['band']; channel: number; widthMhz: number; count: number; sum: number; best: number }
    >();
    for (const s of samples) {
      const row = by.get(s.bssid) ?? {
        ssid: s.ssid,
        apId: s.apId,
        band: s.band,
        channel: s.channel,
        widthMhz: s.widthMhz,
        count: 0,
        sum: 0,
        best: -Infinity,
      };
      by.set(s.bssid, { ...row, count: row.count + 1, sum: row.sum + s.rssiDbm, best: Math.max(row.best, s.rssiDbm) });
    }
    return [...by].sort(([, a], [, b]) => b.best - a.best);
  }, [samples]);
  if (rows.length === 0) return <p className="empty">No samples yet: start a walk, or choose one at the right.</p>;
  return (
    <Table size="small" stickyHeader aria-label="Samples by network">
      <TableHead>
        <TableRow>
          {['AP', 'BSSID', 'SSID', 'band', 'channel/MHz', 'heard, times', 'strongest dBm', 'mean dBm'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(([bssid, row]) => (
          <TableRow key={bssid}>
            <TableCell sx={{ fontWeight: 600 }}>
              {row.apId === null ? 'not ours' : (place.aps.find((ap) => ap.id === row.apId)?.name ?? 'deleted AP')}
            </TableCell>
            <TableCell className="mono">{bssid}</TableCell>
            <TableCell>{row.ssid}</TableCell>
            <TableCell>{`${BAND_MARK[row.band]} ${row.band}`}</TableCell>
            <TableCell className="mono">{`${row.channel}/${row.widthMhz}`}</TableCell>
            <TableCell className="mono">{row.count}</TableCell>
            <TableCell className="mono">{signed(row.best)}</TableCell>
            <TableCell className="mono">{signed(row.sum / row.count, 1)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function MaterialsTable({ place }: { place: Place }) {
  const rows = useWallsByMaterial(place);
  return (
    <Table size="small" stickyHeader aria-label="Walls by material">
      <TableHead>
        <TableRow>
          {['material', 'walls', 'length', 'loss 2.4 GHz', 'loss 5 GHz', 'loss 6 GHz'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((row) => (
          <TableRow key={row.name}>
            <TableCell>{row.name}</TableCell>
            <TableCell className="mono">{row.count}</TableCell>
            <TableCell className="mono">{row.length}</TableCell>
            {row.lossDb.map((lossDb, i) => (
              <TableCell key={i} className="mono">
                {lossDb.toFixed(1)} dB
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function useWallsByMaterial(place: Place) {
  const design = useViewDesign();
  return useMemo(() => {
    const walls = onFloor(design, 'walls', place.floor.id);
    return MATERIALS.map((material) => {
      const own = walls.filter((wall) => wall.materialId === material.id);
      return {
        name: material.name,
        count: own.length,
        length: formatLength(
          own.reduce((sum, wall) => sum + wallLengthM(wall), 0),
          place.project.units,
          1,
        ),
        lossDb: BANDS.map((band) => materialLossDb(material.id, band)),
      };
    }).filter((row) => row.count > 0);
  }, [design, place]);
}
