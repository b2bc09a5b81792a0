'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, type ReactNode } from 'react';

/** Fewer rows than this are all drawn: a reader of the page then finds them all. */
const ALL_BELOW = 60;

/**
 * The body of a long table: of many rows only those in sight are drawn, with room kept for the rest. Each row is a `tr` that carries
 * `data-index` and the given ref, so that rows of several lines are measured. It scrolls with the nearest `.body`.
 */
export function VirtualBody<T>({
  items,
  rowPx,
  columns,
  row,
}: {
  items: readonly T[];
  rowPx: number;
  columns: number;
  row: (item: T, index: number, measure: ((element: HTMLTableRowElement | null) => void) | undefined) => ReactNode;
}) {
  return items.length < ALL_BELOW ? (
    <tbody>{items.map((item, index) => row(item, index, undefined))}</tbody>
  ) : (
    <Windowed {...{ items, rowPx, columns, row }} />
  );
}

function Windowed<T>({ items, rowPx, columns, row }: Parameters<typeof VirtualBody<T>>[0]) {
  const body = useRef<HTMLTableSectionElement>(null);
  // The library's functions are no plain values; nothing here is remembered that would go stale.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => body.current?.closest<HTMLElement>('.body') ?? null,
    estimateSize: () => rowPx,
    overscan: 10,
  });
  const shown = virtual.getVirtualItems();
  const before = shown[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (shown.at(-1)?.end ?? 0);
  const room = (heightPx: number) =>
    heightPx > 0 && (
      <tr aria-hidden="true">
        <td colSpan={columns} className="room" height={heightPx} />
      </tr>
    );
  return (
    <tbody ref={body}>
      {room(before)}
      {shown.map(({ index }) => row(items[index]!, index, virtual.measureElement))}
      {room(after)}
    </tbody>
  );
}
