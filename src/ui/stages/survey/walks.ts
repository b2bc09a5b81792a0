import { onFloor, type Design, type Walk } from '@/core/design/design';
import type { Place } from '../../state/selectors';

/** Walks of the floor and variant in view, the newest first. */
export function onFloorWalks(design: Design, place: Place): Walk[] {
  return onFloor(design, 'walks', place.floor.id)
    .filter((walk) => walk.variantId === place.variant.id)
    .sort((a, b) => b.startedAt.localeCompare(a.startedAt));
}
