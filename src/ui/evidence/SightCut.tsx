'use client';
import { useMemo, useRef } from 'react';
import { OPEN_ID, thicknessM } from '@/core/building/material';
import { clientTypesOf, floorsOf, materialsOf, type Design } from '@/core/design/design';
import { cutAlong, type Cut } from '@/core/propagation/cut';
import { formatLength } from '@/core/units/length';
import { floorScene, poseOf } from '@/engine/scene';
import { chargesOf, type Charge } from '../readout/charges';
import { heardHere, type ReadoutLine } from '../readout/heardHere';
import { useSize } from '../plan/useSize';
import { signed } from '../state/format';
import { usePlace, useViewDesign, type Place } from '../state/selectors';
import { LEAST_EXPLAINED_DBM, useSessionFields } from '../state/sessionStore';

const LEFT_PX = 62;
const RIGHT_PX = 84;
const TOP_PX = 14;
const FOOT_PX = 18;
const LEAST_PX = 92;
/** Lengths are drawn at most this many times as large as heights. */
const MOST_STRETCHED = 4;

/** The vertical section along the sight line that is explained: what stands on the way, where the ray passes, and the budget that adds up. */
export function SightCut({ place: still }: { place: Place }) {
  const design = useViewDesign();
  // What is pinned follows the hand.
  const place = usePlace() ?? still;
  const { pinned, band, byClient, source, heardFrom, clientId, explainedApId, selection, ignoreBelowDbm, evidencePx } = useSessionFields(
    'pinned',
    'band',
    'byClient',
    'source',
    'heardFrom',
    'clientId',
    'explainedApId',
    'selection',
    'ignoreBelowDbm',
    'evidencePx',
  );
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const only = selection?.table === 'accessPoints' && selection.ids.length === 1 ? selection.ids[0]! : null;
  const asked = explainedApId ?? only;
  const shown = useMemo(() => {
    if (pinned === null) return null;
    const lines = heardHere(
      design,
      place,
      pinned,
      { band, byClient, source, heardFrom, clientId, ignoreBelowDbm },
      { listFromDbm: LEAST_EXPLAINED_DBM },
    );
    const line = lines.find(({ of }) => of.id === asked) ?? lines[0];
    if (line === undefined) return null;
    const scene = floorScene(design, place.floor, clientTypesOf(design)(clientId));
    const [from, to] = [poseOf(design, line.of), { ...pinned, zM: scene.planeZM }];
    return { line, fromZM: from.zM, toZM: to.zM, cut: cutAlong(scene.medium, from, to) };
  }, [design, place, band, byClient, source, heardFrom, clientId, pinned, ignoreBelowDbm, asked]);
  return (
    <div ref={box} className="sight-cut">
      {pinned === null ? (
        <p className="empty">Click a spot on the plan to pin it: the section along its sight line stands here.</p>
      ) : shown === null ? (
        <p className="empty">{`No radio is heard there at ${signed(LEAST_EXPLAINED_DBM)} dBm or more.`}</p>
      ) : (
        size !== null && (
          <>
            <Section {...shown} design={design} place={place} widthPx={size.widthPx} heightPx={Math.max(LEAST_PX, evidencePx - 46)} />
            <Budget line={shown.line} design={design} />
          </>
        )
      )}
    </div>
  );
}

function Section({
  cut,
  line,
  fromZM,
  toZM,
  design,
  place,
  widthPx,
  heightPx,
}: {
  cut: Cut;
  line: ReadoutLine;
  fromZM: number;
  toZM: number;
  design: Design;
  place: Place;
  widthPx: number;
  heightPx: number;
}) {
  const { units } = place.project;
  const floors = floorsOf(design);
  // As many storeys as the ray is in.
  const seen = floors.filter(({ elevationM, ceilingM }) => elevationM <= Math.max(fromZM, toZM) && elevationM + ceilingM >= Math.min(fromZM, toZM));
  const bottom = Math.min(toZM, fromZM, ...seen.map(({ elevationM }) => elevationM)) - 0.3;
  const top = Math.max(toZM, fromZM, ...seen.map(({ elevationM, ceilingM }) => elevationM + ceilingM)) + 0.3;
  const pxPerHeightM = (heightPx - TOP_PX - FOOT_PX) / (top - bottom);
  // A short way is not drawn so long that heights can no longer be seen.
  const wayPx = Math.max(80, Math.min(widthPx - LEFT_PX - RIGHT_PX, cut.lengthM * pxPerHeightM * MOST_STRETCHED));
  const x = (share: number): number => LEFT_PX + share * wayPx;
  const y = (zM: number): number => TOP_PX + (top - zM) * pxPerHeightM;
  // How much larger heights are drawn than lengths.
  const larger = (pxPerHeightM * cut.lengthM) / wayPx;
  const charges = chargesOf(line.line);
  const charged = new Set(charges.flatMap(({ wallId }) => (wallId === null ? [] : [wallId])));
  const level = `${signed(line.rssiDbm, 1)} dBm`;
  const labels = labelled(charges, x);
  return (
    <svg width={widthPx} height={heightPx} role="img" aria-label={`Section from ${line.of.name} to the pinned spot, ${level}`}>
      {floors
        .filter(({ elevationM }) => elevationM >= bottom && elevationM <= top)
        .map(({ id, elevationM, slabMaterialId }, i) => {
          const thick = slabMaterialId === OPEN_ID ? 0 : thicknessM(materialsOf(design)(slabMaterialId));
          const stretches = i === 0 && floors[0]!.id === id ? [{ from: 0, to: 1 }] : cut.slabs.filter(({ zM }) => zM === elevationM);
          return (
            <g key={id}>
              {stretches.map(({ from, to }) => (
                <rect
                  key={from}
                  x={x(from)}
                  y={y(elevationM)}
                  width={x(to) - x(from)}
                  height={Math.max(2, y(elevationM - thick) - y(elevationM))}
                  fill="var(--ink)"
                  fillOpacity={0.75}
                />
              ))}
              <text x={6} y={y(elevationM) + 4} className="mono axis">
                {formatLength(elevationM, units, 1)}
              </text>
            </g>
          );
        })}
      {cut.clutter.map(({ zoneId, from, to, baseZM, topZM }) => (
        <rect
          key={`${zoneId}/${from}`}
          x={x(from)}
          y={y(topZM)}
          width={x(to) - x(from)}
          height={Math.max(1, y(baseZM) - y(topZM))}
          fill="var(--ink2)"
          fillOpacity={0.18}
          stroke="var(--ink2)"
          strokeDasharray="2 2"
        />
      ))}
      {cut.walls
        .filter(({ baseZM, topZM }) => topZM > bottom && baseZM < top)
        .map(({ wallId, share, baseZM, topZM }, i) => (
          <line
            key={i}
            x1={x(share)}
            x2={x(share)}
            y1={y(Math.min(top, topZM))}
            y2={y(Math.max(bottom, baseZM))}
            stroke="var(--ink)"
            strokeWidth={charged.has(wallId) ? 3 : 1.4}
            strokeOpacity={charged.has(wallId) ? 1 : 0.5}
          >
            <title>{nameOfWall(design, wallId)}</title>
          </line>
        ))}
      <line x1={x(0)} y1={y(fromZM)} x2={x(1)} y2={y(toZM)} stroke="var(--hand)" strokeWidth={1.6} strokeDasharray="6 4" />
      {labels.map(({ at, zM, text, up }, i) => (
        <g key={i}>
          <circle cx={at} cy={y(zM)} r={2.6} fill="var(--hand)" />
          <text x={at} y={y(zM) - up} textAnchor="middle" className="mono charge">
            {text}
          </text>
        </g>
      ))}
      <path d={`M${x(0) - 6} ${y(fromZM) + 5}h12l-6 -10z`} fill="var(--ink)" />
      <text x={x(0) - 8} y={y(fromZM) + 19} className="axis name">
        {line.of.name}
      </text>
      <circle cx={x(1)} cy={y(toZM)} r={4} fill="none" stroke="var(--hand)" strokeWidth={1.8} />
      <text x={x(1) + 9} y={y(toZM) + 4} className="mono axis">
        {level}
      </text>
      <text x={LEFT_PX} y={heightPx - 4} className="mono axis">
        {`${formatLength(cut.lengthM, units, 1)} along the plan, ${formatLength(line.line.distanceM, units, 1)} through the air; heights drawn ${larger.toFixed(2)} times as large as lengths`}
      </text>
    </svg>
  );
}

/** What is written at each loss; labels that would stand on each other are set higher in turn. */
function labelled(charges: readonly Charge[], x: (share: number) => number): Array<Charge & Readonly<{ text: string; at: number; up: number }>> {
  const labels: ReturnType<typeof labelled> = [];
  let step = 0;
  for (const charge of [...charges].sort((p, q) => p.share - q.share)) {
    const text = `${charge.what}${signed(-charge.lossDb, 1)} dB`;
    const at = x(charge.share);
    step = labels.length > 0 && at - labels.at(-1)!.at < text.length * 6.4 + 10 ? (step + 1) % 3 : 0;
    labels.push({ ...charge, text, at, up: 7 + step * 13 });
  }
  return labels;
}

/** What a wall is made of. */
function nameOfWall(design: Design, wallId: string): string {
  const wall = design.walls[wallId];
  return wall === undefined ? 'Wall' : materialsOf(design)(wall.materialId).name;
}

/** The budget as numbers that add up from left to right. */
function Budget({ line, design }: { line: ReadoutLine; design: Design }) {
  const { line: sight, rssiDbm } = line;
  const terms = [
    { what: 'power', value: rssiDbm + sight.lossDb, unit: 'dBm' },
    { what: 'antenna', value: sight.antennaGainDbi, unit: 'dBi' },
    ...(sight.endGainDbi === 0 ? [] : [{ what: 'client', value: sight.endGainDbi, unit: 'dBi' }]),
    { what: 'path', value: -sight.pathLossDb, unit: 'dB' },
    ...chargesOf(sight).map(({ what, wallId, lossDb }) => ({
      what: wallId === null ? what.trim() : `${nameOfWall(design, wallId)}${what === '' ? '' : `, ${what.trim()}`}`,
      value: -lossDb,
      unit: 'dB',
    })),
    { what: 'arrives', value: rssiDbm, unit: 'dBm' },
  ];
  return (
    <dl className="sight-budget" aria-label="Link budget, term by term">
      {terms.map(({ what, value, unit }, i) => (
        <div key={i} className={i === terms.length - 1 ? 'sum' : undefined}>
          <dt>{what}</dt>
          <dd className="mono">{`${i > 0 && i < terms.length - 1 && value >= 0 ? '+' : ''}${signed(value, 1)} ${unit}`}</dd>
        </div>
      ))}
    </dl>
  );
}
