'use client';
import { useRef } from 'react';
import { bandSheet, cellWords, marksOf } from '@/core/radio/bandSheet';
import type { Band } from '@/core/radio/band';
import { APART_24 } from '@/core/radio/channel';
import type { Domain } from '@/core/radio/regulation';
import { useDocument } from '../../state/documentStore';

/** What can be chosen in one click, by its name. */
const SETS: Readonly<
  Record<Band, ReadonlyArray<Readonly<{ label: string; of: (cell: { number: number; dfs: boolean; preferred: boolean }) => boolean }>>>
> = {
  '2.4': [
    { label: '1 6 11', of: ({ number }) => (APART_24 as readonly number[]).includes(number) },
    { label: '1 5 9 13', of: ({ number }) => [1, 5, 9, 13].includes(number) },
  ],
  '5': [{ label: 'no radar detection', of: ({ dfs }) => !dfs }],
  '6': [{ label: 'preferred scanning', of: ({ preferred }) => preferred }],
};

/** What the letters in the corners mean. */
const KEYS = [
  ['D', 'radar detection'],
  ['W', 'weather radar'],
  ['P', 'preferred scanning'],
  ['I', 'indoors only'],
] as const;

/**
 * The channels of a band that planning may use, drawn as the spectrum: a cell per 20 MHz channel, sub-band by sub-band. Click or sweep to allow or
 * forbid; what the domain does not allow is hatched. An empty list means all. `ours`: how many radios stand on each.
 */
export function BandSheet({
  domain,
  band,
  channels,
  ours,
  onChange,
}: {
  domain: Domain;
  band: Band;
  channels: readonly number[];
  ours: ReadonlyMap<number, number>;
  onChange: (channels: readonly number[]) => void;
}) {
  const groups = bandSheet(domain, band);
  const allowed = groups.flatMap(({ cells }) => cells.filter((cell) => cell.allowed !== null));
  const chosen = new Set(channels.length === 0 ? allowed.map(({ number }) => number) : channels);
  /** What a sweep does to the cells it passes, while the button is down; and the cells it has made so far. */
  const sweep = useRef<{ on: boolean; to: Set<number> } | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const take = (wanted: ReadonlySet<number>) => {
    const list = allowed.map(({ number }) => number).filter((number) => wanted.has(number));
    if (list.length === 0) return useDocument.getState().setNotice({ words: `One ${band} GHz channel must stay allowed.` });
    onChange(list.length === allowed.length ? [] : list);
  };
  const turn = (numbers: readonly number[], on: boolean, from: ReadonlySet<number> = chosen) => {
    const next = new Set(from);
    for (const number of numbers)
      if (on) next.add(number);
      else next.delete(number);
    take(next);
    // What was refused has changed nothing.
    return allowed.some(({ number }) => next.has(number)) ? next : new Set(from);
  };
  const walk = (event: React.KeyboardEvent<HTMLButtonElement>) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 8, ArrowUp: -8 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const cells = [...box.current!.querySelectorAll<HTMLButtonElement>('button.cell:not(:disabled)')];
    cells[Math.min(cells.length - 1, Math.max(0, cells.indexOf(event.currentTarget) + step))]?.focus();
  };
  return (
    <div
      className="bandsheet"
      ref={box}
      role="group"
      aria-label={`Channels of ${band} GHz`}
      onPointerUp={() => (sweep.current = null)}
      onPointerLeave={() => (sweep.current = null)}
    >
      <div className="sets">
        <button type="button" className="quiet-button" onClick={() => onChange([])}>
          all
        </button>
        {SETS[band].map(({ label, of }) => (
          <button
            key={label}
            type="button"
            className="quiet-button"
            onClick={() => take(new Set(allowed.filter((cell) => of({ ...cell, dfs: cell.allowed!.dfs })).map(({ number }) => number)))}
          >
            {label}
          </button>
        ))}
      </div>
      {groups.map(({ name, cells }) => {
        const all = cells.every(({ number }) => chosen.has(number));
        return (
          <div key={cells[0]!.number} className="group">
            {name === null ? (
              <span className="name">not allowed</span>
            ) : (
              <button
                type="button"
                className="quiet-button name"
                aria-pressed={all}
                title={`${all ? 'Forbid' : 'Allow'} all of ${name}`}
                onClick={() =>
                  turn(
                    cells.map(({ number }) => number),
                    !all,
                  )
                }
              >
                {name}
              </button>
            )}
            <div className="cells">
              {cells.map((cell) => {
                const { number } = cell;
                const on = chosen.has(number);
                const count = ours.get(number) ?? 0;
                const words = `${cellWords(cell, domain)}${count === 0 ? '' : `, ${count} of ours`}`;
                return (
                  <button
                    key={number}
                    type="button"
                    className="cell mono"
                    disabled={cell.allowed === null}
                    aria-pressed={on}
                    aria-label={`Channel ${words}`}
                    title={words}
                    onKeyDown={walk}
                    // The pointer acts when it goes down, so that it can sweep; a click that no pointer made comes from the keyboard.
                    onClick={(event) => event.detail === 0 && turn([number], !on)}
                    onPointerDown={(event) => {
                      event.currentTarget.releasePointerCapture(event.pointerId);
                      sweep.current = { on: !on, to: turn([number], !on) };
                    }}
                    onPointerEnter={() => {
                      if (sweep.current !== null) sweep.current.to = turn([number], sweep.current.on, sweep.current.to);
                    }}
                  >
                    {number}
                    <span className="marks" data-marks={marksOf(cell)} />
                    <span className="ours">
                      {Array.from({ length: Math.min(4, count) }, (_, k) => (
                        <i key={k} />
                      ))}
                    </span>
                  </button>
                );
              })}
            </div>
          </div>
        );
      })}
      <p className="key">{`${KEYS.filter(([sign]) => allowed.some((cell) => marksOf(cell).includes(sign)))
        .map(([sign, words]) => `${sign} ${words}`)
        .join(', ')}${allowed.some((cell) => marksOf(cell) !== '') ? '; ' : ''}bars: how many of ours stand on it.`}</p>
    </div>
  );
}
