import type { AccessPoint, Design } from '@/core/design/design';
import { announcedBy, ssidsOf } from '@/core/design/ssids';
import type { Band } from '@/core/radio/band';

/** Of whom the map is, where it is not of all: of some access points, of those that announce a network name, or of the radios on a primary channel of a band. */
export type HeardFrom =
  Readonly<{ by: 'aps'; ids: readonly string[] }> | Readonly<{ by: 'ssid'; id: string }> | Readonly<{ by: 'channel'; band: Band; primary: number }>;

const primaryOf = (ap: AccessPoint, band: Band): number | null => ap.radios.find((radio) => radio.band === band && radio.on)?.channel ?? null;

/**
 * Those of some access points that the map is of. A channel says nothing of another band, and where none of the chosen is left it is of all. A network name
 * that is not announced in the band is heard from nobody.
 */
export function apsHeard(from: HeardFrom | null, design: Design, aps: readonly AccessPoint[], band: Band): readonly AccessPoint[] {
  if (from === null) return aps;
  if (from.by === 'ssid') return aps.filter((ap) => announcedBy(design, ap, band)?.some(({ id }) => id === from.id));
  if (from.by === 'channel') return from.band === band ? aps.filter((ap) => primaryOf(ap, band) === from.primary) : aps;
  return aps.filter(({ id }) => from.ids.includes(id));
}

/** Primary channels in use in a band, ascending. */
export const primariesOf = (aps: readonly AccessPoint[], band: Band): number[] =>
  [...new Set(aps.flatMap((ap) => primaryOf(ap, band) ?? []))].sort((a, b) => a - b);

/** What is left of a choice in a design: null, of all, once everything chosen is gone. */
export function standingChoice(from: HeardFrom | null, design: Design): HeardFrom | null {
  if (from === null || from.by === 'channel') return from;
  if (from.by === 'ssid') return ssidsOf(design).some(({ id }) => id === from.id) ? from : null;
  const ids = from.ids.filter((id) => Object.hasOwn(design.accessPoints, id));
  return ids.length === 0 ? null : ids.length === from.ids.length ? from : { ...from, ids };
}

/** The same choice in another design, of whose access points these are all: the access points of those names; where there is none of them nobody is heard, instead of all. */
export function counterpart(from: HeardFrom | null, design: Design, around: readonly AccessPoint[]): HeardFrom | null {
  const standing = standingChoice(from, design);
  if (standing === null || standing.by !== 'aps') return standing;
  const names = standing.ids.map((id) => design.accessPoints[id]!.name);
  return { by: 'aps', ids: around.filter(({ name }) => names.includes(name)).map(({ id }) => id) };
}

/** The choice in words; empty for all. */
export function heardWords(from: HeardFrom | null, design: Design, band: Band): string {
  const standing = standingChoice(from, design);
  if (standing === null || (standing.by === 'channel' && standing.band !== band)) return '';
  if (standing.by === 'channel') return `channel ${standing.primary} alone`;
  if (standing.by === 'ssid') return `network “${ssidsOf(design).find(({ id }) => id === standing.id)!.name}” alone`;
  const [first, ...rest] = standing.ids.map((id) => design.accessPoints[id]!.name);
  return `${rest.length === 0 ? first : `${standing.ids.length} access points`} alone`;
}

/** Of whom samples count: null for any of the project's own. */
export const measuredOf = (from: HeardFrom | null, design: Design, aps: readonly AccessPoint[], band: Band): ReadonlySet<string> | null =>
  from === null || (from.by === 'channel' && from.band !== band) ? null : new Set(apsHeard(from, design, aps, band).map(({ id }) => id));
