import { linkedAddresses } from '@/core/design/surveyCommands';
import { announcedBy } from '@/core/design/ssids';
import type { Design } from '@/core/design/design';
import { BANDS } from '@/core/radio/band';
import { bssidsOf } from '@/core/survey/site';
import type { Place } from './selectors';

/** Whose addresses are: those of every name that the simulated access points of a variant send, and those that were linked. */
export function ownersOf(design: Design, place: Place): ReadonlyMap<string, string> {
  const simulated = place.around.flatMap((ap) =>
    BANDS.flatMap((band) => bssidsOf(ap.id, band, Math.max(1, announcedBy(design, ap, band)?.length ?? 1)).map((bssid) => [bssid, ap.id] as const)),
  );
  return new Map([...simulated, ...linkedAddresses(design)]);
}
