import { axisOf, chained, joined, type Moments, type Stroke } from './stroke';
import type { CleanPicture } from './picture';

/** The edge of ink: a straight stroke with the dark side on that of its normal (-uy, ux), and the step of shade across it. */
export type Edge = Stroke & Readonly<{ strength: number }>;

/** Steps of shade below these are no edge: clean, noisy. */
const STEP = { clean: 20, noisy: 22 } as const;
const SHORTEST_PX = 8;
/** Directions within 22.5 degrees grow into one region. */
const COS2_GROW = Math.cos(Math.PI / 8) ** 2;
/** A region that is wider or bends more than this is split in its middle, at most so often: chords of a curved wall. */
const MAX_SD_PX = 1.3;
const MAX_SPLITS = 7;
const MIN_REGION = 6;

/** All straight edges of a picture, broken ones joined. */
export function edgesOf(picture: CleanPicture): Edge[] {
  const cosines = [Math.cos((2.5 * Math.PI) / 180), Math.cos((6 * Math.PI) / 180)] as const;
  return chained(
    grownEdges(picture),
    {
      gapPx: 9,
      asidePx: () => 1.6,
      cos: (p, q) => (Math.min(p.lengthPx, q.lengthPx) < 15 ? cosines[1] : cosines[0]),
      // Of one polarity: their dark sides are the same.
      alike: (p, q) => p.ux * q.ux + p.uy * q.uy > 0,
    },
    (p, q) => ({ ...joined(p, q), strength: (p.strength * p.lengthPx + q.strength * q.lengthPx) / (p.lengthPx + q.lengthPx) }),
  );
}

function grownEdges({ widthPx: w, heightPx: h, grey, noisy }: CleanPicture): Edge[] {
  const threshold = noisy ? STEP.noisy : STEP.clean;
  const maxWidthPx = noisy ? 8 : 5;
  const step = new Uint8Array(w * h);
  const gx = new Int8Array(w * h);
  const gy = new Int8Array(w * h);
  const counts = new Uint32Array(257);
  for (let y = 0; y < h - 1; y++)
    for (let x = 0, i = y * w; x < w - 1; x++, i++) {
      const [p, q, r, s] = [grey[i]!, grey[i + 1]!, grey[i + w]!, grey[i + w + 1]!];
      if (p === q && r === s && p === r) continue;
      const [dx, dy] = [(q + s - p - r) / 2, (r + s - p - q) / 2];
      const size = Math.sqrt(dx * dx + dy * dy);
      if (size < threshold) continue;
      step[i] = size > 255 ? 255 : size;
      gx[i] = Math.round((dx / size) * 127);
      gy[i] = Math.round((dy / size) * 127);
      counts[step[i]!]!++;
    }
  // Strongest first, by counting.
  let total = 0;
  const starts = new Uint32Array(257);
  for (let size = 255; size >= 0; size--) {
    starts[size] = total;
    total += counts[size]!;
  }
  const order = new Uint32Array(total);
  for (let i = 0; i < step.length; i++) if (step[i]! > 0) order[starts[step[i]!]!++] = i;

  const region = new Int32Array(total + 1);
  const weights = new Uint8Array(total + 1);
  const edges: Edge[] = [];
  for (let o = 0; o < total; o++) {
    const seed = order[o]!;
    if (step[seed] === 0) continue;
    // What belongs to a region keeps its step in `weights` until it is fitted, and is taken out of the picture.
    let [head, size] = [0, 0];
    let [sx, sy] = [gx[seed]!, gy[seed]!];
    region[size++] = seed;
    weights[0] = step[seed]!;
    step[seed] = 0;
    while (head < size) {
      const at = region[head++]!;
      const x = at % w;
      for (let dy = -w; dy <= w; dy += w)
        for (let dx = -1; dx <= 1; dx++) {
          const near = at + dy + dx;
          if (near < 0 || near >= step.length || step[near] === 0 || x + dx < 0 || x + dx >= w) continue;
          const dot = gx[near]! * sx + gy[near]! * sy;
          if (dot <= 0 || dot * dot < COS2_GROW * 127 * 127 * (sx * sx + sy * sy)) continue;
          weights[size] = step[near]!;
          region[size++] = near;
          sx += gx[near]!;
          sy += gy[near]!;
          step[near] = 0;
        }
    }
    if (size >= MIN_REGION) fit(region, weights, 0, size, w, sx, sy, maxWidthPx, 0, edges);
  }
  return edges;
}

/** Fits a stroke to part of a region, or to its halves. `brightX`, `brightY` point to the bright side. */
function fit(
  region: Int32Array,
  weight: Uint8Array,
  from: number,
  to: number,
  w: number,
  brightX: number,
  brightY: number,
  maxWidthPx: number,
  splits: number,
  edges: Edge[],
): void {
  if (to - from < MIN_REGION) return;
  let [sum, x1, y1, xx, xy, yy] = [0, 0, 0, 0, 0, 0];
  for (let i = from; i < to; i++) {
    const at = region[i]!;
    // The middle of the 2 x 2 px that a step was taken over.
    const [x, y, m] = [(at % w) + 1, Math.floor(at / w) + 1, weight[i]!];
    sum += m;
    x1 += m * x;
    y1 += m * y;
    xx += m * x * x;
    xy += m * x * y;
    yy += m * y * y;
  }
  const moments: Moments = { w: sum, x: x1, y: y1, xx, xy, yy };
  const axis = axisOf(moments);
  const { mx, my } = axis;
  // The dark side is that of the normal (-uy, ux).
  const way = -axis.uy * brightX + axis.ux * brightY > 0 ? -1 : 1;
  const [ux, uy] = [axis.ux * way, axis.uy * way];
  let [low, high, left, right] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = from; i < to; i++) {
    const at = region[i]!;
    const [dx, dy] = [(at % w) + 1 - mx, Math.floor(at / w) + 1 - my];
    const along = dx * ux + dy * uy;
    const aside = dy * ux - dx * uy;
    if (along < low) low = along;
    if (along > high) high = along;
    if (aside < left) left = aside;
    if (aside > right) right = aside;
  }
  const lengthPx = high - low;
  if ((axis.sd > MAX_SD_PX || right - left > maxWidthPx) && splits < MAX_SPLITS && lengthPx > SHORTEST_PX) {
    let [i, j] = [from, to - 1];
    const middle = (low + high) / 2;
    while (i <= j) {
      const at = region[i]!;
      if (((at % w) + 1 - mx) * ux + (Math.floor(at / w) + 1 - my) * uy < middle) i++;
      else {
        [region[i], region[j]] = [region[j]!, at];
        [weight[i], weight[j]] = [weight[j]!, weight[i]!];
        j--;
      }
    }
    if (i > from && i < to) {
      fit(region, weight, from, i, w, brightX, brightY, maxWidthPx, splits + 1, edges);
      fit(region, weight, i, to, w, brightX, brightY, maxWidthPx, splits + 1, edges);
      return;
    }
  }
  if (lengthPx < SHORTEST_PX) return;
  edges.push({
    ax: mx + ux * low,
    ay: my + uy * low,
    bx: mx + ux * high,
    by: my + uy * high,
    ux,
    uy,
    lengthPx,
    moments,
    // Over the whole breadth of the edge: between two rows of pixels it is half as steep and twice as broad.
    strength: sum / Math.max(1, lengthPx),
  });
}
