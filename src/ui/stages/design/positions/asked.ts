import type { AccessPoint, Design, Floor } from '@/core/design/design';
import type { Band, WidthMhz } from '@/core/radio/band';
import { demandsOn, type candidatesOn } from '@/engine/candidates';
import type { Demand, Scene } from '@/engine/protocol';
import type { Place } from '../../../state/selectors';

/** What people want of the air at one time: devices that each has, Mb/s of each device, and what share of its airtime a radio may spend on it. */
export type CrowdWish = Readonly<{ devicesEach: number; mbpsEach: number; airtimeShare: number }>;

/**
 * What is asked for: models that may hang, by which band and channel width they are judged, at what conducted power; whether what hangs counts; on the floor in
 * view or on all together; whether people are counted; and whether channels and powers are planned as well.
 */
export type Asked = Readonly<{
  modelIds: readonly string[];
  band: Band;
  widthMhz: WidthMhz;
  txPowerDbm: number;
  keep: boolean;
  building: boolean;
  crowd: CrowdWish | null;
  plan: boolean;
}>;

/** A search under way: given up, or ended with its best. */
export type Run = Readonly<{ cancel: AbortController; stop: AbortController }>;

/** A floor of which positions are asked, with the points at which what is owed is looked at and the places where one may hang. */
export type AskedFloor = Readonly<{ floor: Floor; scene: Scene; spots: ReturnType<typeof candidatesOn> }>;
export type Begun = Readonly<{ mine: Run; projectId: string; design: Design; place: Place; floors: readonly AskedFloor[] }>;

export const demandsOf = ({ floors, design }: Begun): Demand[] =>
  floors.flatMap(({ floor, scene }, f) => demandsOn(design, floor, scene, f, floors.length > 1));

/** Whether an access point that hangs is counted, and stays. */
export const stays = ({ keep }: Asked, { locked }: Pick<AccessPoint, 'locked'>): boolean => keep || locked;

/** A design without what hangs on some floors and does not stay. */
export const withoutOthers = (design: Design, asked: Asked, variantId: string, floorIds: readonly string[]): Design => ({
  ...design,
  accessPoints: Object.fromEntries(
    Object.entries(design.accessPoints).filter(([, ap]) => ap.variantId !== variantId || !floorIds.includes(ap.floorId) || stays(asked, ap)),
  ),
});
