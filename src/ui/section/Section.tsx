'use client';
import { floorsOf } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap } from '../state/useLens';

const FLOOR_PX = 52;

/** The building's cross-section: floors stacked under a roof; pick a floor here. */
export function Section({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const map = useMap((s) => s.map);
  const set = useSession((s) => s.set);
  const floors = floorsOf(design).reverse();
  return (
    <nav aria-label="Section: floors" style={{ padding: '8px 6px 4px' }}>
      <svg viewBox="0 0 80 14" width="100%" aria-hidden="true" style={{ display: 'block' }}>
        <path d="M1 13L40 2L79 13" fill="none" stroke="var(--ink)" strokeWidth={2} />
      </svg>
      <div style={{ border: '2px solid var(--ink)', borderTop: 0 }}>
        {floors.map((floor, i) => {
          const here = floor.id === place.floor.id;
          const count = Object.values(design.accessPoints).filter((ap) => ap.floorId === floor.id && ap.variantId === place.variant.id).length;
          return (
            <button
              key={floor.id}
              type="button"
              aria-current={here ? 'true' : undefined}
              onClick={() => set({ floorId: floor.id, view: null, pinned: null, selection: null })}
              style={{
                display: 'block',
                width: '100%',
                minHeight: FLOOR_PX,
                border: 0,
                borderTop: i === 0 ? 0 : '3px solid var(--ink)',
                background: here ? 'var(--select)' : 'none',
                color: here ? 'var(--hand)' : 'var(--ink)',
                font: 'inherit',
                fontSize: 11.5,
                textAlign: 'left',
                padding: '3px 5px',
                cursor: 'pointer',
                fontWeight: here ? 700 : 400,
              }}
            >
              <span
                aria-hidden="true"
                style={{ display: 'block', height: 10, letterSpacing: 1, fontSize: 6.5, color: 'var(--ink)', overflow: 'hidden' }}
              >
                {'▲'.repeat(Math.min(count, 8))}
              </span>
              {floor.name}
              <span className="visually-hidden">{`, ${count} access points, `}</span>
              <span
                className="mono"
                style={{ display: 'flex', justifyContent: 'space-between', fontSize: 10, fontWeight: 400, color: 'var(--ink2)' }}
              >
                <span>{formatLength(floor.elevationM, place.project.units, 1)}</span>
                {here && map !== null && lensOf(map.lens).threshold !== null && <span>{(map.share * 100).toFixed(0)} %</span>}
              </span>
            </button>
          );
        })}
      </div>
      <div style={{ height: 3, background: 'var(--ink)', margin: '0 -4px' }} />
    </nav>
  );
}
