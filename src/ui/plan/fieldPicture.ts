import { useMemo } from 'react';
import { fullDifference } from '@/core/fields/difference';
import { lensOf } from '@/core/fields/lenses';
import type { Grid } from '@/core/geometry/grid';
import type { MapResult } from '../state/useLens';
import { divergingStops, RAMP_STOPS, rampOf, rampTable, tintTable, type RampName } from '../theme/tokens';

/** Values as they are painted: through inks from one value to another, or, for kinds, an ink for each. */
export type FieldPicture = Readonly<{
  grid: Grid;
  values: Float32Array;
  inks: Uint32Array;
  from: number;
  to: number;
  kinds: boolean;
  smooth: boolean;
}>;

/** How a map is painted. `tintOf` gives a kind another tint than its own, so that two maps side by side agree. */
export function pictureOf(
  { scene: { grid }, values, lens: id, kinds }: Pick<MapResult, 'scene' | 'values' | 'lens' | 'kinds'>,
  ramp: RampName,
  mode: 'light' | 'dark',
  others: MapResult['kinds'] = [],
): FieldPicture {
  const lens = lensOf(id);
  if (lens.show === 'tints') {
    const table = tintTable(mode);
    const tints = kinds.map(({ label, tint }) => others.find((other) => other.label === label)?.tint ?? tint);
    return { grid, values, inks: Uint32Array.from(tints, (tint) => table[tint]!), from: 0, to: 1, kinds: true, smooth: false };
  }
  const { from, to } = lens.scale;
  return { grid, values, inks: rampTable(RAMP_STOPS[rampOf(ramp, lens)][mode]), from, to, kinds: false, smooth: lens.show === 'wash' };
}

/** The picture of a map; the same one while values and inks are the same, for contours come later than values. */
export function usePicture(map: MapResult | null, ramp: RampName, mode: 'light' | 'dark', others?: MapResult['kinds']): FieldPicture | null {
  const { scene, values, lens, kinds } = map ?? NO_PARTS;
  return useMemo(
    () => (scene === undefined ? null : pictureOf({ scene, values, lens, kinds }, ramp, mode, others)),
    [scene, values, lens, kinds, ramp, mode, others],
  );
}
const NO_PARTS = { scene: undefined, values: undefined, lens: undefined, kinds: undefined } as const;

/** How a difference is painted: paper where nothing changes, worse and better in the two inks; for kinds ink where it is another. */
export function differencePicture(
  { scene: { grid }, lens: id }: Pick<MapResult, 'scene' | 'lens'>,
  values: Float32Array,
  ramp: RampName,
  mode: 'light' | 'dark',
): FieldPicture {
  const lens = lensOf(id);
  const stops = divergingStops(ramp, mode);
  if (lens.threshold === null)
    return { grid, values, inks: rampTable([stops[(stops.length - 1) / 2]!, stops[2]!]), from: 0, to: 1, kinds: false, smooth: false };
  const full = fullDifference(lens);
  const inks = rampTable(lens.threshold.sense === 'least' ? stops : [...stops].reverse());
  return { grid, values, inks, from: -full, to: full, kinds: false, smooth: lens.show === 'wash' };
}
