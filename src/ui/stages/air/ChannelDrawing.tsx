'use client';
import { useMemo, useRef, useState } from 'react';
import type { LoadSummary } from '@/core/air/advice';
import { domainOf } from '@/core/design/design';
import { bandSheet, cellWords, marksOf } from '@/core/radio/bandSheet';
import { centreMhz } from '@/core/radio/channel';
import { overlapShare } from '@/core/radio/overlap';
import type { Place } from '../../state/selectors';
import { Choice } from '../../kit/Choice';
import { useSize } from '../../plan/useSize';
import { signed } from '../../state/format';
import { setAir, useAir } from './airStore';
import { DRAWN_DBM, labelsOf, outlineOf, partsOf, xOf, yOf, type DrawnRadio, type Frame } from './outlines';

const LEFT = 46;
const CELL_PX = 20;

/** A band along frequency: every network as its transmit mask at its level, over the channels with what the law says of them, how many of ours stand there, and how busy they were measured. */
export function ChannelDrawing({ place, radios, loads }: { place: Place; radios: readonly DrawnRadio[]; loads: readonly LoadSummary[] }) {
  const band = useAir((s) => s.band);
  const [part, setPart] = useState('all');
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const domain = domainOf(place.project);
  const sheet = useMemo(() => bandSheet(domain, band), [domain, band]);
  const parts = useMemo(() => partsOf(band, sheet), [band, sheet]);
  const shown = parts.find(({ id }) => id === part) ?? parts[0]!;
  const width = size?.widthPx ?? 800;
  const height = size?.heightPx ?? 280;
  const frame: Frame = { startMhz: shown.startMhz, stopMhz: shown.stopMhz, left: LEFT, right: width - 12, top: 26, bottom: height - CELL_PX - 40 };
  const inPart = radios.filter(({ channel }) => {
    const mhz = centreMhz(channel);
    return mhz > frame.startMhz - channel.widthMhz && mhz < frame.stopMhz + channel.widthMhz;
  });
  const labels = labelsOf(inPart, frame);
  const chosen = inPart.filter((radio) => radio.picked).at(-1);
  const cells = sheet.flatMap(({ name, cells: all }) => all.map((cell) => ({ ...cell, name })));
  const ours = new Map<number, number>();
  for (const ap of place.around)
    for (const radio of ap.radios) if (radio.band === band && radio.on) ours.set(radio.channel, (ours.get(radio.channel) ?? 0) + 1);
  const levels = Array.from({ length: 7 }, (_, i) => DRAWN_DBM.max - 10 - 10 * i);
  const path = (radio: (typeof inPart)[number]) =>
    `M${outlineOf(radio, frame)
      .map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`)
      .join('L')}`;
  const cellY = frame.bottom + 8;
  // Where cells are narrower than their numbers, every other one has its own, or every third.
  const longest = Math.max(...cells.map(({ number }) => String(number).length));
  const cellPx = xOf(frame, frame.startMhz + (band === '2.4' ? 5 : 20)) - frame.left;
  const everyNth = Math.max(1, Math.ceil((7 * longest + 1) / cellPx));
  const words = `${inPart.length} radios on ${band} GHz, the loudest ${
    radios.length === 0
      ? 'none'
      : [...inPart]
          .reverse()
          .slice(0, 5)
          .map(({ names, channel, dbm }) => `${names[0]} on ${channel.primary} at ${signed(Math.round(dbm))} dBm`)
          .join('; ')
  }`;
  return (
    <div className="air-drawing" ref={box}>
      <svg width={width} height={height} role="group" aria-label={`Channels along frequency. ${words}`}>
        <defs>
          <pattern id="air-forbidden" width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1={0} y1={0} x2={0} y2={5} stroke="var(--ink2)" strokeWidth={1} strokeOpacity={0.55} />
          </pattern>
          <pattern id="air-overlap" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
            <line x1={0} y1={0} x2={0} y2={6} stroke="var(--hand)" strokeWidth={1} strokeOpacity={0.55} />
          </pattern>
          <clipPath id="air-frame">
            <rect
              x={frame.left}
              y={frame.top - 20}
              width={Math.max(0, frame.right - frame.left)}
              height={Math.max(0, frame.bottom - frame.top + 20)}
            />
          </clipPath>
          {chosen !== undefined && (
            <clipPath id="air-picked">
              <path d={`${path(chosen)}Z`} />
            </clipPath>
          )}
        </defs>
        {levels.map((dbm) => (
          <g key={dbm}>
            <line x1={frame.left} x2={frame.right} y1={yOf(frame, dbm)} y2={yOf(frame, dbm)} stroke="var(--rule)" />
            <text x={frame.left - 6} y={yOf(frame, dbm) + 4} textAnchor="end" className="mono axis">
              {signed(dbm)}
            </text>
          </g>
        ))}
        <text x={frame.left - 6} y={frame.top - 8} textAnchor="end" className="axis">
          dBm
        </text>
        <g clipPath="url(#air-frame)">
          {chosen !== undefined &&
            inPart
              .filter((radio) => radio !== chosen && overlapShare(radio.channel, chosen.channel) > 0.01)
              .map((radio) => <path key={`over ${radio.key}`} d={`${path(radio)}Z`} fill="url(#air-overlap)" clipPath="url(#air-picked)" />)}
          {inPart.map((radio) => (
            <path
              key={radio.key}
              d={path(radio)}
              fill="none"
              className="air-outline"
              stroke={radio.picked ? 'var(--hand)' : radio.apId !== null ? 'var(--ink)' : 'var(--ink2)'}
              strokeWidth={radio.picked ? 2.2 : radio.apId !== null ? 1.6 : 1.1}
              strokeDasharray={radio.apId !== null ? undefined : '5 3'}
              strokeOpacity={radio.gone ? 0.35 : 1}
              onClick={() => setAir({ picked: [...radio.bssids] })}
            >
              <title>{`${radio.names.join(', ')}: ${radio.channel.primary}/${radio.channel.widthMhz}, ${signed(Math.round(radio.dbm))} dBm${radio.gone ? ', not heard now' : ''}`}</title>
            </path>
          ))}
        </g>
        {labels.map(({ key, text, x, y, picked: isPicked, ours: isOurs }) => (
          <text key={key} x={x} y={y} textAnchor="middle" className={`air-name${isPicked ? ' picked' : isOurs ? ' ours' : ''}`}>
            {text}
          </text>
        ))}
        <line x1={frame.left} x2={frame.right} y1={frame.bottom} y2={frame.bottom} stroke="var(--ink2)" strokeWidth={0.8} />
        {cells.map((cell) => {
          const mhz = centreMhz({ band, primary: cell.number, widthMhz: 20 });
          const apart = band === '2.4' ? 2.5 : 10;
          const [x0, x1] = [xOf(frame, mhz - apart), xOf(frame, mhz + apart)];
          if (x1 < frame.left || x0 > frame.right) return null;
          const load = loads.find((one) => one.channel === cell.number);
          const label = `Channel ${cellWords(cell, domain)}${load === undefined ? '' : `, ${Math.round(100 * load.busy)} % of the time busy`}${(ours.get(cell.number) ?? 0) > 0 ? `, ${ours.get(cell.number)} of ours` : ''}`;
          const room = x1 - x0;
          return (
            <g key={cell.number} role="img" aria-label={label}>
              <title>{label}</title>
              <rect
                x={x0}
                y={cellY}
                width={Math.max(0, room - 1)}
                height={CELL_PX}
                fill={load === undefined ? 'var(--panel)' : 'var(--ink)'}
                fillOpacity={load === undefined ? 1 : 0.08 + 0.6 * load.busy}
                stroke="var(--ink2)"
                strokeWidth={0.8}
              />
              {cell.allowed === null && <rect x={x0} y={cellY} width={Math.max(0, room - 1)} height={CELL_PX} fill="url(#air-forbidden)" />}
              {room > 13 && marksOf(cell) !== '' && (
                <text x={(x0 + x1) / 2} y={cellY + CELL_PX + 19} textAnchor="middle" className="axis marks">
                  {marksOf(cell)}
                </text>
              )}
              {Array.from({ length: Math.min(4, ours.get(cell.number) ?? 0) }, (_, i, n = Math.min(4, ours.get(cell.number) ?? 0)) => (
                <line
                  key={i}
                  x1={(x0 + x1) / 2 + (i - (n - 1) / 2) * 3}
                  x2={(x0 + x1) / 2 + (i - (n - 1) / 2) * 3}
                  y1={cellY + CELL_PX + 2}
                  y2={cellY + CELL_PX + 8}
                  stroke="var(--ink)"
                  strokeWidth={1.6}
                />
              ))}
            </g>
          );
        })}
        {cells.map(({ number }, at) => {
          const x = xOf(frame, centreMhz({ band, primary: number, widthMhz: 20 }));
          if (at % everyNth !== 0 || x < frame.left || x > frame.right) return null;
          const busy = loads.find((one) => one.channel === number)?.busy ?? 0;
          return (
            <text key={number} x={x} y={cellY + 14} textAnchor="middle" className={`mono cell${busy > 0.6 ? ' dark' : ''}`} aria-hidden="true">
              {number}
            </text>
          );
        })}
        {sheet.map(({ name, cells: all }) => {
          if (name === null || parts.length < 2) return null;
          const mhz = (number: number) => centreMhz({ band, primary: number, widthMhz: 20 });
          const [x0, x1] = [xOf(frame, mhz(all[0]!.number) - 10), xOf(frame, mhz(all.at(-1)!.number) + 10)];
          // A name stands where it has its room.
          if (x1 - x0 < 6.8 * name.length || x1 < frame.left || x0 > frame.right) return null;
          return (
            <text key={name} x={(Math.max(x0, frame.left) + Math.min(x1, frame.right)) / 2} y={12} textAnchor="middle" className="axis">
              {name}
            </text>
          );
        })}
      </svg>
      {parts.length > 1 && (
        <span className="air-part">
          <Choice label="Part of the band" value={shown.id} options={parts.map(({ id, label }) => ({ value: id, label }))} onChoose={setPart} />
        </span>
      )}
      {radios.length === 0 && <p className="air-empty">Nothing is heard on this band.</p>}
    </div>
  );
}
