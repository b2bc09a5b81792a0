import { ringsOf, type PolygonM, type RegionM } from '@/core/geometry/polygon';

/** A ring as the path of a drawing in metres. */
export const outlinePath = (ring: PolygonM): string => `${ring.map(({ xM, yM }, i) => `${i === 0 ? 'M' : 'L'}${xM} ${yM}`).join('')}Z`;

/** A region as a path, to be filled by the even-odd rule. */
export const regionPath = (region: RegionM): string => ringsOf(region).map(outlinePath).join('');
