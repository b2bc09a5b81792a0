/** Numbers as they stand in reasons, each with its unit. */
export const dbm = (value: number): string => `${number(value, 1)} dBm`;
export const db = (value: number): string => `${number(value, 1)} dB`;
export const percent = (share: number): string =>
  share > 0 && share < 0.005 ? '<1 %' : `${(share * 100).toFixed(share < 0.1 && share > 0 ? 1 : 0)} %`;
export const metres = (m: number): string => `${number(m, m < 10 ? 1 : 0)} m`;
export const number = (value: number, digits: number): string => String(Number(value.toFixed(digits))).replace('-', '−');
/** A few of many names. */
export const some = (names: readonly string[], most = 4): string =>
  names.length <= most ? names.join(', ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`;
/** A name within a sentence: its first letter small. */
export const lower = (name: string): string => name.charAt(0).toLowerCase() + name.slice(1);
