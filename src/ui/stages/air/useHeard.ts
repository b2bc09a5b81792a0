import { useMemo } from 'react';
import { levelOf, type HeardNetwork } from '@/core/air/heard';
import { makerOf } from '@/core/air/makers';
import { ownersOf } from '../../state/owners';
import type { Place } from '../../state/selectors';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';
import { useAir } from './airStore';

export function useOwners(place: Place): (bssid: string) => string | null {
  const design = useDocument((s) => s.design);
  const owners = useMemo(() => ownersOf(design, place), [design, place]);
  return useMemo(() => (bssid: string) => owners.get(bssid) ?? null, [owners]);
}

/** What our access points are called. */
export function useNames(): (apId: string) => string | null {
  const accessPoints = useDocument((s) => s.design.accessPoints);
  return useMemo(() => (apId: string) => accessPoints[apId]?.name ?? null, [accessPoints]);
}

/** The networks that pass all filters but that of the band. */
export function useFiltered(place: Place): { networks: readonly HeardNetwork[]; ownerOf: (bssid: string) => string | null; all: number } {
  const heard = useAir((s) => s.heard);
  const onlyOurs = useAir((s) => s.onlyOurs);
  const find = useAir((s) => s.find);
  const ignoreBelowDbm = useSession((s) => s.ignoreBelowDbm);
  const ownerOf = useOwners(place);
  const networks = useMemo(() => {
    const words = find.toLowerCase();
    return [...heard.networks.values()].filter((network) => {
      const { ssid, bssid, security } = network.newest.network;
      if (Math.max(levelOf(network), network.meanDbm) < ignoreBelowDbm) return false;
      if (onlyOurs !== 'everybody' && (ownerOf(bssid) !== null) !== (onlyOurs === 'ours')) return false;
      return words === '' || `${ssid || '(hidden)'} ${bssid} ${makerOf(bssid) ?? ''} ${security}`.toLowerCase().includes(words);
    });
  }, [heard, onlyOurs, find, ignoreBelowDbm, ownerOf]);
  return { networks, ownerOf, all: heard.networks.size };
}
