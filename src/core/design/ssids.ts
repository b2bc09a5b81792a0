import { UpperRoomError } from '../errors';
import { BANDS, type Band } from '../radio/band';
import { edit, existing } from './commands';
import { PROJECT_ID, projectOf, type AccessPoint, type Design, type Ssid } from './design';
import { SSID_OCTETS } from './kinds/project';
import { freeName } from './names';
import type { Change } from './step';

/** One list for all who have none: whoever keeps what he got sees that it is the same. */
const NONE: readonly Ssid[] = [];

/** The network names of a project; none where nobody has said them. The same list for the same project. */
export const ssidsOf = (design: Design): readonly Ssid[] => projectOf(design)?.network.ssids ?? NONE;

/** The network names that an access point announces in a band; null where nobody has said which there are. */
export function announcedBy(design: Design, ap: Pick<AccessPoint, 'withheldSsids'>, band: Band): readonly Ssid[] | null {
  const ssids = projectOf(design)?.network.ssids ?? null;
  return ssids === null ? null : ssids.filter(({ id, bands }) => bands.includes(band) && !ap.withheldSsids.includes(id));
}

/** A project without a network name has said nothing of them. */
const setSsids = (design: Design, ssids: readonly Ssid[]): Change[] =>
  edit(design, 'project', PROJECT_ID, { network: { ...existing(design, 'project', PROJECT_ID).network, ssids: ssids.length === 0 ? null : ssids } });

/** Adds a network name, announced by all in every band. */
export const addSsid = (design: Design, id: string): Change[] =>
  setSsids(design, [...ssidsOf(design), { id, name: freeName('Network', ssidsOf(design)), bands: BANDS }]);

/** Sets name or bands. @throws UpperRoomError SSID_REFUSED for a name that is too long or taken */
export function editSsid(design: Design, id: string, fields: Partial<Pick<Ssid, 'name' | 'bands'>>): Change[] {
  const { name } = fields;
  const octets = new TextEncoder().encode(name ?? '').length;
  if (name !== undefined && (octets > SSID_OCTETS || ssidsOf(design).some((other) => other.id !== id && other.name === name)))
    throw new UpperRoomError('SSID_REFUSED', { name, octets });
  return setSsids(
    design,
    ssidsOf(design).map((ssid) => (ssid.id === id ? { ...ssid, ...fields } : ssid)),
  );
}

/** Deletes a network name; the last one leaves it unsaid which there are. */
export const removeSsid = (design: Design, id: string): Change[] =>
  setSsids(
    design,
    ssidsOf(design).filter((ssid) => ssid.id !== id),
  );

/** Lets access points announce a network name, or withhold it. What they withheld of names that are gone is forgotten. */
export function announce(design: Design, apIds: readonly string[], ssidId: string, announced: boolean): Change[] {
  const known = new Set(ssidsOf(design).map(({ id }) => id));
  return apIds.flatMap((apId) => {
    const rest = existing(design, 'accessPoints', apId).withheldSsids.filter((id) => id !== ssidId && known.has(id));
    return edit(design, 'accessPoints', apId, { withheldSsids: announced ? rest : [...rest, ssidId] });
  });
}
