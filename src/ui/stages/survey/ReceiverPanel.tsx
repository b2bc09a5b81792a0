'use client';
import Button from '@mui/material/Button';
import type { Walk } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { BANDS } from '@/core/radio/band';
import { DAY_MS } from '@/core/spectrum/signal';
import { ADAPTERS, adapterOf, chosenChannels, DEFAULT_SETTING, type ReceiverSetting } from '@/core/survey/setting';
import { sweptParts, type Carried as Swept } from '@/core/survey/swept';
import { channelsIn, channelsProblem } from '../../kit/channelList';
import { CheckField, NumberField, SelectField, TextField, Value } from '../../inspector/fields';
import { signed } from '../../state/format';
import { bandLabel } from '../../state/selectors';
import { clock, hourOf } from '../air/clock';
import { useAir } from '../air/airStore';
import { SPEEDS, connect, disconnect, startWalk, useWalker } from './walker';

const RECEIVER_TEXT = { off: 'not connected', searching: 'searching …', connecting: 'connecting …', connected: 'connected' } as const;
/** Below this a battery is to be changed soon. */
const LOW_BATTERY = 0.1;

/** The swept receiver as it is carried beside the other: over which bands, and when of the simulated day the walk begins. */
function Carried({ swept, fixed, onChange }: { swept: Swept; fixed: boolean; onChange: (swept: Swept) => void }) {
  const looks = sweptParts(swept.bands).length;
  return (
    <>
      {BANDS.map((band) => (
        <CheckField
          key={band}
          label={`sweeps ${bandLabel(band)}`}
          checked={swept.bands.includes(band)}
          disabled={fixed || (swept.bands.length === 1 && swept.bands.includes(band))}
          onCommit={(on) => onChange({ ...swept, bands: BANDS.filter((b) => (b === band ? on : swept.bands.includes(b))) })}
        />
      ))}
      <TextField
        key={swept.fromMs}
        label="begins at, on the site"
        value={clock(swept.fromMs)}
        maxLength={8}
        disabled={fixed}
        problem={(text) => (hourOf(text) === null ? 'A time of the day, as 12:30.' : null)}
        onCommit={(text) => onChange({ ...swept, fromMs: Math.round((hourOf(text) ?? 0) * 3_600_000) })}
      />
      <p>
        {looks === 1
          ? 'It looks at the whole band once a second: energy and noise in each channel, and what is not Wi-Fi.'
          : `It looks at ${looks} parts of the bands in turn, a second each: walk slowly, or stand, to have every part near every spot.`}
      </p>
    </>
  );
}

/** The receiver: whether it is there, what it is, and how it listens. `under`: the walk under way, which keeps its own setting. */
export function ReceiverPanel({ under }: { under: Walk | undefined }) {
  const walker = useWalker();
  const setting = under === undefined ? walker.setting : (under.receiver ?? DEFAULT_SETTING);
  const change = (fields: Partial<ReceiverSetting>) => useWalker.setState({ setting: { ...walker.setting, ...fields } });
  const { bands, channels, dwellMs, adapter, ssid, swept } = setting;
  const chosen = chosenChannels(setting);
  const list = channels.length > 0 ? chosen.length : walker.channels;
  const { offsetDb } = adapterOf(adapter);
  const fixed = under !== undefined;
  return (
    <>
      <h3>Receiver (simulated)</h3>
      <Value label="state">
        <span data-testid="receiver-state" role="status">
          {walker.receiver === 'connected' && !walker.hearing ? 'connected, no answer from the site' : RECEIVER_TEXT[walker.receiver]}
        </span>
      </Value>
      <Value label="battery">{`${Math.ceil(walker.battery * 100)} %${walker.battery < LOW_BATTERY ? ', change it soon' : ''}`}</Value>
      {list > 0 && <Value label="scan list">{`${list} channels, ${((list * dwellMs) / 1000).toFixed(1)} s a round`}</Value>}
      {BANDS.map((band) => (
        <CheckField
          key={band}
          label={bandLabel(band)}
          checked={bands.includes(band)}
          disabled={fixed}
          onCommit={(on) => change({ bands: BANDS.filter((b) => (b === band ? on : bands.includes(b))) })}
        />
      ))}
      <SelectField
        label="pace"
        value={walker.speed}
        options={SPEEDS.map((speed) => ({ value: speed, label: speed === 1 ? '1 m/s, as walked' : `${speed} times faster` }))}
        onCommit={(speed) => useWalker.setState({ speed })}
      />
      <CheckField
        label="swept receiver too"
        checked={swept !== null}
        disabled={fixed}
        onCommit={(on) => change({ swept: on ? { bands: ['2.4'], fromMs: Math.round(useAir.getState().clockMs % DAY_MS) } : null })}
      />
      {swept !== null && <Carried swept={swept} fixed={fixed} onChange={(next) => change({ swept: next })} />}
      <details className="more">
        <summary>{`How it listens: ${adapterOf(adapter).name}, ${channels.length === 0 ? 'all channels' : `${chosen.length} channels`}, ${dwellMs} ms`}</summary>
        {fixed && <p>A walk keeps the setting that it began with.</p>}
        <SelectField
          label="adapter"
          value={adapter}
          disabled={fixed}
          options={ADAPTERS.map(({ id, name, offsetDb: more }) => ({
            value: id,
            label: more === 0 ? name : `${name}, ${more > 0 ? '+' : ''}${signed(more)} dB`,
          }))}
          onCommit={(id) => change({ adapter: id })}
        />
        {offsetDb !== 0 && <p>{`What it reads ${offsetDb > 0 ? 'more' : 'less'} than the reference is taken off in maps and tables.`}</p>}
        <NumberField
          label="dwell"
          unit="ms"
          value={dwellMs}
          min={LIMITS.dwellMs.min}
          max={LIMITS.dwellMs.max}
          disabled={fixed}
          onCommit={(ms) => change({ dwellMs: Math.round(ms) })}
        />
        {dwellMs < DEFAULT_SETTING.dwellMs && <p>Shorter than a beacon interval of 102.4 ms: a real receiver misses beacons that this one hears.</p>}
        <TextField
          key={channels.join()}
          label="only channels"
          value={channels.join(', ')}
          maxLength={300}
          mayBeEmpty
          disabled={fixed}
          problem={channelsProblem}
          onCommit={(text) => change({ channels: channelsIn(text) ?? [] })}
        />
        {channels.length > 0 && chosen.length === 0 && <p role="alert">None of these is a channel of the ticked bands: nothing would be heard.</p>}
        <TextField label="only the network" value={ssid} maxLength={32} mayBeEmpty disabled={fixed} onCommit={(text) => change({ ssid: text })} />
      </details>
      <div className="row">
        {walker.receiver === 'off' ? (
          <Button variant="contained" disabled={walker.battery === 0} onClick={() => void connect()}>
            Connect receiver
          </Button>
        ) : (
          <Button variant="outlined" color="secondary" disabled={walker.receiver !== 'connected'} onClick={disconnect}>
            Disconnect
          </Button>
        )}
        {walker.battery < LOW_BATTERY && walker.receiver === 'off' && (
          <Button variant="outlined" color="secondary" onClick={() => useWalker.setState({ battery: 1 })}>
            Change battery
          </Button>
        )}
        {walker.receiver === 'connected' && under === undefined && (
          <Button variant="contained" disabled={bands.length === 0 || (channels.length > 0 && chosen.length === 0)} onClick={startWalk}>
            Start walk
          </Button>
        )}
      </div>
    </>
  );
}
