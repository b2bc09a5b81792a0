import { maskDbr } from '../radio/overlap';
import type { WidthMhz } from '../radio/band';

/**
 * How the power of a signal lies along frequency, about its centre: shares of the power per MHz at even steps from `-reachMhz` to `reachMhz`, which add up to 1. Everything that is drawn,
 * measured or received of a signal comes from it.
 */
export type Shape = Readonly<{ key: string; reachMhz: number; stepMhz: number; perMhz: Float64Array }>;

const POINTS = 512;

/** A shape out of any density that is not negative: it is brought to a sum of 1. */
export function shapeOf(key: string, reachMhz: number, density: (offsetMhz: number) => number): Shape {
  const stepMhz = (2 * reachMhz) / POINTS;
  const perMhz = Float64Array.from({ length: POINTS + 1 }, (_, i) => density(i * stepMhz - reachMhz));
  // The two ends stand for half a step each.
  const sum = perMhz.reduce((total, one, i) => total + (i === 0 || i === POINTS ? one / 2 : one), 0) * stepMhz;
  for (let i = 0; i < perMhz.length; i++) perMhz[i]! /= sum;
  return { key, reachMhz, stepMhz, perMhz };
}

const shapes = new Map<string, Shape>();
function kept(key: string, reachMhz: number, density: (offsetMhz: number) => number): Shape {
  const shape = shapes.get(key) ?? shapeOf(key, reachMhz, density);
  shapes.set(key, shape);
  return shape;
}

/** A bell, `widthMhz` wide where it has fallen by 10 dB. */
export const bell = (widthMhz: number): Shape => kept(`bell/${widthMhz}`, 1.5 * widthMhz, (offset) => 10 ** (-4 * (offset / widthMhz) ** 2));

/** Direct-sequence chips at a rate: (sin x / x)^2 with its first nulls at the chip rate, three lobes to each side. */
export const chips = (rateMhz: number): Shape =>
  kept(`chips/${rateMhz}`, 3 * rateMhz, (offset) => {
    const x = (Math.PI * offset) / rateMhz;
    return Math.abs(x) < 1e-6 ? 1 : (Math.sin(x) / x) ** 2;
  });

/** Many carriers side by side: flat over the width, then down by 35 dB within a twentieth of it. */
export const block = (widthMhz: number): Shape =>
  kept(`block/${widthMhz}`, 0.6 * widthMhz, (offset) => {
    const beyond = Math.abs(offset) - widthMhz / 2;
    return beyond <= 0 ? 1 : 10 ** -Math.min(3.5, (3.5 * beyond) / (0.05 * widthMhz));
  });

/** A frequency-modulated picture: a hump about the carrier, a shoulder on each side from its sound carrier. */
export const picture = (widthMhz: number): Shape =>
  kept(`picture/${widthMhz}`, 0.75 * widthMhz, (offset) => {
    const x = offset / widthMhz;
    return 10 ** (-16 * x * x) + 0.05 * 10 ** (-600 * (Math.abs(x) - 0.37) ** 2);
  });

/** A network's frames: the transmit mask of its width, as far as it reaches. */
export const masked = (widthMhz: WidthMhz): Shape => kept(`mask/${widthMhz}`, 1.5 * widthMhz, (offset) => 10 ** (maskDbr(widthMhz, offset) / 10));

/** Share per MHz at an offset from the centre, straight between the points. */
export function densityAt({ reachMhz, stepMhz, perMhz }: Shape, offsetMhz: number): number {
  const at = (offsetMhz + reachMhz) / stepMhz;
  const i = Math.floor(at);
  if (i < 0 || i >= perMhz.length - 1) return 0;
  return perMhz[i]! + (perMhz[i + 1]! - perMhz[i]!) * (at - i);
}

/** Share (0 to 1) of the power that falls between two offsets from the centre. */
export function shareBetween(shape: Shape, fromMhz: number, toMhz: number): number {
  const [from, to] = [Math.max(fromMhz, -shape.reachMhz), Math.min(toMhz, shape.reachMhz)];
  if (!(to > from)) return 0;
  const parts = Math.max(4, Math.ceil((to - from) / shape.stepMhz));
  const step = (to - from) / parts;
  let sum = 0;
  for (let i = 0; i <= parts; i++) sum += densityAt(shape, from + i * step) * (i === 0 || i === parts ? 0.5 : 1);
  return Math.min(1, sum * step);
}

/**
 * Noise bandwidth of a resolution filter of the shape of a bell, in parts of its width at -3 dB: sqrt(pi / (4 ln 2)).
 */
export const NOISE_BANDWIDTH = Math.sqrt(Math.PI / (4 * Math.LN2));

/** What of a signal a resolution filter lets through, by the distance of the two centres: shares of the power at even steps from 0 on. Shapes are alike on both sides. */
export type Filtered = Readonly<{ reachMhz: number; stepMhz: number; share: Float64Array }>;
const filters = new Map<string, Filtered>();

/** A signal behind a resolution filter of `rbwMhz` at -3 dB. */
export function filtered(shape: Shape, rbwMhz: number): Filtered {
  const key = `${shape.key}|${rbwMhz}`;
  const known = filters.get(key);
  if (known !== undefined) return known;
  const tail = 3 * rbwMhz;
  const reachMhz = shape.reachMhz + tail;
  const stepMhz = Math.max(Math.min(rbwMhz / 4, reachMhz / 64), reachMhz / 2048);
  const share = new Float64Array(Math.ceil(reachMhz / stepMhz) + 1);
  const fine = Math.min(rbwMhz / 8, shape.stepMhz * 2);
  const parts = Math.ceil((2 * tail) / fine);
  for (let i = 0; i < share.length; i++) {
    let sum = 0;
    for (let p = 0; p < parts; p++) {
      const off = -tail + (p + 0.5) * ((2 * tail) / parts);
      sum += densityAt(shape, i * stepMhz + off) * 2 ** (-4 * (off / rbwMhz) ** 2);
    }
    share[i] = sum * ((2 * tail) / parts);
  }
  // A signal much narrower than the filter would fall between the parts: all of it passes.
  const most = share.reduce((high, one) => Math.max(high, one), 0);
  if (most > 1) for (let i = 0; i < share.length; i++) share[i]! /= most;
  const made = { reachMhz, stepMhz, share };
  if (filters.size > 400) filters.clear();
  filters.set(key, made);
  return made;
}

/** The share that passes at a distance of centres. */
export function passes({ stepMhz, share }: Filtered, offsetMhz: number): number {
  const at = Math.abs(offsetMhz) / stepMhz;
  const i = Math.floor(at);
  return i >= share.length - 1 ? 0 : share[i]! + (share[i + 1]! - share[i]!) * (at - i);
}
