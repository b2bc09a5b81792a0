'use client';
import Table from '@mui/material/Table';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import { useEffect, useMemo, useState } from 'react';
import type { HeardNetwork } from '@/core/air/heard';
import { Choice } from '../../kit/Choice';
import { VirtualBody } from '../../kit/VirtualBody';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { setAir, setList, useAir } from './airStore';
import { channelMark, channelsOf, columnOf, COLUMNS, NO_CHANNEL, FIRST_COLUMNS, grouped, GROUPINGS, sorted, type NetworkRow } from './columns';
import { saveNetworks } from './saveNetworks';

const KEY = 'upper-room.air.columns';
/** Columns as this browser keeps them; what it does not know is left out. */
function keptColumns(): readonly string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? 'null');
    const known = Array.isArray(kept) ? kept.filter((id): id is string => typeof id === 'string' && columnOf(id) !== undefined) : [];
    return known.length > 0 ? known : FIRST_COLUMNS;
  } catch {
    // A browser that refuses its storage begins with the first ones.
    return FIRST_COLUMNS;
  }
}

/** The networks that were heard: columns as chosen, sorted by several, filtered, put together, and taken out as files. */
export function NetworksTable({
  networks,
  ownerOf,
  place,
}: {
  networks: readonly HeardNetwork[];
  ownerOf: (bssid: string) => string | null;
  place: Place;
}) {
  const accessPoints = useDocument((s) => s.design.accessPoints);
  const [columns, setColumns] = useState<readonly string[]>(keptColumns);
  const { channel, security, widthMhz, group, by } = useAir((s) => s.list);
  const [choosing, choose] = useState(false);
  const picked = useAir((s) => s.picked);
  const bandNow = useAir((s) => s.band);
  const find = useAir((s) => s.find);
  useEffect(() => {
    try {
      localStorage.setItem(KEY, JSON.stringify(columns));
    } catch (error) {
      console.warn('The browser refuses its storage; the columns are not remembered.', error);
    }
  }, [columns]);
  const rows = useMemo(() => {
    const all = networks
      .filter(
        ({ newest }) =>
          (security === 'any' || newest.network.security === security) &&
          (widthMhz === 0 || newest.widthMhz === widthMhz) &&
          (channel === NO_CHANNEL.every || (channel === NO_CHANNEL.band ? newest.band === bandNow : channelMark(newest) === channel)),
      )
      .map((network): NetworkRow => {
        const apId = ownerOf(network.bssid);
        return { network, apName: apId === null ? null : (accessPoints[apId]?.name ?? 'deleted AP') };
      });
    return sorted(all, by);
  }, [networks, ownerOf, accessPoints, by, bandNow, security, widthMhz, channel]);
  const items = useMemo(() => grouped(rows, group), [rows, group]);
  // What is chosen stays to be seen where nobody is so any more.
  const securities = [...new Set([...networks.map(({ newest }): string => newest.network.security), security])].filter((one) => one !== 'any').sort();
  const widths = [...new Set([...networks.map(({ newest }): number => newest.widthMhz), widthMhz])].filter((one) => one > 0).sort((a, b) => a - b);
  const channels = channelsOf(networks, channel);
  const shown = columns.flatMap((id) => columnOf(id) ?? []);
  const sortBy = (id: string, also: boolean) => {
    const now = by.find((one) => one.id === id);
    const next = { id, down: now === undefined ? false : !now.down };
    setList({ by: also ? (now === undefined ? [...by, next] : by.map((one) => (one.id === id ? next : one))) : [next] });
  };
  const pick = (bssid: string, also: boolean) =>
    setAir({ picked: also ? (picked.includes(bssid) ? picked.filter((one) => one !== bssid) : [...picked, bssid]) : [bssid] });
  return (
    <>
      <div className="air-filters">
        <input
          type="search"
          aria-label="Find a network"
          placeholder="name, address, maker"
          value={find}
          maxLength={60}
          onChange={(event) => setAir({ find: event.target.value })}
        />
        <Choice
          label="Channels listed"
          value={channel}
          options={[
            { value: NO_CHANNEL.every as string, label: NO_CHANNEL.every as string },
            { value: NO_CHANNEL.band, label: `${bandNow} GHz alone` },
            ...channels.map((value) => ({ value, label: value })),
          ]}
          onChoose={(value) => setList({ channel: value })}
        />
        <Choice
          label="Security listed"
          value={security}
          options={[{ value: 'any', label: 'any security' }, ...securities.map((value) => ({ value, label: value }))]}
          onChoose={(value) => setList({ security: value })}
        />
        <Choice
          label="Widths listed"
          value={widthMhz}
          options={[{ value: 0, label: 'any width' }, ...widths.map((value) => ({ value, label: `${value} MHz` }))]}
          onChoose={(value) => setList({ widthMhz: value })}
        />
        <Choice
          label="Put together by"
          value={group}
          options={GROUPINGS.map((value) => ({ value, label: value === 'none' ? 'one by one' : `by ${value}` }))}
          onChoose={(value) => setList({ group: value })}
        />
        <button type="button" className="quiet-button" aria-expanded={choosing} onClick={() => choose(!choosing)}>
          columns
        </button>
        {rows.length < networks.length && <span role="status" aria-label="Listed">{`${rows.length} of ${networks.length} listed`}</span>}
        <span className="save">
          {(['CSV', 'HTML', 'JSON'] as const).map((as) => (
            <button
              key={as}
              type="button"
              className="quiet-button"
              title={`Keep this list as ${as}`}
              onClick={() => saveNetworks(as, rows, shown, place)}
            >
              {as}
            </button>
          ))}
        </span>
      </div>
      {choosing && <Columns columns={columns} onChange={setColumns} />}
      {rows.length === 0 ? (
        <p className="empty">
          {networks.length === 0
            ? 'Nothing was heard yet: let the clock run, or ignore less.'
            : 'No network that was heard is so: change the filters.'}
        </p>
      ) : (
        <Table size="small" stickyHeader aria-label="Networks heard">
          <TableHead>
            <TableRow>
              {shown.map(({ id, head, help }) => {
                const place = by.findIndex((one) => one.id === id);
                return (
                  <TableCell key={id} title={`${help === undefined ? '' : `${help}. `}Shift and click sorts by it after the others.`}>
                    <TableSortLabel
                      active={place >= 0}
                      direction={by[place]?.down === true ? 'desc' : 'asc'}
                      onClick={(event) => sortBy(id, event.shiftKey)}
                    >
                      {head}
                      {by.length > 1 && place >= 0 ? ` ${place + 1}` : ''}
                    </TableSortLabel>
                  </TableCell>
                );
              })}
            </TableRow>
          </TableHead>
          <VirtualBody
            items={items}
            rowPx={27}
            columns={shown.length}
            row={(item, index, measure) =>
              item.kind === 'sum' ? (
                <TableRow key={`sum ${item.name}`} data-index={index} ref={measure} className="sum">
                  <TableCell colSpan={shown.length}>
                    <b>{item.name}</b> {item.words}
                  </TableCell>
                </TableRow>
              ) : (
                <TableRow
                  key={item.row.network.bssid}
                  data-index={index}
                  ref={measure}
                  hover
                  selected={picked.includes(item.row.network.bssid)}
                  className={item.row.network.nowDbm === null ? 'gone' : undefined}
                  onClick={(event) => pick(item.row.network.bssid, event.shiftKey || event.ctrlKey || event.metaKey)}
                >
                  {shown.map(({ id, mono, text }, i) => (
                    <TableCell key={id} className={`${mono ? 'mono' : ''}${item.row.apName !== null && i === 0 ? ' ours' : ''}`}>
                      {i === 0 ? (
                        <button type="button" className="plain" aria-pressed={picked.includes(item.row.network.bssid)}>
                          {text(item.row)}
                        </button>
                      ) : (
                        text(item.row)
                      )}
                    </TableCell>
                  ))}
                </TableRow>
              )
            }
          />
        </Table>
      )}
    </>
  );
}

/** Which columns are shown, and in which order. */
function Columns({ columns, onChange }: { columns: readonly string[]; onChange: (columns: readonly string[]) => void }) {
  const move = (id: string, by: number) => {
    const at = columns.indexOf(id);
    const to = Math.min(columns.length - 1, Math.max(0, at + by));
    const rest = columns.filter((one) => one !== id);
    onChange([...rest.slice(0, to), id, ...rest.slice(to)]);
  };
  return (
    <fieldset className="air-columns">
      <legend>Columns</legend>
      {COLUMNS.map(({ id, head }) => {
        const on = columns.includes(id);
        return (
          <span key={id}>
            <label>
              <input
                type="checkbox"
                checked={on}
                disabled={on && columns.length === 1}
                onChange={() => onChange(on ? columns.filter((one) => one !== id) : [...columns, id])}
              />
              {head}
            </label>
            {on && (
              <>
                <button type="button" className="quiet-button" aria-label={`${head} further left`} onClick={() => move(id, -1)}>
                  ‹
                </button>
                <button type="button" className="quiet-button" aria-label={`${head} further right`} onClick={() => move(id, 1)}>
                  ›
                </button>
              </>
            )}
          </span>
        );
      })}
      <button type="button" className="quiet-button" onClick={() => onChange(FIRST_COLUMNS)}>
        as at first
      </button>
    </fieldset>
  );
}
