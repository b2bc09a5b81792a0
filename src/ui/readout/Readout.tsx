'use client';
import type { Takes } from '@/core/fields/heard';
import type { ReadoutLine } from './heardHere';
import { signed } from '../state/format';

const MAX_LINES = 5;

/** What a radio takes from the one that serves, and which end hears it. Less than a hundredth of its power in the channel is not worth a word. */
function takesText({ kind, heardBy, widthLost, noiseShare }: Takes, widthMhz = 0): string {
  if (kind === 'airtime') return `airtime, ${heardBy} hears it`;
  if (kind === 'width') return `${widthLost * widthMhz} of ${widthMhz} MHz`;
  return kind === 'noise' && noiseShare >= 0.01 ? 'noise' : '–';
}

/** The card at the pointer: the radios heard here. Pinned by a click, it stays and can be closed. */
export function Readout({
  title,
  place,
  lines,
  pinned,
  measured,
  left,
  top,
  ignoreBelowDbm,
  onClose,
}: {
  title: string;
  place: string;
  lines: readonly ReadoutLine[];
  pinned: boolean;
  measured: boolean;
  left: number;
  top: number;
  ignoreBelowDbm: number;
  onClose: () => void;
}) {
  const shown = lines.slice(0, MAX_LINES);
  const sharing = lines.some(({ takes }) => takes !== null && takesText(takes) !== '–');
  return (
    <section
      className={`card readout${pinned ? ' pinned' : ''}`}
      style={{ left, top }}
      aria-label={pinned ? 'Pinned readout' : 'Readout'}
      data-testid={pinned ? 'pinned-readout' : 'readout'}
    >
      <div className="heading">
        <strong>{title}</strong>
        <span className="mono">{place}</span>
        {pinned && (
          <button type="button" className="quiet-button" onClick={onClose} aria-label="Close the pinned readout">
            ×
          </button>
        )}
      </div>
      {shown.length === 0 ? (
        <p>No radio of this band is heard here at {signed(ignoreBelowDbm)} dBm or more.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <th>heard</th>
              <th>ch</th>
              <th>dBm</th>
              {measured && <th>measured dBm (n)</th>}
              <th>SNR dB</th>
              {sharing && <th>takes</th>}
            </tr>
          </thead>
          <tbody>
            {shown.map((line, i) => (
              <tr key={line.of.id}>
                <td className={i === 0 ? 'chosen' : undefined}>{line.of.name}</td>
                <td className="mono">{`${line.channel.primary}/${line.channel.widthMhz}`}</td>
                <td className="mono" data-testid={i === 0 ? 'strongest-dbm' : undefined}>
                  {signed(line.rssiDbm, 1)}
                </td>
                {measured && <td className="mono">{line.measuredDbm === null ? '–' : `${signed(line.measuredDbm, 1)} (${line.measuredCount})`}</td>}
                <td className="mono">{signed(line.snrDb)}</td>
                {sharing && <td>{line.takes === null ? 'serves' : takesText(line.takes, lines[0]!.channel.widthMhz)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {lines.length > MAX_LINES && <div className="quiet">and {lines.length - MAX_LINES} weaker</div>}
      {pinned && shown[0] && <Budget line={shown[0]} />}
    </section>
  );
}

/** The strongest radio's budget, term by term: it adds up to the level shown. */
function Budget({ line: { line, rssiDbm, of, channel } }: { line: ReadoutLine }) {
  const power = rssiDbm + line.lossDb;
  return (
    <div className="mono quiet budget" data-testid="budget" aria-label={`Link budget of ${of.name} on channel ${channel.primary}`}>
      {`${signed(power)} dBm ${line.antennaGainDbi < 0 ? '−' : '+'} ${Math.abs(line.antennaGainDbi).toFixed(1)} dBi − ${line.pathLossDb.toFixed(1)} path − ${line.wallLossDb.toFixed(1)} walls dB`}
    </div>
  );
}
