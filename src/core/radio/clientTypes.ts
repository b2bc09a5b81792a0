import type { Band } from './band';

/** A kind of client that people carry or that stands about. */
export type ClientType = Readonly<{ id: string; name: string; bands: readonly Band[] }>;

/** Kinds of clients that buildings commonly have, made up as types and not after any product. */
export const CLIENT_TYPES: readonly ClientType[] = [
  { id: 'handset', name: 'Voice handset', bands: ['2.4', '5'] },
  { id: 'phone', name: 'Phone', bands: ['2.4', '5', '6'] },
  { id: 'laptop', name: 'Laptop', bands: ['2.4', '5', '6'] },
  { id: 'guide', name: 'Audio guide', bands: ['2.4', '5'] },
  { id: 'scanner', name: 'Scanner, 2.4 GHz only', bands: ['2.4'] },
  { id: 'sensor', name: 'Sensor or tag', bands: ['2.4'] },
];
