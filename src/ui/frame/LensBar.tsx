'use client';
import { allClientTypes, clientTypesOf } from '@/core/design/design';
import Checkbox from '@mui/material/Checkbox';
import LinearProgress from '@mui/material/LinearProgress';
import { memo, useId, useMemo } from 'react';
import { bandRuleWords } from '@/core/radio/bandRule';
import { COMMON_TYPE, clientWords } from '@/core/radio/clientTypes';
import { BANDS, WIDTHS_MHZ, type Band } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { ssidsOf } from '@/core/design/ssids';
import { LENSES, lensOf } from '@/core/fields/lenses';
import { SIGNAL_KINDS } from '@/core/spectrum/signal';
import type { PlacedLook } from '@/core/survey/heard';
import { channelsSwept, kindsTold } from '@/core/survey/swept';
import { DIRECTIONS } from '@/core/fields/quality';
import { NumberEntry } from '../kit/NumberEntry';
import { useDocument } from '../state/documentStore';
import { Choice, type Option } from '../kit/Choice';
import { takesBand } from '../state/bandsAsked';
import { heardWords, primariesOf, standingChoice, type HeardFrom } from '../state/heardFrom';
import { bandLabel, bandsOf, useViewDesign, type Place } from '../state/selectors';
import { useSessionFields } from '../state/sessionStore';
import { emittersCounted, sweptAsked } from '../state/sweptAsked';
import { SIGNAL_WORDS } from '../state/signalWords';
import { useMap, type MapResult } from '../state/useLens';

function Chip({ label, off = false, children }: { label: string; off?: boolean; children: (id: string) => React.ReactNode }) {
  const id = useId();
  return (
    <span className={`chip${off ? ' off' : ''}`}>
      <span>
        <label htmlFor={id}>{label}</label>
      </span>
      {children(id)}
    </span>
  );
}

/** Entries of the list of whom the map is of: those that are picked now, and several that were. */
const PICKED = 'picked';
const KEPT = 'kept';
/** Entry of the list of bands: that which the client takes by its rule. */
const BY_CLIENT = 'client' as const;
const NOBODY: readonly string[] = [];
/** Entries of the lists of channels and of signals that are none. */
const ALL_CHANNELS = 0;
const NO_SIGNAL = 'none' as const;

const entryOf = (from: HeardFrom | null): string =>
  from === null
    ? ''
    : from.by === 'channel'
      ? `channel ${from.primary}`
      : from.by === 'ssid'
        ? `ssid ${from.id}`
        : from.ids.length === 1
          ? `ap ${from.ids[0]!}`
          : KEPT;

function choiceOf(entry: string, band: Band, picked: readonly string[], present: HeardFrom | null): HeardFrom | null {
  if (entry === '') return null;
  if (entry === KEPT) return present;
  if (entry === PICKED) return { by: 'aps', ids: picked };
  const [kind, rest] = [entry.slice(0, entry.indexOf(' ')), entry.slice(entry.indexOf(' ') + 1)];
  if (kind === 'ssid') return { by: 'ssid', id: rest };
  return kind === 'channel' ? { by: 'channel', band, primary: Number(rest) } : { by: 'aps', ids: [rest] };
}

const RANKS: ReadonlyArray<Option<0 | 1 | 2>> = [
  { value: 0, label: 'strongest' },
  { value: 1, label: '2nd strongest' },
  { value: 2, label: '3rd strongest' },
];

const GROUP_LABEL = { level: 'level', air: 'sharing the air', data: 'data and what is owed', areas: 'areas', walked: 'what was walked' } as const;
const WAY_LABEL = { down: 'to the client', up: 'from the client', both: 'the worse of both' } as const;

/** How the map was made: for whoever wants to know. */
const howOf = (map: MapResult, { project: { units } }: Place): string =>
  `${formatLength(map.scene.grid.cellM, units, units === 'us' ? 2 : 1)} grid, ${map.computedFields} radios, ${map.elapsedMs.toFixed(0)} ms`;

/** What the map shows: lens, band, whom, down to which level; and how long it took. */
export const LensBar = memo(function LensBar({ place, looks }: { place: Place; looks: readonly PlacedLook[] }) {
  const session = useSessionFields(
    'lens',
    'band',
    'byClient',
    'source',
    'rank',
    'heardFrom',
    'ignoreBelowDbm',
    'onlyKind',
    'widthMhz',
    'direction',
    'sweptChannel',
    'signalKind',
    'countEmitters',
    'clientId',
    'stage',
    'selection',
  );

  const { map, busy, error } = useMap();
  const design = useViewDesign();
  const clients = useMemo(() => allClientTypes(design), [design]);
  const { set, stage } = session;
  const picked = session.selection?.table === 'accessPoints' ? session.selection.ids : NOBODY;
  const standing = standingChoice(session.heardFrom, design);
  const heardFrom = standing?.by === 'channel' && standing.band !== session.band ? null : standing;
  // The channel that is chosen stays in the list when the last radio leaves it: the map is of nobody then.
  const inUse = primariesOf(place.around, session.band);
  const primaries = heardFrom?.by !== 'channel' || inUse.includes(heardFrom.primary) ? inUse : [...inUse, heardFrom.primary].sort((a, b) => a - b);
  const ssids = ssidsOf(design);
  const bands = bandsOf(place.around);
  const shown = lensOf(session.lens);
  const client = clientTypesOf(design)(session.clientId);
  const taking = takesBand(session);
  const sweep = sweptAsked(session, looks);
  const counted = emittersCounted(design, { ...session, countEmitters: true }, client);
  const told = kindsTold(looks, session.band);
  const kinds = map !== null && map.lens === session.lens ? map.kinds : [];
  return (
    <div className="lensbar" role="toolbar" aria-label="Lens">
      <Chip label="lens">
        {(id) => (
          <Choice
            id={id}
            title={shown.help}
            value={session.lens}
            options={LENSES.filter((lens) => !lens.measuredOnly || stage === 'survey').map((lens) => ({
              value: lens.id,
              label: lens.label,
              group: GROUP_LABEL[lens.group],
            }))}
            onChoose={(lens) => {
              // Where samples are looked at, what else can be shown of them is shown of them.
              const { measuredOnly, measured } = lensOf(lens);
              const walked = measuredOnly || (session.source === 'measured' && measured !== null);
              set({ lens, source: walked ? 'measured' : 'predicted', onlyKind: null });
            }}
          />
        )}
      </Chip>
      <Chip label="band">
        {(id) => (
          <Choice
            id={id}
            title={taking ? `${client.name} takes ${bandRuleWords(client.bandRule)}` : undefined}
            value={taking ? BY_CLIENT : session.band}
            options={[
              ...BANDS.map((band): Option<Band | typeof BY_CLIENT> => ({
                value: band,
                label: `${bandLabel(band)}${bands.has(band) ? '' : ' (no radio)'}`,
              })),
              ...(session.source === 'measured' ? [] : [{ value: BY_CLIENT, label: 'by client' }]),
            ]}
            onChoose={(band) =>
              set(
                // A channel is one of a band.
                band === BY_CLIENT ? { byClient: true, heardFrom: heardFrom?.by === 'channel' ? null : heardFrom } : { band, byClient: false },
              )
            }
          />
        )}
      </Chip>
      {shown.asks === 'kind' ? (
        <Chip label="show">
          {(id) => (
            <Choice
              id={id}
              value={session.onlyKind ?? ''}
              options={[{ value: '', label: 'all' }, ...kinds.map((kind) => ({ value: kind.id, label: kind.label }))]}
              onChoose={(kind) => set({ onlyKind: kind === '' ? null : kind })}
            />
          )}
        </Chip>
      ) : shown.asks === 'width' ? (
        <Chip label="width">
          {(id) => (
            <Choice
              id={id}
              value={session.widthMhz}
              options={WIDTHS_MHZ.map((widthMhz) => ({ value: widthMhz, label: `${widthMhz} MHz` }))}
              onChoose={(widthMhz) => set({ widthMhz })}
            />
          )}
        </Chip>
      ) : shown.asks === 'direction' ? (
        <Chip label="way">
          {(id) => (
            <Choice
              id={id}
              value={session.direction}
              options={DIRECTIONS.map((direction) => ({ value: direction, label: WAY_LABEL[direction] }))}
              onChoose={(direction) => set({ direction })}
            />
          )}
        </Chip>
      ) : shown.asks === 'channel' ? (
        <Chip label="channel">
          {(id) => (
            <Choice
              id={id}
              value={sweep?.what !== 'signal' ? (sweep?.channel ?? ALL_CHANNELS) : ALL_CHANNELS}
              options={[
                { value: ALL_CHANNELS, label: 'whichever has most' },
                ...channelsSwept(looks, session.band).map((channel) => ({ value: channel, label: `channel ${channel}` })),
              ]}
              onChoose={(channel) => set({ sweptChannel: channel === ALL_CHANNELS ? null : channel })}
            />
          )}
        </Chip>
      ) : shown.asks === 'signal' ? (
        <Chip label="signal">
          {(id) => (
            <Choice
              id={id}
              value={sweep?.what === 'signal' ? sweep.kind : NO_SIGNAL}
              options={[
                ...(sweep === null ? [{ value: NO_SIGNAL, label: 'none was told' }] : []),
                ...SIGNAL_KINDS.map((kind) => ({ value: kind, label: SIGNAL_WORDS[kind].label, off: !told.has(kind) })),
              ]}
              onChoose={(kind) => kind !== NO_SIGNAL && set({ signalKind: kind })}
            />
          )}
        </Chip>
      ) : (
        <Chip label="heard" off={shown.asks !== 'rank'}>
          {(id) => <Choice id={id} value={session.rank} disabled={shown.asks !== 'rank'} options={RANKS} onChoose={(rank) => set({ rank })} />}
        </Chip>
      )}
      {/* What a swept receiver finds is of no access point, and for no client. */}
      {shown.swept === null && (
        <>
          <Chip label="from">
            {(id) => (
              <Choice
                id={id}
                title={heardWords(session.heardFrom, design, session.band) || 'all access points'}
                value={entryOf(heardFrom)}
                options={[
                  { value: '', label: 'all APs' },
                  ...(picked.length > 1 ? [{ value: PICKED, label: `the ${picked.length} selected` }] : []),
                  ...(heardFrom?.by === 'aps' && heardFrom.ids.length > 1 ? [{ value: KEPT, label: `${heardFrom.ids.length} APs` }] : []),
                  ...(taking ? [] : primaries).map((primary) => ({
                    value: `channel ${primary}`,
                    label: `channel ${primary}`,
                    group: 'on a channel',
                  })),
                  ...ssids.map(({ id: ssidId, name, bands: announced }) => ({
                    value: `ssid ${ssidId}`,
                    label: name,
                    group:
                      taking || announced.includes(session.band)
                        ? 'by network name'
                        : `by a network name that is not announced at ${bandLabel(session.band)}`,
                  })),
                  ...place.around.map((ap) => ({
                    value: `ap ${ap.id}`,
                    label: ap.name,
                    group: ap.floorId === place.floor.id ? 'one alone' : 'other floors',
                  })),
                ]}
                onChoose={(entry) => set({ heardFrom: choiceOf(entry, session.band, picked, heardFrom) })}
              />
            )}
          </Chip>
          <Chip label="for">
            {(id) => (
              <Choice
                id={id}
                title={`${client.name}: ${clientWords(client)}`}
                value={client.id}
                options={[
                  { value: COMMON_TYPE.id, label: COMMON_TYPE.name },
                  ...clients.map((type) => ({
                    value: type.id,
                    label: type.name,
                    group: place.project.clientTypes.includes(type.id) ? 'expected, by the brief' : 'others',
                  })),
                ]}
                onChoose={(clientId) => set({ clientId })}
              />
            )}
          </Chip>
          <Chip label="ignore below">
            {(id) => (
              <NumberEntry
                id={id}
                label="Ignore below"
                value={session.ignoreBelowDbm}
                unit="dBm"
                min={-100}
                max={-40}
                digits={0}
                onCommit={(ignoreBelowDbm) => set({ ignoreBelowDbm })}
                onProblem={(words) => words !== null && useDocument.getState().setNotice({ words })}
              />
            )}
          </Chip>
        </>
      )}
      {shown.disturbed && counted.length > 0 && (
        <label className="lens-tick" title="Their mean power in the serving radio’s channel counts as noise, while they work.">
          <Checkbox size="small" checked={session.countEmitters} onChange={(_, on) => set({ countEmitters: on })} />
          {`${counted.length} ${counted.length === 1 ? 'emitter' : 'emitters'}`}
        </label>
      )}
      <span className="timing" role="status" title={map === null ? undefined : howOf(map, place)}>
        {error !== null ? (
          <strong className="urgent">{error}</strong>
        ) : map === null ? (
          'computing …'
        ) : map.radios.length === 0 && !map.measured ? (
          'nobody is heard'
        ) : map.measured ? (
          `measured${map.aside === '' ? '' : `, ${map.aside}`}`
        ) : (
          'predicted'
        )}
      </span>
      {busy && <LinearProgress className="progressline" aria-label="The map is being computed" />}
    </div>
  );
});
