'use client';
import { memo, useCallback, useMemo } from 'react';
import { domainOf, type AccessPoint, type Radio } from '@/core/design/design';
import { lawProblem, lawWords } from '@/core/radio/law';
import { formatArea } from '@/core/units/length';
import type { LensResult } from '@/engine/protocol';
import { BreachMark } from '../kit/BreachMark';
import { VirtualBody } from '../kit/VirtualBody';
import { signed } from '../state/format';
import { BAND_MARK, type Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useModels } from '../state/useModels';
import { lostByRadio, useMap } from '../state/useLens';

type RadioRowProps = {
  ap: AccessPoint;
  radio: Radio;
  modelName: string;
  area: string;
  mean: string;
  shares: string | null;
  who: string | null;
  /** What would be below the threshold without it. */
  lost: string | null;
  /** What model or law do not allow of it. */
  breach: string | null;
  chosen: boolean;
  onPick: (id: string) => void;
  index: number;
  measure: ((element: HTMLTableRowElement | null) => void) | undefined;
};

/** Plain cells and plain values: with 200 access points there are 400 rows, and a drag changes few of them. */
const RadioRow = memo(function RadioRow({
  ap,
  radio,
  modelName,
  area,
  mean,
  shares,
  who,
  lost,
  breach,
  chosen,
  onPick,
  index,
  measure,
}: RadioRowProps) {
  return (
    <tr ref={measure} data-index={index} aria-current={chosen ? 'true' : undefined} onClick={() => onPick(ap.id)}>
      <td>
        <button type="button" className="plain" aria-label={`${ap.name}, ${radio.band} GHz`} onClick={() => onPick(ap.id)}>
          {ap.name}
        </button>
      </td>
      <td>{`${BAND_MARK[radio.band]} ${radio.band}`}</td>
      <td className="mono">{radio.on ? `${radio.channel}/${radio.widthMhz}` : 'off'}</td>
      <td className="mono">
        {radio.on ? signed(radio.txPowerDbm) : '–'}
        {breach !== null && <BreachMark words={breach} />}
      </td>
      <td>{modelName}</td>
      <td className="mono">{area}</td>
      <td className="mono">{mean}</td>
      {shares !== null && <td className="mono">{shares}</td>}
      {who !== null && <td className="wide">{who}</td>}
      {lost !== null && <td className="mono">{lost}</td>}
    </tr>
  );
});

/** Every radio of the floor: how it is set, what it serves, and with whom it shares where the lens counts that. */
export function RadiosTable({ place }: { place: Place }) {
  const map = useMap((s) => s.map);
  const { models } = useModels();
  const selection = useSession((s) => s.selection);
  const set = useSession((s) => s.set);
  const pick = useCallback((id: string) => set({ selection: { table: 'accessPoints', ids: [id] } }), [set]);
  const servedOf = useMemo(() => new Map(map?.radios.map((radio, i) => [`${radio.ap.id}/${radio.band}`, map.served[i]!])), [map]);
  const measured = useSession((s) => s.source === 'measured');
  // Contention and Overlap name who, and how much of the radio's area they count in.
  const counted = map !== null && map.sharers !== null && !measured;
  const sharersOf = useMemo(() => new Map(map?.radios.map((radio, i) => [`${radio.ap.id}/${radio.band}`, map.sharers?.[i]])), [map]);
  const lostOf = useMemo(() => (map === null ? null : lostByRadio(map)), [map]);
  // What is asked of Resilience is the worst loss: it stands first.
  const rows = useMemo(() => {
    const all = place.aps.flatMap((ap) => ap.radios.map((radio) => ({ ap, radio })));
    const lost = ({ ap, radio }: (typeof all)[number]): number => lostOf?.get(`${ap.id}/${radio.band}`) ?? -1;
    return lostOf === null ? all : all.sort((a, b) => lost(b) - lost(a));
  }, [place.aps, lostOf]);
  const nameOf = (radio: number) => map!.radios[radio]!.ap.name;
  return (
    <table className="dense" aria-label="Radios">
      <thead>
        <tr>
          {[
            'radio',
            'band',
            'channel/MHz',
            'dBm',
            'model',
            ...(measured ? ['serves, predicted', 'mean dBm, predicted'] : ['serves', 'mean dBm']),
            ...(counted ? ['shares with, mean', 'who, in % of its area'] : []),
            ...(lostOf === null ? [] : [`below ${signed(map!.threshold)} dBm if it fails`]),
          ].map((head) => (
            <th key={head} scope="col">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <VirtualBody
        items={rows}
        rowPx={27}
        columns={7 + (counted ? 2 : 0) + (lostOf === null ? 0 : 1)}
        row={({ ap, radio }, index, measure) => {
          const served = servedOf.get(`${ap.id}/${radio.band}`);
          const model = models(ap.modelId);
          const problem = lawProblem(domainOf(place.project), model, radio);
          return (
            <RadioRow
              key={`${ap.id}/${radio.band}`}
              ap={ap}
              radio={radio}
              modelName={model.name}
              area={served === undefined ? '–' : formatArea(served.areaM2, place.project.units)}
              shares={counted ? meanOf(sharersOf.get(`${ap.id}/${radio.band}`)) : null}
              who={counted ? listed(sharersOf.get(`${ap.id}/${radio.band}`), nameOf) : null}
              lost={lostOf === null ? null : lostWords(lostOf.get(`${ap.id}/${radio.band}`), map!.wholeM2, place.project.units)}
              mean={served === undefined || Number.isNaN(served.meanDbm) ? '–' : signed(served.meanDbm, 1)}
              breach={problem === null ? null : lawWords(problem)}
              chosen={selection?.table === 'accessPoints' && selection.ids.includes(ap.id)}
              onPick={pick}
              index={index}
              measure={measure}
            />
          );
        }}
      />
    </table>
  );
}

/** Of a share of nearly nothing the area is said, and of the area the share. */
const lostWords = (lostM2: number | undefined, wholeM2: number, units: Place['project']['units']): string =>
  lostM2 === undefined ? '–' : lostM2 === 0 ? 'nothing' : `${formatArea(lostM2, units)}, ${percent(lostM2 / wholeM2)} % of the area`;

type Sharers = NonNullable<LensResult['sharers']>[number] | undefined;

/** The mean of a radio's own area; a dash for another band's radio, or one that serves nowhere. */
const meanOf = (sharers: Sharers): string => (sharers === undefined || Number.isNaN(sharers.mean) ? '–' : sharers.mean.toFixed(2));

/** Who, each with the share of the area; the first few of many with the number of the others. */
function listed(sharers: Sharers, nameOf: (radio: number) => string): string {
  if (sharers === undefined || Number.isNaN(sharers.mean)) return '–';
  const { who } = sharers;
  if (who.length === 0) return 'nobody';
  const shown = who.slice(0, 6).map(({ radio, share }) => `${nameOf(radio)} ${percent(share)}`);
  return who.length > 6 ? `${shown.join(', ')} and ${who.length - 6} more` : shown.join(', ');
}

const percent = (share: number): string => (share > 0 && share < 0.005 ? '<1' : (share * 100).toFixed(0));
