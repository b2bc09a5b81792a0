import type { ServiceLevel } from '@/core/design/design';

const db = (value: number): string => String(value).replace('-', '−');

/** A service level in a line: what is asked for, and in how much of the area. */
export function owedText({ signalDbm, secondDbm, snrDb, rateMbps, sharersMost, share }: ServiceLevel): string {
  return [
    `signal ${db(signalDbm)} dBm`,
    ...(secondDbm === null ? [] : [`second ${db(secondDbm)} dBm`]),
    ...(snrDb === null ? [] : [`SNR ${snrDb} dB`]),
    ...(rateMbps === null ? [] : [`${rateMbps} Mb/s`]),
    ...(sharersMost === null ? [] : [`at most ${sharersMost} ${sharersMost === 1 ? 'radio' : 'radios'} sharing`]),
    `in ${Number((share * 100).toFixed(1))} % of the area`,
  ].join(', ');
}
