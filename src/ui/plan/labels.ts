import type { PointPx, Size } from './view';

export type LabelBox = Readonly<{ x: number; y: number; width: number; height: number }>;

const overlaps = (a: LabelBox, b: LabelBox): boolean => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Whether a box would cover any of those taken. */
export const isFree = (box: LabelBox, taken: readonly LabelBox[]): boolean => !taken.some((other) => overlaps(box, other));

/** The first of several offsets from a spot at which a centred text of this size covers nothing; the spot itself when all are taken. */
export function freeSpot(
  at: PointPx,
  width: number,
  height: number,
  offsets: readonly (readonly [number, number])[],
  taken: readonly LabelBox[],
): PointPx {
  for (const [dx, dy] of offsets) {
    const box = { x: at.x + dx - width / 2, y: at.y + dy - height / 2, width, height };
    if (isFree(box, taken)) return { x: at.x + dx, y: at.y + dy };
  }
  return at;
}

/**
 * Places labels beside their marks so that none covers another or a mark: right, left, below, above, then the corners; the first free
 * place inside the plan wins, in the order given. A label without a free place is `null`: it is left out rather than put over something.
 */
export function placeLabels(
  items: ReadonlyArray<{ at: PointPx; width: number; height: number }>,
  markPx: number,
  size: Size | null = null,
): Array<LabelBox | null> {
  const taken: LabelBox[] = items.map(({ at }) => ({ x: at.x - markPx, y: at.y - markPx, width: markPx * 2, height: markPx * 2 }));
  return items.map(({ at, width, height }, own) => {
    const gap = markPx + 4;
    const places: PointPx[] = [
      { x: at.x + gap, y: at.y - height / 2 },
      { x: at.x - gap - width, y: at.y - height / 2 },
      { x: at.x - width / 2, y: at.y + gap },
      { x: at.x - width / 2, y: at.y - gap - height },
      { x: at.x + gap, y: at.y + gap / 2 },
      { x: at.x - gap - width, y: at.y + gap / 2 },
      { x: at.x + gap, y: at.y - height - gap / 2 },
      { x: at.x - gap - width, y: at.y - height - gap / 2 },
    ];
    for (const { x, y } of places) {
      const box = { x, y, width, height };
      const inside = size === null || (x >= 0 && y >= 0 && x + width <= size.widthPx && y + height <= size.heightPx);
      if (!inside || taken.some((other, index) => index !== own && overlaps(box, other))) continue;
      taken.push(box);
      return box;
    }
    return null;
  });
}
