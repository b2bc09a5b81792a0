'use client';
import Button from '@mui/material/Button';
import { channelOfHeard, levelOf, type HeardNetwork } from '@/core/air/heard';
import { isLocal, makerOf } from '@/core/air/makers';
import { expectedClients } from '@/core/design/design';
import { spreadOf } from '@/core/survey/transfer';
import { BEACON_OCTETS, beaconShare } from '@/core/radio/beacon';
import { BANDS } from '@/core/radio/band';
import { centreMhz, channelExists, channelLabel } from '@/core/radio/channel';
import { overlapShare } from '@/core/radio/overlap';
import { AIR_LIMITS } from '@/contract/air';
import { CheckField, NumberField, SelectField, TextField, Value } from '../../inspector/fields';
import { channelsIn, channelsProblem } from '../../kit/channelList';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { signed } from '../../state/format';
import { advisedOf, SAME_SHARE } from '@/core/air/advice';
import { optionWords, otherBandWords, reasonOf } from './adviceWords';
import { NOTHING_ON_AIR } from '@/core/air/heard';
import { scanChannels, setAir, useAir, whereNow } from './airStore';
import { clock } from './clock';
import { radioKey } from './outlines';
import { takeOption } from './takeOption';
import { useAdvice, useLoads } from './useLoad';

/** What is picked, and what should be done for our access point; the receiver's settings. */
export function AirPanel({
  place,
  networks,
  ownerOf,
  apId,
  onAp,
}: {
  place: Place;
  networks: readonly HeardNetwork[];
  ownerOf: (bssid: string) => string | null;
  apId: string | null;
  onAp: (apId: string) => void;
}) {
  const picked = useAir((s) => s.picked);
  const problem = useAir((s) => s.problem);
  const tab = useAir((s) => s.tab);
  const network = networks.find(({ bssid }) => bssid === picked[0]);
  return (
    <>
      {problem !== null && (
        <p role="alert" className="urgent">
          {problem}
        </p>
      )}
      {network !== undefined && <Picked network={network} networks={networks} place={place} ownerOf={ownerOf} />}
      {(tab === 'load' || tab === 'networks') && <BetterFor place={place} networks={networks} apId={apId} onAp={onAp} />}
      <ReceiverForm />
    </>
  );
}

function Picked({
  network,
  networks,
  place,
  ownerOf,
}: {
  network: HeardNetwork;
  networks: readonly HeardNetwork[];
  place: Place;
  ownerOf: (bssid: string) => string | null;
}) {
  const { newest, bssid } = network;
  const { network: told } = newest;
  const ap = place.around.find(({ id }) => id === ownerOf(bssid));
  const channel = channelOfHeard(network);
  const loudestOurs = networks
    .filter((one) => ownerOf(one.bssid) !== null && one.newest.band === newest.band)
    .reduce((best, one) => Math.max(best, levelOf(one)), -Infinity);
  const beside = levelOf(network) - loudestOurs;
  const seen = new Set<string>([radioKey(bssid, channel)]);
  const overlapping = channelExists(channel)
    ? networks
        .filter((one) => {
          const key = radioKey(one.bssid, channelOfHeard(one));
          if (seen.has(key) || !channelExists(channelOfHeard(one))) return false;
          seen.add(key);
          return overlapShare(channelOfHeard(one), channel) >= 0.01;
        })
        .sort((a, b) => levelOf(b) - levelOf(a))
        .slice(0, 8)
    : [];
  const spread = spreadOf(network.history.dbm.filter((dbm) => !Number.isNaN(dbm)));
  const names = networks.filter((one) => one.bssid.slice(2) === bssid.slice(2) && one.newest.channel === newest.channel).length;
  return (
    <section aria-label="Picked network">
      <h2>{told.ssid || 'Hidden network'}</h2>
      <p>
        {ap === undefined ? 'Not ours' : `${ap.name}, ours`}
        {ap === undefined &&
          Number.isFinite(beside) &&
          ` · ${Math.abs(Math.round(beside))} dB ${beside < 0 ? 'quieter' : 'louder'} than the loudest of ours here`}
      </p>
      <Value label="BSSID">{bssid}</Value>
      <Value label="channel">{`${channelLabel(channel)}${channelExists(channel) ? `, ${centreMhz(channel)} MHz` : ''}`}</Value>
      <Value label="level">{network.nowDbm === null ? `not heard since ${clock(network.lastMs)}` : `${signed(network.nowDbm)} dBm now`}</Value>
      <Value label="mean">{`${signed(network.meanDbm, 1)} dBm${Number.isFinite(spread) ? ` ± ${spread.toFixed(1)}` : ''}`}</Value>
      <Value label="lowest basic">{`${Math.min(...told.basicMbps)} Mb/s`}</Value>
      <Value label="its beacons">{`${(100 * beaconShare(names, Math.min(...told.basicMbps), newest.band)).toFixed(1)} % of airtime`}</Value>
      <p className="second">{`${names} ${names === 1 ? 'name' : 'names'}, beacons of ${BEACON_OCTETS} octets taken. ${told.generation}, ${told.streams} ${told.streams === 1 ? 'stream' : 'streams'}, ${told.security}${told.country === null ? '' : `, ${told.country}`}; maker: ${makerOf(bssid) ?? 'not in the registry'}${isLocal(bssid) ? ', address locally administered' : ''}.`}</p>
      <h3>Overlaps</h3>
      {overlapping.length === 0 && <p>Nobody who is heard here sends into its channel.</p>}
      <table className="air-overlaps">
        <tbody>
          {overlapping.map((one) => (
            <tr key={one.bssid}>
              <td>
                <button type="button" className="plain" onClick={() => setAir({ picked: [one.bssid] })}>
                  {place.around.find(({ id }) => id === ownerOf(one.bssid))?.name ?? (one.newest.network.ssid || '(hidden)')}
                </button>
              </td>
              <td className="mono">{channelLabel(channelOfHeard(one))}</td>
              <td
                className="mono"
                title="Share of its power that falls into the picked channel"
              >{`${Math.round(100 * overlapShare(channelOfHeard(one), channel))} %`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <button type="button" className="plain" onClick={() => setAir({ picked: [] })}>
        Let it go
      </button>
    </section>
  );
}

/** The better channel for one of our access points, with the reason, as one step. */
function BetterFor({
  place,
  networks,
  apId,
  onAp,
}: {
  place: Place;
  networks: readonly HeardNetwork[];
  apId: string | null;
  onAp: (apId: string) => void;
}) {
  const band = useAir((s) => s.band);
  const listensFrom = useAir((s) => s.apId);
  const design = useDocument((s) => s.design);
  const advice = useAdvice(place, networks, apId, band);
  const five = useAdvice(place, networks, apId, '5');
  const { now } = useLoads(band);
  const withRadio = place.aps.filter(({ radios }) => radios.some((radio) => radio.band === band && radio.on));
  const nameOf = (id: string) => design.accessPoints[id]?.name ?? 'a deleted AP';
  const options = advice?.options ?? [];
  const best = advisedOf(options.filter(({ channel }) => channel.widthMhz === advice?.radio.widthMhz)) ?? advisedOf(options);
  const better = advice !== null && best !== undefined && (advice.present === null || best.left > advice.present.left + SAME_SHARE);
  return (
    <section aria-label="Better channel">
      <h3>Better channel</h3>
      <SelectField
        label="for"
        value={withRadio.some(({ id }) => id === apId) ? apId! : ''}
        options={[{ value: '', label: 'choose' }, ...withRadio.map(({ id, name }) => ({ value: id, label: name }))]}
        onCommit={onAp}
      />
      {now.length === 0 ? (
        <p>Measure the load first, under Load: how many networks there are says little of how busy a channel is.</p>
      ) : advice === null || best === undefined ? (
        <p>Choose one of our access points that is on at this band.</p>
      ) : (
        <>
          <p>
            <b>{`${better ? 'Channel' : 'It stands well: channel'} ${channelLabel((better ? best : (advice.present ?? best)).channel)}`}</b>
            {`: ${optionWords(better ? best : (advice.present ?? best))}.`}
          </p>
          {reasonOf(better ? best : (advice.present ?? best), advice.present, advice.options, nameOf).map((words) => (
            <p key={words}>{words}</p>
          ))}
          {band === '2.4' && five !== null && five.options[0] !== undefined && (
            <p>{otherBandWords(expectedClients(design), five.options[0].left, five.options[0].channel.widthMhz)}</p>
          )}
          {listensFrom !== advice.ap.id && (
            <p className="second">{`Measured where the receiver stood, not where ${advice.ap.name} hangs: listen from there to be sure.`}</p>
          )}
          {better && (
            <Button variant="contained" size="small" onClick={() => takeOption(advice, best)}>
              {`Take ${channelLabel(best.channel)} for ${advice.ap.name}`}
            </Button>
          )}
        </>
      )}
    </section>
  );
}

/** How the receiver scans. */
function ReceiverForm() {
  const scan = useAir((s) => s.scan);
  const set = (fields: Partial<typeof scan>) => setAir({ scan: { ...scan, ...fields }, heard: NOTHING_ON_AIR });
  return (
    <details className="more">
      <summary>{`Receiver: ${scan.bands.length === 0 ? 'no band' : scan.bands.map((band) => `${band}`).join(', ')} GHz, ${scan.only.length === 0 ? '' : `${scanChannels(scan).length} channels, `}${scan.dwellMs} ms a channel`}</summary>
      {BANDS.map((band) => (
        <CheckField
          key={band}
          label={`${band} GHz`}
          checked={scan.bands.includes(band)}
          onCommit={(on) => set({ bands: BANDS.filter((one) => (one === band ? on : scan.bands.includes(one))) })}
        />
      ))}
      <TextField
        key={scan.only.join()}
        label="only channels"
        value={scan.only.join(', ')}
        maxLength={300}
        mayBeEmpty
        problem={channelsProblem}
        onCommit={(text) => set({ only: channelsIn(text) ?? [] })}
      />
      {scan.only.length > 0 && scanChannels(scan).length === 0 && (
        <p role="alert">None of these is a channel of the ticked bands: nothing is heard.</p>
      )}
      <NumberField
        label="on each"
        unit="ms"
        value={scan.dwellMs}
        min={AIR_LIMITS.dwellMs.min}
        max={AIR_LIMITS.dwellMs.max}
        digits={0}
        onCommit={(dwellMs) => set({ dwellMs })}
      />
      <NumberField
        label="a round each"
        unit="s"
        value={scan.intervalS}
        min={AIR_LIMITS.intervalMs.min / 1000}
        max={AIR_LIMITS.intervalMs.max / 1000}
        digits={0}
        onCommit={(intervalS) => set({ intervalS })}
      />
      <p className="second">{`0 s: one round after the other. ${whereNow()?.apId === null ? '' : 'What the access point itself sends is not heard.'}`}</p>
    </details>
  );
}
