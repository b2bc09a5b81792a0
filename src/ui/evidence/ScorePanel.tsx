'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { bandLabel, type Place } from '../state/selectors';
import { useSessionFields } from '../state/sessionStore';
import { askScore, scoredKey, useScore } from '../stages/survey/score';
import { hiddenWords } from '../site/siteWords';

/** How the survey compares with the simulated site's truth: only when asked, and then it is said on the walks; an undo of that stands in the history. */
export function ScorePanel({ place }: { place: Place }) {
  const { walkId, alsoWalkIds, band } = useSessionFields('walkId', 'alsoWalkIds', 'band');
  const design = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const { of, busy, score, problem } = useScore();
  const [sure, setSure] = useState(false);
  const walkIds = [
    ...(walkId === null ? [] : [walkId]),
    ...alsoWalkIds.filter((id) => id !== walkId && design.walks[id]?.floorId === place.floor.id && design.walks[id].variantId === place.variant.id),
  ];
  const own = of !== null && of.projectId === projectId && of.key === scoredKey(place, walkIds, band);
  const { units } = place.project;
  const nameOf = (apId: string) => design.accessPoints[apId]?.name ?? 'deleted AP';
  return (
    <section aria-label="The truth">
      <div className="row">
        {!sure ? (
          <Button variant="outlined" color="secondary" disabled={busy} onClick={() => setSure(true)}>
            {`Compare with the truth, in ${bandLabel(band)}`}
          </Button>
        ) : (
          <>
            <p>The walks will say that the truth was looked at. It cannot be unseen.</p>
            <Button
              variant="contained"
              onClick={() => {
                setSure(false);
                void askScore(place, walkIds, band);
              }}
            >
              Look
            </Button>
            <Button color="secondary" onClick={() => setSure(false)}>
              Not now
            </Button>
          </>
        )}
      </div>
      {own && busy && <p role="status">Comparing: up to half a minute …</p>}
      {own && problem !== null && <p role="alert">{problem}</p>}
      {own && score !== null && (
        <div data-testid="score">
          <p>
            {score.map.measuredDb === null
              ? 'Nothing of the map can be compared.'
              : `The measured map differs from the truth by ${score.map.measuredDb.toFixed(1)} dB, the drawing by ${score.map.predictedDb!.toFixed(1)} dB (root mean square of ${score.map.compared} levels). ${(100 * score.map.held!).toFixed(0)} % lie within the interval that should hold 90 %.`}
          </p>
          {score.hidden.length === 0 ? (
            <p>Nothing is hidden here.</p>
          ) : (
            <ol className="faults" aria-label="What was hidden">
              {score.hidden.map(({ fault, found }, i) => (
                <li
                  key={i}
                >{`${found ? 'Found' : 'Not found'}: ${hiddenWords(fault, design, units)}${fault.kind === 'height' ? ' A walk at one height cannot tell that from shadows.' : ''}`}</li>
              ))}
            </ol>
          )}
          <p>{score.falseAlarms === 0 ? 'Nothing was told that is not so.' : `${score.falseAlarms} of what was told is not so.`}</p>
          {score.positions.length > 0 && (
            <p>
              {`Places, from the true ones: ${score.positions
                .map(
                  ({ apId, designedAwayM, foundAwayM }) =>
                    `${nameOf(apId)} drawn ${formatLength(designedAwayM, units, 1)}, located ${foundAwayM === null ? 'not' : formatLength(foundAwayM, units, 1)} away`,
                )
                .join('; ')}.`}
            </p>
          )}
        </div>
      )}
    </section>
  );
}
