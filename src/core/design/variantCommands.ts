import { existing } from './commands';
import { variantsOf, type Design } from './design';
import { freeName } from './names';
import { change, type Change } from './step';

/**
 * A copy of a variant after the last one: all its access points, on every floor, with their names and settings, so that the two can be held against
 * each other. Walks stay with the variant they were walked in. `newId` gives the variant's id first.
 * @throws UpperRoomError RECORD_UNKNOWN
 */
export function duplicateVariant(design: Design, variantId: string, newId: () => string): Change[] {
  const like = existing(design, 'variants', variantId);
  const id = newId();
  const order = Math.max(...variantsOf(design).map((variant) => variant.order)) + 1;
  const copy = change('variants', id, null, { ...like, id, name: freeName(`${like.name}, copy`, variantsOf(design)), order });
  const hung = Object.values(design.accessPoints).filter((ap) => ap.variantId === variantId);
  return [
    ...copy,
    ...hung.flatMap((ap) => {
      const apId = newId();
      return change('accessPoints', apId, null, { ...ap, id: apId, variantId: id });
    }),
  ];
}
