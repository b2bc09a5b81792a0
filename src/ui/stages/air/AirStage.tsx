'use client';
import { useEffect, useMemo, useState } from 'react';
import { TabRow } from '../../kit/TabRow';
import type { Place } from '../../state/selectors';
import { AIR_TAB_LABEL, AIR_TABS, setAir, tick, useAir } from './airStore';
import { useSession } from '../../state/sessionStore';
import { AirPanel } from './AirPanel';
import { AirBar } from './AirBar';
import { ChannelDrawing } from './ChannelDrawing';
import { LoadTab } from './LoadTab';
import { NetworksTable } from './NetworksTable';
import { radiosOf } from './outlines';
import { OverTime } from './OverTime';
import { PlanTab } from './PlanTab';
import { MarkersPanel } from './MarkersPanel';
import { SpectrumControls } from './SpectrumControls';
import { useDocument } from '../../state/documentStore';
import { loadRecordings } from './recordings';
import { SpectrumView } from './SpectrumView';
import { useFiltered, useNames } from './useHeard';
import { useLoads } from './useLoad';
import { WhatTab } from './WhatTab';

/** How often the clock goes on, in real ms. */
const TICK_MS = 250;

/** Lets the simulated clock run while the stage is open. */
export function useAirClock(): void {
  useEffect(() => {
    let last = performance.now();
    const timer = setInterval(() => {
      const now = performance.now();
      // A window that was asleep does not make up for it.
      const elapsed = Math.min(1000, now - last);
      last = now;
      void tick(elapsed);
    }, TICK_MS);
    return () => clearInterval(timer);
  }, []);
}

/** Of which of our access points a better channel is asked: the one selected, else that listened from. */
function useAdvised(place: Place): string | null {
  const selection = useSession((s) => s.selection);
  const listensFrom = useAir((s) => s.apId);
  const selected = selection?.table === 'accessPoints' ? (selection.ids[0] ?? null) : null;
  return [selected, listensFrom].find((id) => id !== null && place.aps.some((ap) => ap.id === id)) ?? null;
}

/** How many networks were heard. */
const Counts = ({ shown, all }: { shown: number; all: number }) => (
  <span className="air-counts" role="status" aria-label="Networks">
    {`${shown === all ? all : `${shown} of ${all}`} networks`}
  </span>
);

/** The inspector of the stage. */
export function AirPanelHere({ place }: { place: Place }) {
  const { networks, ownerOf } = useFiltered(place);
  const apId = useAdvised(place);
  const tab = useAir((s) => s.tab);
  return (
    <>
      {tab === 'spectrum' && <MarkersPanel place={place} />}
      <AirPanel
        place={place}
        networks={networks}
        ownerOf={ownerOf}
        apId={apId}
        onAp={(id) => useSession.getState().set({ selection: id === '' ? null : { table: 'accessPoints', ids: [id] } })}
      />
    </>
  );
}

/** The middle of the stage: a drawing above, what is behind it below. */
export function AirStage({ place, plan }: { place: Place; plan: React.ReactNode }) {
  useAirClock();
  const projectId = useDocument((s) => s.projectId);
  useEffect(() => {
    if (projectId !== null) void loadRecordings(projectId);
  }, [projectId]);
  const apId = useAdvised(place);
  const tab = useAir((s) => s.tab);
  const band = useAir((s) => s.band);
  const picked = useAir((s) => s.picked);
  const planWide = useAir((s) => s.planWide);
  const [per, setPer] = useState(1);
  const nameOf = useNames();
  const { networks, ownerOf, all } = useFiltered(place);
  const { now: loads } = useLoads(band);
  const radios = useMemo(() => radiosOf(networks, band, ownerOf, nameOf, new Set(picked)), [networks, band, ownerOf, nameOf, picked]);
  return (
    <>
      <AirBar />
      <div className={`air-sheets ${tab}`}>
        {planWide ? (
          <div className="centre unscaled">{plan}</div>
        ) : (
          <div className="air-upper">
            {tab === 'spectrum' ? (
              <SpectrumView radios={radios} per={per} />
            ) : tab === 'what' ? null : (
              <ChannelDrawing place={place} radios={radios} loads={loads} />
            )}
          </div>
        )}
        <section className="evidence" aria-label="Evidence">
          <div className="tabs">
            <TabRow
              label="Air"
              tabs={AIR_TABS.map((id) => ({ id, label: AIR_TAB_LABEL[id] }))}
              value={tab}
              controls="air-body"
              onChoose={(id) => setAir({ tab: id })}
            />
            <Counts shown={networks.length} all={all} />
          </div>
          <div key={tab} className="body" id="air-body" role="tabpanel" aria-labelledby={`tab-${tab}`} tabIndex={0}>
            {tab === 'networks' && <NetworksTable networks={networks} ownerOf={ownerOf} place={place} />}
            {tab === 'time' && <OverTime networks={networks} nameOf={(bssid) => nameOf(ownerOf(bssid) ?? '')} />}
            {tab === 'load' && <LoadTab place={place} networks={networks} apId={apId} />}
            {tab === 'spectrum' && <SpectrumControls place={place} per={per} onPer={setPer} />}
            {tab === 'what' && <WhatTab place={place} />}
            {tab === 'plan' && <PlanTab place={place} ownerOf={ownerOf} />}
          </div>
        </section>
      </div>
    </>
  );
}
