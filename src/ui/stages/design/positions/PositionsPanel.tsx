'use client';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { TabRow } from '../../../kit/TabRow';
import type { Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import { HowManyTab } from './HowManyTab';
import { HungTab } from './HungTab';
import { forgetHung } from './hung';
import { ProposeTab } from './ProposeTab';
import { forgetProposal } from './proposal';

const TABS = [
  { id: 'new', label: 'New' },
  { id: 'hung', label: 'What hangs' },
  { id: 'many', label: 'How many' },
] as const;

/** Where access points should hang: new ones, what those that hang are worth, and how many a floor needs. */
export function PositionsPanel({ place }: { place: Place }) {
  const [tab, setTab] = useState<(typeof TABS)[number]['id']>('new');
  useEffect(() => forgetHung, []);
  const key = `${place.floor.id}/${place.variant.id}`;
  return (
    <div role="region" aria-label="Propose positions">
      <h2>Positions</h2>
      <TabRow label="Positions" tabs={TABS} value={tab} controls="positions-body" onChoose={setTab} />
      <div id="positions-body" role="tabpanel" aria-labelledby={`tab-${tab}`}>
        {tab === 'new' && <ProposeTab key={key} place={place} />}
        {tab === 'hung' && <HungTab key={key} place={place} />}
        {tab === 'many' && <HowManyTab key={key} place={place} />}
      </div>
      <div className="row">
        <Button
          color="secondary"
          onClick={() => {
            forgetProposal();
            useSession.getState().set({ proposing: false });
          }}
        >
          Close
        </Button>
      </div>
    </div>
  );
}
