'use client';
import { floorsOf } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap } from '../state/useLens';

/** The building's cross-section: floors stacked under a roof; pick a floor here. */
export function Section({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const map = useMap((s) => s.map);
  const set = useSession((s) => s.set);
  const floors = floorsOf(design).reverse();
  return (
    <nav aria-label="Section: floors" className="section">
      <svg viewBox="0 0 80 14" aria-hidden="true">
        <path d="M1 13L40 2L79 13" fill="none" stroke="var(--ink)" strokeWidth={2} />
      </svg>
      <div className="floors">
        {floors.map((floor) => {
          const here = floor.id === place.floor.id;
          const count = Object.values(design.accessPoints).filter((ap) => ap.floorId === floor.id && ap.variantId === place.variant.id).length;
          return (
            <button
              key={floor.id}
              type="button"
              aria-current={here ? 'true' : undefined}
              onClick={() => set({ floorId: floor.id, view: null, pinned: null, selection: null })}
            >
              <span aria-hidden="true" className="marks">
                {'▲'.repeat(Math.min(count, 8))}
              </span>
              {floor.name}
              <span className="visually-hidden">{`, ${count} access points, `}</span>
              <span className="mono facts">
                <span>{formatLength(floor.elevationM, place.project.units, 1)}</span>
                {here && map !== null && lensOf(map.lens).threshold !== null && <span>{(map.share * 100).toFixed(0)} %</span>}
              </span>
            </button>
          );
        })}
      </div>
      <div className="ground" />
    </nav>
  );
}
