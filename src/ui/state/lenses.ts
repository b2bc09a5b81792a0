import type { LensKind } from '@/engine/protocol';

/** How a lens is shown: its words, unit, range of the scale, contour levels and which side of the threshold is good. */
export type LensInfo = Readonly<{
  label: string;
  unit: string;
  from: number;
  to: number;
  bins: number;
  step: number;
  sense: 'least' | 'most';
  contourStep: number;
  hasThreshold: boolean;
}>;

export const LENS_INFO: Readonly<Record<LensKind, LensInfo>> = {
  signal: { label: 'Signal', unit: 'dBm', from: -90, to: -35, bins: 27, step: 1, sense: 'least', contourStep: 10, hasThreshold: true },
  snr: { label: 'SNR', unit: 'dB', from: 0, to: 60, bins: 30, step: 1, sense: 'least', contourStep: 10, hasThreshold: true },
  contention: { label: 'Contention', unit: 'radios', from: -0.5, to: 6.5, bins: 7, step: 1, sense: 'most', contourStep: 1, hasThreshold: true },
  serving: { label: 'Serving AP', unit: '', from: 0, to: 1, bins: 1, step: 1, sense: 'least', contourStep: 1, hasThreshold: false },
};

/** The level whose contour bounds what passes: for counts it lies between two whole numbers. */
export const thresholdContour = (lens: LensKind, threshold: number): number => (lens === 'contention' ? threshold + 0.5 : threshold);

/** Contour levels of a lens: even steps over its scale, and the threshold's own. */
export function contourLevels(lens: LensKind, threshold: number): number[] {
  const info = LENS_INFO[lens];
  if (!info.hasThreshold) return [];
  const levels: number[] = [];
  const first = lens === 'contention' ? 0.5 : Math.ceil(info.from / info.contourStep) * info.contourStep;
  for (let level = first; level <= info.to; level += info.contourStep) levels.push(level);
  const own = thresholdContour(lens, threshold);
  return levels.includes(own) ? levels : [...levels.filter((level) => Math.abs(level - own) > info.contourStep * 0.25), own].sort((a, b) => a - b);
}

/** What a contour is called on the plan. */
export const contourLabel = (lens: LensKind, level: number): string => (lens === 'contention' ? `${Math.ceil(level)}` : `${level}`.replace('-', '−'));

/** A value with a true minus sign, as numbers are set throughout. */
export const signed = (value: number, digits = 0): string => value.toFixed(digits).replace('-', '−');
