/**
 * A made-up registry of makers by the first three octets of an address. None of them exists. All addresses of the simulated world are locally administered (IEEE 802-2014, 8.2: the second bit
 * of the first octet), so that no real maker's are taken.
 */
const MAKERS: Readonly<Record<string, string>> = {
  '55': 'Wader & Tern',
  '77:10': 'Saltmarsh Radio',
  '77:20': 'Lockgate Devices',
  '77:30': 'Tallow Lane Works',
  '77:40': 'Ropewalk Instruments',
};

/** Who made what has an address, by the registry; null where it does not say. Several names of one radio differ in the first octet alone. */
export function makerOf(bssid: string): string | null {
  const [, second = '', third = ''] = bssid.toLowerCase().split(':');
  return MAKERS[`${second}:${third}`] ?? (Object.hasOwn(MAKERS, second) ? MAKERS[second]! : null);
}

/** Whether an address was given by whoever set it up and not by its maker. */
export const isLocal = (bssid: string): boolean => (parseInt(bssid.slice(0, 2), 16) & 2) !== 0;
