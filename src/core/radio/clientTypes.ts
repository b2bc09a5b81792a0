import { BANDS, type Band } from './band';
import { COMMON_RULE, bandRuleWords, type BandRule } from './bandRule';
import { COMMON_CLIENT, type Receiver } from './receiver';

/** What a kind of client has apart from the height it is held at, which is the project's. */
type Equipment = Omit<Receiver, 'heightM'>;

/** A kind of client that people carry or that stands about. */
export type ClientType = Readonly<{ id: string; name: string; bands: readonly Band[]; bandRule: BandRule; equipment: Equipment }>;

/** A client of one or two streams and some layer; working values of the kind, not of any product. */
const kind = (
  gainDbi: number,
  streams: number,
  generation: Receiver['generation'],
  maxWidthMhz: Receiver['maxWidthMhz'],
  txPowerDbm: number,
): Equipment => ({
  gainDbi,
  noiseFigureDb: COMMON_CLIENT.noiseFigureDb,
  streams,
  generation,
  maxWidthMhz,
  txPowerDbm,
});

/** Kinds of clients that buildings commonly have, made up as types and not after any product. A gain below 0 is what hand, head or body take. */
export const CLIENT_TYPES: readonly ClientType[] = [
  {
    id: 'handset',
    name: 'Voice handset',
    bands: ['2.4', '5'],
    bandRule: { prefers: 'highest', fromDbm: -67 },
    equipment: kind(-4, 1, 'Wi-Fi 5', 40, 14),
  },
  { id: 'phone', name: 'Phone', bands: ['2.4', '5', '6'], bandRule: COMMON_RULE, equipment: kind(-3, 2, 'Wi-Fi 6', 80, 14) },
  { id: 'laptop', name: 'Laptop', bands: ['2.4', '5', '6'], bandRule: COMMON_RULE, equipment: kind(0, 2, 'Wi-Fi 6', 160, 17) },
  {
    id: 'guide',
    name: 'Audio guide',
    bands: ['2.4', '5'],
    bandRule: { prefers: 'loudest', fromDbm: -70 },
    equipment: kind(-4, 1, 'Wi-Fi 4', 20, 12),
  },
  { id: 'scanner', name: 'Scanner, 2.4 GHz only', bands: ['2.4'], bandRule: COMMON_RULE, equipment: kind(-2, 1, 'Wi-Fi 4', 20, 15) },
  { id: 'sensor', name: 'Sensor or tag', bands: ['2.4'], bandRule: COMMON_RULE, equipment: kind(-1, 1, 'Wi-Fi 4', 20, 10) },
];

/** The client that maps are for where no kind is chosen: it knows every band. */
export const COMMON_TYPE: ClientType = {
  id: 'common',
  name: 'common client',
  bands: BANDS,
  bandRule: COMMON_RULE,
  equipment: kind(COMMON_CLIENT.gainDbi, COMMON_CLIENT.streams, COMMON_CLIENT.generation, COMMON_CLIENT.maxWidthMhz, COMMON_CLIENT.txPowerDbm),
};

/** What a kind has, in words. */
export function clientWords({
  equipment: { gainDbi, streams, generation, maxWidthMhz, txPowerDbm, noiseFigureDb },
  bands,
  bandRule,
}: ClientType): string {
  const gain = `${gainDbi < 0 ? '−' : ''}${Math.abs(gainDbi)} dBi`;
  return `${bands.join(', ')} GHz, ${generation}, ${streams} ${streams === 1 ? 'stream' : 'streams'}, up to ${maxWidthMhz} MHz, ${gain}, ${txPowerDbm} dBm, noise figure ${noiseFigureDb} dB${bands.length > 1 ? `; takes ${bandRuleWords(bandRule)}` : ''}`;
}
