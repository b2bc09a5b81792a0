'use client';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { lastSpot } from '@/core/survey/walk';
import { PACE_M_S } from '@/core/survey/receiver';
import type { Walk } from '@/core/design/design';
import { formatLength } from '@/core/units/length';
import { CheckField, LengthField } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { percent } from '../../state/format';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { useMap } from '../../state/useLens';
import { roomAt } from '../../readout/heardHere';
import { forgetRoute, routeFor, suggestPlaces, suggestRoute, trustIn, useRoute } from './route';
import { walkAlong } from './walker';

/** A suggested walk: asked for, told, and walked along. `under`: the walk under way. */
export function RoutePanel({ place, under }: { place: Place; under: Walk | undefined }) {
  const state = useRoute();
  const { everyM, unsureOnly, done, problem } = state;
  const design = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const map = useMap((s) => s.map);
  useSession((s) => s.lens);
  const { units } = place.project;
  const route = routeFor(state, projectId, place.floor.id);
  const places = state.of?.projectId === projectId && state.of?.floorId === place.floor.id ? state.places : null;
  const trust = trustIn(map, place.floor);
  const minutes = route === null ? 0 : route.lengthM / PACE_M_S / 60;
  return (
    <>
      <h3>Suggested route</h3>
      <LengthField label="past each" valueM={everyM} units={units} minM={1} maxM={50} onCommit={(m) => useRoute.setState({ everyM: m })} />
      {trust !== null && (
        <CheckField
          label={`only where it is less sure than ${trust.threshold} dB`}
          checked={unsureOnly}
          onCommit={(only) => useRoute.setState({ unsureOnly: only })}
        />
      )}
      {done !== null && <LinearProgress variant="determinate" value={done * 100} aria-label="Share of ways worked out" />}
      {problem !== null && <p role="alert">{problem}</p>}
      {route !== null && (
        <p role="status" data-testid="route">
          {route.stops === 0
            ? 'There is nothing to walk to: all is sure, or nothing of it can be walked to.'
            : `${formatLength(route.lengthM, units, 0)} past ${route.stops} stops, about ${minutes < 1 ? 'a minute' : `${Math.ceil(minutes)} min`} at ${PACE_M_S} m/s.${
                route.unreached > 0.005 ? ` ${percent(route.unreached)} of the area cannot be walked to from there: no door leads to it.` : ''
              }`}
        </p>
      )}
      {places !== null && (
        <ol className="next-places" aria-label="Where to walk next">
          {places.length === 0 && <li>Nowhere: all is sure, or nothing of it can be walked to.</li>}
          {places.map((one) => (
            <li key={`${one.at.xM}/${one.at.yM}`}>
              <button type="button" className="plain" aria-pressed={route === one.route} onClick={() => useRoute.setState({ route: one.route })}>
                {roomAt(design, place, one.at)}
              </button>
              {`: ${percent(one.share)} of what is not sure, ${formatLength(one.route.lengthM, units, 0)} to walk`}
            </li>
          ))}
        </ol>
      )}
      <div className="row">
        {trust !== null && (
          <Button
            variant="outlined"
            color="secondary"
            disabled={done !== null}
            onClick={() => void suggestPlaces(place, trust, under === undefined ? null : lastSpot(under.legs))}
          >
            Where next?
          </Button>
        )}
        <Button
          variant="outlined"
          color="secondary"
          disabled={done !== null}
          onClick={() => void suggestRoute(place, under === undefined ? null : lastSpot(under.legs))}
        >
          Suggest a route
        </Button>
        {route !== null && route.stops > 0 && under !== undefined && (
          <Button variant="contained" onClick={() => walkAlong(route.turns)}>
            Walk along it
          </Button>
        )}
        {route !== null && (
          <Button color="secondary" onClick={forgetRoute}>
            Take it off
          </Button>
        )}
      </div>
    </>
  );
}
