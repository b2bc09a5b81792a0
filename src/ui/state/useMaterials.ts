import { inOrder } from '@/core/design/names';
import { useMemo } from 'react';
import { MATERIALS, OPEN_ID, type Material, type MaterialLookup } from '@/core/building/material';
import { materialsOf } from '@/core/design/design';
import { useViewDesign } from './selectors';

/** The materials there are to choose from, the project's own first, and the way from an id to one. */
export function useMaterials(): Readonly<{ all: readonly Material[]; of: MaterialLookup }> {
  const { materials } = useViewDesign();
  return useMemo(
    () => ({ all: [...Object.values(materials).sort((a, b) => inOrder(a.name, b.name)), ...MATERIALS], of: materialsOf({ materials }) }),
    [materials],
  );
}

/** As options of a list. A wall is of something; an opening or a slab may be of nothing. */
export const materialOptions = (all: readonly Material[], open: string | null): Array<{ value: string; label: string }> =>
  all.flatMap(({ id, name }) => (id === OPEN_ID ? (open === null ? [] : [{ value: id, label: open }]) : [{ value: id, label: name }]));
