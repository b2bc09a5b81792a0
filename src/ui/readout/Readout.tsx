'use client';
import type { AccessPoint } from '@/core/design/design';
import type { Takes } from '@/core/fields/heard';
import type { ReadoutLine } from './heardHere';
import { signed } from '../state/format';

export const MAX_LINES = 5;

/** What a radio takes from the one that serves, and which end hears it. Less than a hundredth of its power in the channel is not worth a word. */
function takesText({ kind, heardBy, widthLost, noiseShare }: Takes, widthMhz = 0): string {
  if (kind === 'airtime') return `airtime, ${heardBy} hears it`;
  if (kind === 'width') return `${widthLost * widthMhz} of ${widthMhz} MHz`;
  return kind === 'noise' && noiseShare >= 0.01 ? 'noise' : '–';
}

/** What a pinned readout can do: explain a radio, list all of them, be kept while another spot is pinned, close. */
export type ReadoutActions = Readonly<{
  /** The access point whose budget and sight line are shown. */
  explainedId: string | null;
  explain: (apId: string) => void;
  all: boolean;
  showAll: (all: boolean) => void;
  keep: () => void;
  close: () => void;
}>;

/** The card at the pointer: the radios heard here. Pinned by a click, it stays, and any of its rows can be opened. */
export function Readout({
  title,
  place,
  lines,
  actions,
  measured,
  left,
  top,
  ignoreBelowDbm,
  note,
  elsewhere,
}: {
  title: string;
  place: string;
  lines: readonly ReadoutLine[];
  /** Null while it follows the pointer. */
  actions: ReadoutActions | null;
  measured: boolean;
  left: number;
  top: number;
  ignoreBelowDbm: number;
  /** A line more, for a lens that has more to say about a spot. */
  note: string;
  /** Where an access point hangs that is not on this floor: above or below, and on which. */
  elsewhere: (ap: AccessPoint) => Elsewhere | null;
}) {
  const heard = lines.filter(({ rssiDbm, takes }) => rssiDbm >= ignoreBelowDbm || (takes !== null && takes.heardBy !== null));
  const explained = actions === null ? undefined : (lines.find(({ of }) => of.id === actions.explainedId) ?? lines[0]);
  const all = actions?.all === true;
  const shown = all ? lines : heard.slice(0, MAX_LINES);
  const sharing = shown.some(({ takes }) => takes !== null && takesText(takes) !== '–');
  const serving = heard.find(({ takes }) => takes === null);
  return (
    <section
      className={`card readout${measured ? ' wide' : ''}${actions === null ? '' : ' pinned'}`}
      style={{ left, top }}
      aria-label={actions === null ? 'Readout' : 'Pinned readout'}
      data-testid={actions === null ? 'readout' : 'pinned-readout'}
    >
      <div className="heading">
        <strong>{title}</strong>
        <span className="mono">{place}</span>
        {actions !== null && (
          <span>
            <button type="button" className="quiet-button" onClick={actions.keep} title="Keep this spot while another is pinned">
              keep
            </button>
            <button type="button" className="quiet-button" onClick={actions.close} aria-label="Close the pinned readout">
              ×
            </button>
          </span>
        )}
      </div>
      {heard.length === 0 && <p>No radio of this band is heard here at {signed(ignoreBelowDbm)} dBm or more.</p>}
      {shown.length > 0 && (
        <div className="rows">
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
              {shown.map((line) => (
                <tr key={line.of.id} className={line === explained ? 'explained' : undefined}>
                  <td className={line === serving ? 'chosen' : undefined}>
                    {actions === null ? (
                      <Name line={line} elsewhere={elsewhere} />
                    ) : (
                      <button
                        type="button"
                        className="plain"
                        aria-pressed={line === explained}
                        aria-label={`Explain ${line.of.name} here`}
                        onClick={() => actions.explain(line.of.id)}
                      >
                        <Name line={line} elsewhere={elsewhere} />
                      </button>
                    )}
                  </td>
                  <td className="mono">{`${line.channel.primary}/${line.channel.widthMhz}`}</td>
                  <td className="mono" data-testid={line === lines[0] ? 'strongest-dbm' : undefined}>
                    {signed(line.rssiDbm, 1)}
                  </td>
                  {measured && <td className="mono">{line.measuredDbm === null ? '–' : `${signed(line.measuredDbm, 1)} (${line.measuredCount})`}</td>}
                  <td className="mono">{signed(line.snrDb)}</td>
                  {sharing && <td>{line === serving ? 'serves' : line.takes === null ? '–' : takesText(line.takes, serving?.channel.widthMhz)}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {actions === null
        ? heard.length > MAX_LINES && <div className="quiet">and {heard.length - MAX_LINES} weaker</div>
        : (all || lines.length > shown.length) && (
            <button type="button" className="quiet-button" aria-expanded={all} onClick={() => actions.showAll(!all)}>
              {all ? 'fewer' : `${lines.length - shown.length} more, down to −110 dBm`}
            </button>
          )}
      {note !== '' && (
        <div className="mono quiet" data-testid="readout-note">
          {note}
        </div>
      )}
      {explained !== undefined && <Budget line={explained} />}
    </section>
  );
}

export type Elsewhere = Readonly<{ above: boolean; floor: string }>;

function Name({ line, elsewhere }: { line: ReadoutLine; elsewhere: (ap: AccessPoint) => Elsewhere | null }) {
  const other = elsewhere(line.of);
  return (
    <>
      {line.of.name}
      {other !== null && (
        <span title={`on ${other.floor}`}>
          {other.above ? ' ↑' : ' ↓'}
          <span className="visually-hidden">{`, on ${other.floor}`}</span>
        </span>
      )}
    </>
  );
}

/** A radio's budget, term by term: it adds up to the level shown. */
function Budget({ line: { line, rssiDbm, of, channel } }: { line: ReadoutLine }) {
  const power = rssiDbm + line.lossDb;
  const term = (dbi: number) => `${dbi < 0 ? '−' : '+'} ${Math.abs(dbi).toFixed(1)} dBi`;
  return (
    <div className="mono quiet budget" data-testid="budget" aria-label={`Link budget of ${of.name} on channel ${channel.primary}`}>
      {`${of.name}: ${signed(power, power % 1 === 0 ? 0 : 1)} dBm ${term(line.antennaGainDbi)} − ${line.pathLossDb.toFixed(1)} path − ${line.wallLossDb.toFixed(1)} walls${line.slabs.length === 0 ? '' : ` − ${line.slabLossDb.toFixed(1)} slabs`}${line.clutter.length === 0 ? '' : ` − ${line.clutterLossDb.toFixed(1)} clutter`} dB = ${signed(rssiDbm, 1)} dBm`}
    </div>
  );
}
