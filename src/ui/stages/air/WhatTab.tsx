'use client';
import Button from '@mui/material/Button';
import { SIGNAL_KINDS } from '@/core/spectrum/signal';
import { bandLabel, type Place } from '../../state/selectors';
import { wholePercent } from '../../state/format';
import { identifyNow, setAir, spotKeyNow, useAir } from './airStore';
import { clock } from './clock';
import { evidenceWords, whereWords } from './evidenceWords';
import { KindPicture } from './KindPicture';
import { KeptSignals } from './KeptSignals';
import { keepFound, worthKeeping } from './signals';
import { labelOf, SIGNAL_WORDS } from '../../state/signalWords';

const percent = (share: number): string => (share >= 0.995 ? '> 99 %' : wholePercent(share));

/** What is on the air that is not Wi-Fi: told by what is measured of it; and a reference of the kinds there are. */
export function WhatTab({ place }: { place: Place }) {
  const band = useAir((s) => s.band);
  const busy = useAir((s) => s.busy);
  const identified = useAir((s) => s.identified);
  const here = identified !== null && identified.of === band && identified.spotKey === spotKeyNow() ? identified : null;
  return (
    <div className="air-what">
      <div className="air-filters">
        <Button size="small" variant="contained" disabled={busy !== null} onClick={() => void identifyNow()}>
          {here === null ? 'Look now' : 'Look again'}
        </Button>
        {busy === 'identify' && (
          <Button size="small" variant="outlined" color="secondary" onClick={() => setAir({ busy: null })}>
            Stop
          </Button>
        )}
        {here !== null && worthKeeping(here.found).length > 0 && (
          <Button size="small" variant="outlined" color="secondary" onClick={() => keepFound(place)}>
            Keep it at this spot
          </Button>
        )}
        <span role="status" aria-label="Identification">
          {busy === 'identify'
            ? `Looking at ${bandLabel(band)} …`
            : here === null
              ? `Looks at all of ${bandLabel(band)} for some seconds, leaves out the frames of Wi-Fi that are decoded, and holds what remains against each kind.`
              : here.found.length === 0
                ? `At ${clock(here.atMs)} nothing but Wi-Fi was on the air here that is louder than −88 dBm.`
                : `On the air here at ${clock(here.atMs)}, besides Wi-Fi:`}
        </span>
      </div>
      {here !== null && here.found.length > 0 && (
        <ol className="air-cards" aria-label="On the air now">
          {here.found.map((one, i) => {
            const { speaksFor, against } = evidenceWords(one.evidence);
            return (
              <li key={i} className="card found">
                <h3>
                  {labelOf(one.kind)}
                  {one.kind !== 'not known' && <span className="mono">{` ${percent(one.likelihood)}`}</span>}
                </h3>
                {one.kind !== 'not known' && <KindPicture kind={one.kind} />}
                <p>{whereWords(one)}.</p>
                {one.kind === 'not known' ? (
                  <p>None of the kinds below shows such bursts: look at it under Spectrum.</p>
                ) : (
                  <>
                    {speaksFor.length > 0 && <p>{`For it: ${speaksFor.join('; ')}.`}</p>}
                    {against.length > 0 && <p>{`Against it: ${against.join('; ')}.`}</p>}
                    {one.second !== null && one.second.likelihood >= 0.01 && (
                      <p>{`Next: ${labelOf(one.second.kind).toLowerCase()}, ${percent(one.second.likelihood)}.`}</p>
                    )}
                    <p>{SIGNAL_WORDS[one.kind].does}</p>
                    <p>
                      <b>{SIGNAL_WORDS[one.kind].remedy}</b>
                    </p>
                  </>
                )}
              </li>
            );
          })}
        </ol>
      )}
      <KeptSignals place={place} />
      <h3>Kinds of signal</h3>
      <ol className="air-cards" aria-label="Kinds of signal">
        {SIGNAL_KINDS.map((kind) => {
          const { label, looks, does, found, remedy } = SIGNAL_WORDS[kind];
          return (
            <li key={kind} className="card">
              <h3>{label}</h3>
              <KindPicture kind={kind} />
              <p>{looks}</p>
              <p>{`Does: ${does}`}</p>
              <p>{`Found in: ${found}`}</p>
              <p>{`Do: ${remedy}`}</p>
            </li>
          );
        })}
      </ol>
    </div>
  );
}
