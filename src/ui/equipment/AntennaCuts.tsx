import { gainAtAnglesDbi, type Antenna } from '@/core/radio/antenna';
import { useId } from 'react';

const SIDE_PX = 104;
const MIDDLE_PX = SIDE_PX / 2;
const RADIUS_PX = 38;
/** The middle of the drawing stands for this far below the peak. */
const FLOOR_DB = -30;
const STEP_DEG = 5;
const RINGS_DB = [0, -10, -20] as const;

const radiusOf = (db: number): number => RADIUS_PX * Math.max(0, 1 - db / FLOOR_DB);

/** A spot of a polar drawing: degrees from its upper end, clockwise. */
function spotAt(db: number, deg: number): string {
  const angle = (deg * Math.PI) / 180;
  return `${(MIDDLE_PX + radiusOf(db) * Math.sin(angle)).toFixed(1)} ${(MIDDLE_PX - radiusOf(db) * Math.cos(angle)).toFixed(1)}`;
}

/** An antenna's two principal cuts as the prediction takes them, in dB below its peak: seen from above, and from the side in front. */
export function AntennaCuts({ antenna, label }: { antenna: Antenna; label: string }) {
  const below = (offAxisDeg: number, elevationDeg: number) =>
    gainAtAnglesDbi(antenna, 0, offAxisDeg, Math.cos((offAxisDeg * Math.PI) / 180), elevationDeg) - antenna.peakDbi;
  const steps = (n: number) => Array.from({ length: n }, (_, i) => i * STEP_DEG);
  const round = steps(360 / STEP_DEG).map((deg) => spotAt(below(deg, 0), deg));
  // Straight down is below: -90 degrees of elevation lie at 180 of the drawing; in front is to the right.
  const front = steps(180 / STEP_DEG + 1).map((deg) => spotAt(below(0, deg - 90), 180 - deg));
  return (
    <div className="cuts">
      <Polar points={`M${round.join('L')}Z`} label={`${label}, seen from above`} words="from above" marks={{ top: 'azimuth' }} />
      <Polar points={`M${front.join('L')}`} label={`${label}, seen from the side`} words="from the side" marks={{ top: 'up', bottom: 'down' }} />
    </div>
  );
}

function Polar({ points, label, words, marks }: { points: string; label: string; words: string; marks: { top: string; bottom?: string } }) {
  const id = useId();
  return (
    <figure>
      <svg viewBox={`0 0 ${SIDE_PX} ${SIDE_PX}`} role="img" aria-labelledby={id}>
        <title id={id}>{`${label}: dB below the peak, rings at 0, −10 and −20 dB`}</title>
        {RINGS_DB.map((db) => (
          <circle key={db} cx={MIDDLE_PX} cy={MIDDLE_PX} r={radiusOf(db)} fill="none" stroke="var(--rule)" />
        ))}
        <path
          d={`M${MIDDLE_PX} ${MIDDLE_PX - RADIUS_PX}V${MIDDLE_PX + RADIUS_PX}M${MIDDLE_PX - RADIUS_PX} ${MIDDLE_PX}H${MIDDLE_PX + RADIUS_PX}`}
          stroke="var(--rule)"
        />
        <path d={points} fill="none" stroke="var(--ink)" strokeWidth={1.5} strokeLinejoin="round" />
        <text x={MIDDLE_PX} y={10} textAnchor="middle" fontSize={11.5} fill="var(--ink2)">
          {marks.top}
        </text>
        {marks.bottom !== undefined && (
          <text x={MIDDLE_PX} y={SIDE_PX - 2} textAnchor="middle" fontSize={11.5} fill="var(--ink2)">
            {marks.bottom}
          </text>
        )}
      </svg>
      <figcaption>{words}</figcaption>
    </figure>
  );
}
