'use client';
import { useMemo, useRef } from 'react';
import { fullDifference } from '@/core/fields/difference';
import { lensOf } from '@/core/fields/lenses';
import { heardHere } from '../readout/heardHere';
import { lensHere } from '../readout/lensHere';
import { FieldCanvas } from '../plan/FieldCanvas';
import { differencePicture, usePicture, type FieldPicture } from '../plan/fieldPicture';
import { PlanDrawing } from '../plan/PlanDrawing';
import { usePan } from '../plan/usePan';
import { useSize } from '../plan/useSize';
import { fitPlan, toScreen, type Size } from '../plan/view';
import { signed } from '../state/format';
import { counterpart } from '../state/heardFrom';
import { useViewDesign, type Place } from '../state/selectors';
import { useSessionFields, type View } from '../state/sessionStore';
import { useMap, useOtherMap, type MapResult } from '../state/useLens';
import { divergingStops } from '../theme/tokens';
import { useScheme } from '../theme/useScheme';
import type { Compared } from './compared';
import { differenceWords, useDifference } from './useDifference';
import type { Design } from '@/core/design/design';

/** The plan of what is compared with: the same pan and zoom, its own map, and its value at the spot under the pointer. */
export function OtherPane({ compared, place }: { compared: Compared; place: Place }) {
  const { ramp, source } = useSessionFields('ramp', 'source');
  const map = useOtherMap((s) => s.map);
  const error = useOtherMap((s) => s.error);
  const kinds = useMap((s) => s.map?.kinds);
  const picture = usePicture(map, ramp, useScheme(), kinds);
  if (compared.problem !== null) return <Nothing title={compared.title} words={compared.problem} />;
  if (error !== null) return <Nothing title={compared.title} words={error} />;
  return (
    <Pane
      title={compared.title}
      label={`Compared with: ${compared.title}`}
      design={compared.design}
      place={compared.place}
      outlined={place}
      map={map}
      picture={picture}
      hatchAll={source === 'predicted'}
      spot={<SpotValue design={compared.design} place={compared.place} />}
    />
  );
}

/** What one map has over the other: paper where they are alike, better and worse in two inks. */
export function DifferencePane({ design, place }: { design: Design; place: Place }) {
  const ramp = useSessionFields('ramp').ramp;
  const mode = useScheme();
  const difference = useDifference((s) => s.difference);
  const picture = useMemo(
    () => (difference === null ? null : differencePicture(difference.now, difference.values, ramp, mode)),
    [difference, ramp, mode],
  );
  const { hover, pinned } = useSessionFields('hover', 'pinned');
  const at = pinned ?? hover;
  if (difference === null) return <Nothing title="Difference" words="The two floors have other outlines or grids, or a map is on its way." />;
  const { grid } = difference.now.scene;
  const cell = at === null ? null : [Math.round((at.xM - grid.originXM) / grid.cellM), Math.round((at.yM - grid.originYM) / grid.cellM)];
  const inside = cell !== null && cell[0]! >= 0 && cell[0]! < grid.cols && cell[1]! >= 0 && cell[1]! < grid.rows;
  const lens = lensOf(difference.now.lens);
  return (
    <Pane
      title="Difference: now − then"
      label="Difference"
      design={design}
      place={place}
      outlined={place}
      map={null}
      picture={picture}
      hatchAll={false}
      spot={inside ? <span className="mono">{differenceWords(difference, cell[1]! * grid.cols + cell[0]!)}</span> : null}
      legend={
        lens.threshold === null ? (
          <span>ink: another one</span>
        ) : (
          <Diverging full={fullDifference(lens)} unit={lens.unit === 'dBm' ? 'dB' : lens.unit} sense={lens.threshold.sense} />
        )
      }
    />
  );
}

/** The ramp of a difference, with what its ends mean. */
function Diverging({ full, unit, sense }: { full: number; unit: string; sense: 'least' | 'most' }) {
  const ramp = useSessionFields('ramp').ramp;
  const stops = divergingStops(ramp, useScheme());
  const inks = (sense === 'least' ? stops : [...stops].reverse()).map((stop) => `#${stop}`).join(', ');
  return (
    <span className="diverging">
      <span className="mono">{`−${full}`}</span>
      <span className="ramp" style={{ background: `linear-gradient(to right, ${inks})` }} />
      <span className="mono">{`+${full} ${unit}`.trim()}</span>
    </span>
  );
}

/** What the lens shows at the spot in question, here. */
export function SpotValue({ design, place }: { design: Design; place: Place }) {
  const { hover, pinned, ...asked } = useSessionFields(
    'hover',
    'pinned',
    'lens',
    'band',
    'byClient',
    'source',
    'heardFrom',
    'ignoreBelowDbm',
    'rank',
    'widthMhz',
    'direction',
    'clientId',
    'countEmitters',
  );
  const own = useViewDesign();
  const at = pinned ?? hover;
  if (at === null) return null;
  const heardFrom = counterpart(asked.heardFrom, own, place.around);
  const lines = heardHere(design, place, at, { ...asked, heardFrom });
  const line = lines[lensOf(asked.lens).asks === 'rank' ? asked.rank : 0];
  const note = lensHere(design, place, at, { ...asked, heardFrom });
  const words = note !== '' ? note : line === undefined ? 'not heard' : `${line.of.name} ${signed(line.rssiDbm, 1)} dBm`;
  return <span className="mono">{words}</span>;
}

function Nothing({ title, words }: { title: string; words: string }) {
  return (
    <div className="plan pane">
      <PaneTitle title={title} />
      <p className="empty" role="status">
        {words}
      </p>
    </div>
  );
}

/** What a pane shows, in its upper left corner. */
export function PaneTitle({ title, spot, legend }: { title: string; spot?: React.ReactNode; legend?: React.ReactNode }) {
  return (
    <div className="card pane-title">
      <span className="serif">{title}</span>
      {spot}
      {legend}
    </div>
  );
}

function Pane({
  title,
  label,
  design,
  place,
  outlined,
  map,
  picture,
  hatchAll,
  spot,
  legend,
}: {
  title: string;
  label: string;
  design: Design;
  place: Place;
  /** The place whose outline every pane is fitted to, so that all show the same. */
  outlined: Place;
  map: MapResult | null;
  picture: FieldPicture | null;
  hatchAll: boolean;
  spot: React.ReactNode;
  legend?: React.ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const size = useSize(box);
  const session = useSessionFields('view', 'hover', 'pinned', 'tags');
  const mode = useScheme();
  const { outline } = outlined.floor;
  const view = useMemo(() => session.view ?? (size === null || size.widthPx < 10 ? null : fitPlan(outline, size)), [session.view, size, outline]);
  const handlers = usePan(svg, view);
  return (
    <div className="plan pane" ref={box} role="group" aria-label={label}>
      {view !== null && size !== null && <FieldCanvas picture={picture} outline={place.floor.outline} view={view} size={size} mode={mode} />}
      <svg ref={svg} {...handlers} aria-hidden="true">
        {view !== null && size !== null && (
          <>
            <PlanDrawing design={design} place={place} map={map} view={view} size={size} tags={session.tags} hatchAll={hatchAll} />
            <Spot at={session.pinned ?? session.hover} view={view} size={size} />
          </>
        )}
      </svg>
      <PaneTitle title={title} spot={spot} legend={legend} />
    </div>
  );
}

/** Where the pointer is, on the other plan. */
function Spot({ at, view, size }: { at: { xM: number; yM: number } | null; view: View; size: Size }) {
  if (at === null) return null;
  const { x, y } = toScreen(view, at);
  if (x < 0 || y < 0 || x > size.widthPx || y > size.heightPx) return null;
  return <path d={`M${x - 9} ${y}h18M${x} ${y - 9}v18`} stroke="var(--hand)" strokeWidth={1.6} fill="none" />;
}
