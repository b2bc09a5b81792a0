'use client';
import { OPEN_ID, lossDbOf } from '@/core/building/material';
import { BANDS } from '@/core/radio/band';
import { STROKES } from '../plan/WallsLayer';
import { useMaterials } from '../state/useMaterials';
import { BAND_MARK, bandLabel } from '../state/selectors';

/** What the marks of the plan mean: bands by shape, walls by pattern with their loss, and the rest. */
export function LegendPanel() {
  const { all } = useMaterials();
  return (
    <div className="legend">
      <ul aria-label="Marks">
        {BANDS.map((band) => (
          <li key={band}>{`${BAND_MARK[band]}  ${bandLabel(band).replace(BAND_MARK[band], '').trim()} radio: channel/width in MHz, power in dBm`}</li>
        ))}
        <li>▲ access point; its bar points to the azimuth; struck through: all radios off; a square at its corner: locked</li>
        <li>hatched: the threshold is not met; bold contour: the threshold</li>
        <li>◇ with a wave: something found that sends and is not Wi-Fi</li>
        <li>! in the table: model or law do not allow it</li>
      </ul>
      <ul aria-label="Walls">
        {all
          .filter(({ id }) => id !== OPEN_ID)
          .map((material) => {
            const { id, name, pattern } = material;
            const { width, dash } = STROKES[pattern];
            return (
              <li key={id}>
                <svg width={44} height={10} aria-hidden="true">
                  <line x1={2} x2={42} y1={5} y2={5} stroke="var(--ink)" strokeWidth={width} strokeDasharray={dash} />
                  {pattern === 'double' && <line x1={2} x2={42} y1={5} y2={5} stroke="var(--panel)" strokeWidth={2.2} />}
                  {pattern === 'ticks' && <line x1={2} x2={42} y1={5} y2={5} stroke="var(--ink)" strokeWidth={5} strokeDasharray="1 7" />}
                </svg>
                {`${name}: ${BANDS.map((band) => `${lossDbOf(material, band).toFixed(1)} dB`).join(', ')} at ${BANDS.join(', ')} GHz`}
              </li>
            );
          })}
      </ul>
    </div>
  );
}
