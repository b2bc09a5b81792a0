import { existing } from './commands';
import { variantsOf, type Design } from './design';
import { LIMITS } from './limits';
import { change, type Change } from './step';

/** A name that no variant has: the wish, else with the first free number. */
function freeVariantName(design: Design, wish: string): string {
  const names = new Set(variantsOf(design).map(({ name }) => name));
  for (let n = 1; ; n++) {
    const mark = n === 1 ? '' : ` ${n}`;
    const name = `${wish.slice(0, LIMITS.nameLength - mark.length)}${mark}`;
    if (!names.has(name)) return name;
  }
}

/**
 * A copy of a variant after the last one: all its access points, on every floor, with their names and settings, so that the two can be held against
 * each other. Walks stay with the variant they were walked in. `newId` gives the variant's id first.
 * @throws UpperRoomError RECORD_UNKNOWN
 */
export function duplicateVariant(design: Design, variantId: string, newId: () => string): Change[] {
  const like = existing(design, 'variants', variantId);
  const id = newId();
  const order = Math.max(...variantsOf(design).map((variant) => variant.order)) + 1;
  const copy = change('variants', id, null, { ...like, id, name: freeVariantName(design, `${like.name}, copy`), order });
  const hung = Object.values(design.accessPoints).filter((ap) => ap.variantId === variantId);
  return [
    ...copy,
    ...hung.flatMap((ap) => {
      const apId = newId();
      return change('accessPoints', apId, null, { ...ap, id: apId, variantId: id });
    }),
  ];
}
