import type { LabelBox, PointPx } from './view';

export type { LabelBox } from './view';

const overlaps = (a: LabelBox, b: LabelBox): boolean => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Whether a box would cover any of those taken. */
export const isFree = (box: LabelBox, taken: readonly LabelBox[]): boolean => !taken.some((other) => overlaps(box, other));

const within = (box: LabelBox, bounds: LabelBox | null): boolean =>
  bounds === null ||
  (box.x >= bounds.x && box.y >= bounds.y && box.x + box.width <= bounds.x + bounds.width && box.y + box.height <= bounds.y + bounds.height);

/** The first of several offsets from a spot at which a centred text of this size covers nothing and stays inside; null when there is none. */
export function freeSpot(
  at: PointPx,
  width: number,
  height: number,
  offsets: readonly (readonly [number, number])[],
  taken: readonly LabelBox[],
  bounds: LabelBox | null = null,
): PointPx | null {
  for (const [dx, dy] of offsets) {
    const box = { x: at.x + dx - width / 2, y: at.y + dy - height / 2, width, height };
    if (within(box, bounds) && isFree(box, taken)) return { x: at.x + dx, y: at.y + dy };
  }
  return null;
}

/**
 * Places labels beside their marks so that none covers another or a mark: right, left, below, above, then the corners; the first free
 * place inside `bounds` wins, in the order given; a label of several sizes tries the larger first. One without a free place is `null`: it is left
 * out rather than put over something.
 */
export function placeLabels(
  items: ReadonlyArray<{ at: PointPx; sizes: ReadonlyArray<{ width: number; height: number }> }>,
  markPx: number,
  bounds: LabelBox | null = null,
): Array<(LabelBox & { size: number }) | null> {
  const taken: LabelBox[] = items.map(({ at }) => ({ x: at.x - markPx, y: at.y - markPx, width: markPx * 2, height: markPx * 2 }));
  return items.map(({ at, sizes }, own) => {
    for (const [size, { width, height }] of sizes.entries()) {
      for (const { x, y } of placesBeside(at, width, height, markPx + 4)) {
        const box = { x, y, width, height };
        if (!within(box, bounds) || taken.some((other, index) => index !== own && overlaps(box, other))) continue;
        taken.push(box);
        return { ...box, size };
      }
    }
    return null;
  });
}

const placesBeside = (at: PointPx, width: number, height: number, gap: number): PointPx[] => [
  { x: at.x + gap, y: at.y - height / 2 },
  { x: at.x - gap - width, y: at.y - height / 2 },
  { x: at.x - width / 2, y: at.y + gap },
  { x: at.x - width / 2, y: at.y - gap - height },
  { x: at.x + gap, y: at.y + gap / 2 },
  { x: at.x - gap - width, y: at.y + gap / 2 },
  { x: at.x + gap, y: at.y - height - gap / 2 },
  { x: at.x - gap - width, y: at.y - height - gap / 2 },
];
