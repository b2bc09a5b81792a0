import type { PolygonM } from '@/core/geometry/polygon';

/** A ring as the path of a drawing in metres. */
export const outlinePath = (ring: PolygonM): string => `${ring.map(({ xM, yM }, i) => `${i === 0 ? 'M' : 'L'}${xM} ${yM}`).join('')}Z`;
