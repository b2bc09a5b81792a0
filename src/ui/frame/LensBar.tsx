'use client';
import LinearProgress from '@mui/material/LinearProgress';
import { useId } from 'react';
import { BANDS, type Band } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { LENSES, lensOf, type LensId } from '@/core/fields/lenses';
import { bandLabel, bandsOf, type Place } from '../state/selectors';
import { useSessionFields } from '../state/sessionStore';
import { useMap } from '../state/useLens';

function Chip({ label, off = false, children }: { label: string; off?: boolean; children: (id: string) => React.ReactNode }) {
  const id = useId();
  return (
    <span className={`chip${off ? ' off' : ''}`}>
      <span>
        <label htmlFor={id}>{label}</label>
      </span>
      {children(id)}
    </span>
  );
}

/** What the map shows: lens, band, whom, down to which level; and how long it took. */
export function LensBar({ place }: { place: Place }) {
  const session = useSessionFields('lens', 'band', 'rank', 'heardApId', 'ignoreBelowDbm', 'onlyKind', 'source');
  const { map, busy, error } = useMap();
  const { set } = session;
  const bands = bandsOf(place.aps);
  const shown = lensOf(session.lens);
  const kinds = map !== null && map.lens === session.lens ? map.kinds : [];
  return (
    <div className="lensbar" role="toolbar" aria-label="Lens">
      <Chip label="lens">
        {(id) => (
          <select
            id={id}
            title={shown.help}
            value={session.lens}
            onChange={(event) => set({ lens: event.target.value as LensId, source: 'predicted', onlyKind: null })}
          >
            {LENSES.map((lens) => (
              <option key={lens.id} value={lens.id}>
                {lens.label}
              </option>
            ))}
          </select>
        )}
      </Chip>
      <Chip label="band">
        {(id) => (
          <select id={id} value={session.band} onChange={(event) => set({ band: event.target.value as Band })}>
            {BANDS.map((band) => (
              <option key={band} value={band}>
                {bandLabel(band)}
                {bands.has(band) ? '' : ' (no radio)'}
              </option>
            ))}
          </select>
        )}
      </Chip>
      {shown.show === 'tints' ? (
        <Chip label="show">
          {(id) => (
            <select
              id={id}
              value={session.onlyKind ?? ''}
              onChange={(event) => set({ onlyKind: event.target.value === '' ? null : event.target.value })}
            >
              <option value="">all</option>
              {kinds.map((kind) => (
                <option key={kind.id} value={kind.id}>
                  {kind.label}
                </option>
              ))}
            </select>
          )}
        </Chip>
      ) : (
        <Chip label="heard" off={!shown.ranked}>
          {(id) => (
            <select
              id={id}
              value={session.rank}
              disabled={!shown.ranked}
              onChange={(event) => set({ rank: Number(event.target.value) as 0 | 1 | 2 })}
            >
              <option value={0}>strongest</option>
              <option value={1}>2nd strongest</option>
              <option value={2}>3rd strongest</option>
            </select>
          )}
        </Chip>
      )}
      <Chip label="from">
        {(id) => (
          <select
            id={id}
            value={session.heardApId ?? ''}
            onChange={(event) => set({ heardApId: event.target.value === '' ? null : event.target.value })}
          >
            <option value="">all APs</option>
            {place.aps.map((ap) => (
              <option key={ap.id} value={ap.id}>
                {ap.name}
              </option>
            ))}
          </select>
        )}
      </Chip>
      <Chip label="ignore below">
        {(id) => (
          <>
            <input
              id={id}
              type="number"
              min={-100}
              max={-40}
              step={1}
              value={session.ignoreBelowDbm}
              onChange={(event) => {
                const value = Number(event.target.value);
                if (Number.isFinite(value) && value >= -100 && value <= -40) set({ ignoreBelowDbm: value });
              }}
            />
            <span>dBm</span>
          </>
        )}
      </Chip>
      <span className="timing" role="status">
        {error !== null ? (
          <strong style={{ color: 'var(--hand)' }}>{error}</strong>
        ) : map === null ? (
          'computing …'
        ) : (
          `${session.source === 'measured' ? 'measured · ' : ''}${formatLength(map.scene.grid.cellM, place.project.units, place.project.units === 'us' ? 2 : 1)} grid · ${map.computedFields} radios · ${map.elapsedMs.toFixed(0)} ms`
        )}
      </span>
      {busy && <LinearProgress className="progressline" aria-label="The map is being computed" />}
    </div>
  );
}
