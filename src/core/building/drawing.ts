import type { PointM } from '../geometry/point';

/** Where a drawing lies on a floor; see the record kind `drawing`. */
export type Laid = Readonly<{ xM: number; yM: number; mPerPxX: number; mPerPxY: number; turnDeg: number }>;

/** A known length on a drawing, in its pixels. */
export type Measured = Readonly<{ axPx: number; ayPx: number; bxPx: number; byPx: number; lengthM: number }>;

/** A spot on a drawing, in its pixels. */
export type PointPx = Readonly<{ x: number; y: number }>;

/** Where a drawing's pixel lies on the floor. */
export function toFloor({ xM, yM, mPerPxX, mPerPxY, turnDeg }: Laid, { x, y }: PointPx): PointM {
  const [cos, sin] = turnOf(turnDeg);
  const [dx, dy] = [x * mPerPxX, y * mPerPxY];
  return { xM: xM + dx * cos - dy * sin, yM: yM + dx * sin + dy * cos };
}

/** The drawing's pixel at a spot of the floor. */
export function toDrawing({ xM, yM, mPerPxX, mPerPxY, turnDeg }: Laid, at: PointM): PointPx {
  const [cos, sin] = turnOf(turnDeg);
  const [dx, dy] = [at.xM - xM, at.yM - yM];
  return { x: (dx * cos + dy * sin) / mPerPxX, y: (-dx * sin + dy * cos) / mPerPxY };
}

const turnOf = (turnDeg: number): readonly [cos: number, sin: number] => {
  const turn = (turnDeg * Math.PI) / 180;
  return [Math.cos(turn), Math.sin(turn)];
};

/** What a reference measures with a scale, in m. */
export const measuredM = ({ axPx, ayPx, bxPx, byPx }: Measured, { mPerPxX, mPerPxY }: Pick<Laid, 'mPerPxX' | 'mPerPxY'>): number =>
  Math.hypot((bxPx - axPx) * mPerPxX, (byPx - ayPx) * mPerPxY);

/** How far a reference is off with a scale: in m, and as a share of its true length; positive where the drawing comes out too long. */
export function errorOf(reference: Measured, scale: Pick<Laid, 'mPerPxX' | 'mPerPxY'>): Readonly<{ errorM: number; share: number }> {
  const errorM = measuredM(reference, scale) - reference.lengthM;
  return { errorM, share: errorM / reference.lengthM };
}

/**
 * The scale that fits references best, by least squares of their errors in m: a longer reference says more. With `apart`, x and y have scales of
 * their own where the references tell them apart (fitted to the squares of the lengths, relative to each); else one for both. Null without references.
 */
export function scaleOf(references: readonly Measured[], apart: boolean): Pick<Laid, 'mPerPxX' | 'mPerPxY'> | null {
  if (references.length === 0) return null;
  const both = apart ? scalesApart(references) : null;
  if (both !== null) return both;
  let px2 = 0;
  let pxM = 0;
  for (const reference of references) {
    const px = Math.hypot(reference.bxPx - reference.axPx, reference.byPx - reference.ayPx);
    px2 += px * px;
    pxM += px * reference.lengthM;
  }
  return { mPerPxX: pxM / px2, mPerPxY: pxM / px2 };
}

/** Equations that differ less than this are one: the determinant of the normal equations, by its diagonal. */
const APART = 1e-3;
/** A reference tells of a scale when it runs along it for at least this share of its length: within 60 degrees. */
const TELLS = 0.5;

function scalesApart(references: readonly Measured[]): Pick<Laid, 'mPerPxX' | 'mPerPxY'> | null {
  const along = (dx: number, dy: number): number => Math.abs(dx) / Math.hypot(dx, dy);
  const tellsX = references.some(({ axPx, ayPx, bxPx, byPx }) => along(bxPx - axPx, byPx - ayPx) >= TELLS);
  const tellsY = references.some(({ axPx, ayPx, bxPx, byPx }) => along(byPx - ayPx, bxPx - axPx) >= TELLS);
  if (!tellsX || !tellsY) return null;
  // lengthM^2 = X dx^2 + Y dy^2 with X and Y the squares of the scales; each equation divided by its lengthM^2.
  let [xx, xy, yy, x1, y1] = [0, 0, 0, 0, 0];
  for (const { axPx, ayPx, bxPx, byPx, lengthM } of references) {
    const px2 = ((bxPx - axPx) / lengthM) ** 2;
    const py2 = ((byPx - ayPx) / lengthM) ** 2;
    xx += px2 * px2;
    xy += px2 * py2;
    yy += py2 * py2;
    x1 += px2;
    y1 += py2;
  }
  const determinant = xx * yy - xy * xy;
  if (!(determinant > APART * xx * yy)) return null;
  const [x2, y2] = [(x1 * yy - y1 * xy) / determinant, (y1 * xx - x1 * xy) / determinant];
  return x2 > 0 && y2 > 0 ? { mPerPxX: Math.sqrt(x2), mPerPxY: Math.sqrt(y2) } : null;
}
