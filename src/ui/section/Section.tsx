'use client';
import { memo } from 'react';
import { OPEN_ID, thicknessM } from '@/core/building/material';
import { floorsOf, isToScale, materialsOf, onFloor, type Design, type Floor } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
import { boundsOf } from '@/core/geometry/polygon';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { hasMap, showFloor, useSession } from '../state/sessionStore';
import { useMap } from '../state/useLens';

/** Heights of storeys are drawn to scale between these, so that each has room for its name and all fit. */
const STOREY_PX = { least: 54, most: 96 } as const;
const PX_PER_M = 15;

/** The building's cross-section: floors stacked at their heights, slabs with their openings between them; pick a floor here. */
export const Section = memo(function Section({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const map = useMap((s) => s.map);
  const stage = useSession((s) => s.stage);
  const floors = floorsOf(design).reverse();
  return (
    <nav aria-label="Section: floors" className="section">
      <svg viewBox="0 0 80 14" aria-hidden="true">
        <path d="M1 13L40 2L79 13" fill="none" stroke="var(--ink)" strokeWidth={2} />
      </svg>
      <div className="floors">
        {floors.map((floor, i) => {
          const here = floor.id === place.floor.id;
          const count = Object.values(design.accessPoints).filter((ap) => ap.floorId === floor.id && ap.variantId === place.variant.id).length;
          const above = floors[i - 1];
          const storeyM = above === undefined ? floor.ceilingM : above.elevationM - floor.elevationM;
          const isLowest = i === floors.length - 1;
          const marks = [
            ...(isToScale(design, floor.id) ? [] : ['not to scale']),
            ...(isLowest || floor.registeredWorstM !== null ? [] : ['not registered']),
          ];
          return (
            <div key={floor.id}>
              <button
                type="button"
                aria-current={here ? 'true' : undefined}
                style={{ minHeight: Math.min(STOREY_PX.most, Math.max(STOREY_PX.least, storeyM * PX_PER_M)) }}
                onClick={() => showFloor(floor.id)}
              >
                <span aria-hidden="true" className="marks">
                  {`▲ ×${count}`}
                </span>
                {floor.name}
                <span className="visually-hidden">{`, ${count} access points, `}</span>
                <span className="mono facts">
                  <span>{formatLength(floor.elevationM, place.project.units, 1)}</span>
                  {here && map !== null && !map.measured && hasMap(stage) && lensOf(map.lens).threshold !== null && (
                    <span>{(map.share * 100).toFixed(0)} %</span>
                  )}
                </span>
                {marks.length > 0 && <span className="state">{marks.join(', ')}</span>}
              </button>
              {!isLowest && <SlabBar design={design} floor={floor} />}
            </div>
          );
        })}
      </div>
      <div className="ground" />
    </nav>
  );
});

/** The slab under a floor as the section cuts it: as thick as it is, with gaps where it is open, seen from the front. */
function SlabBar({ design, floor }: { design: Design; floor: Floor }) {
  const box = boundsOf(floor.outline);
  const material = materialsOf(design)(floor.slabMaterialId);
  if (floor.slabMaterialId === OPEN_ID || box === null) return <div className="slab none" title={`No slab under ${floor.name}`} />;
  const wide = box.eastM - box.westM;
  const gaps = onFloor(design, 'slabOpenings', floor.id).flatMap(({ name: hole, polygon }) => {
    const own = boundsOf(polygon);
    return own === null ? [] : [{ hole, from: (own.westM - box.westM) / wide, to: (own.eastM - box.westM) / wide }];
  });
  const words = [`Slab under ${floor.name}: ${material.name}`, ...gaps.map(({ hole }) => `open at ${hole}`)].join('; ');
  return (
    <svg
      className="slab"
      viewBox="0 0 100 10"
      preserveAspectRatio="none"
      role="img"
      aria-label={words}
      style={{ height: Math.max(3, thicknessM(material) * PX_PER_M) }}
    >
      <title>{words}</title>
      <rect width={100} height={10} fill="var(--ink)" />
      {gaps.map(({ hole, from, to }) => (
        <rect key={hole} x={from * 100} width={Math.max(1, (to - from) * 100)} height={10} fill="var(--panel)" />
      ))}
    </svg>
  );
}
