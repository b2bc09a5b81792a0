/** The international foot, exactly (NIST SP 811, B.6). */
export const M_PER_FT = 0.3048;

export type UnitSystem = 'metric' | 'us';

export const ftFromM = (m: number): number => m / M_PER_FT;
export const mFromFt = (ft: number): number => ft * M_PER_FT;
export const sqFtFromM2 = (m2: number): number => m2 / (M_PER_FT * M_PER_FT);

/** A length for the screen, with its unit. */
export function formatLength(m: number, units: UnitSystem, digits = 2): string {
  return units === 'us' ? `${ftFromM(m).toFixed(Math.max(0, digits - 1))} ft` : `${m.toFixed(digits)} m`;
}

/** An area for the screen, with its unit; thousands apart by a thin space. */
export function formatArea(m2: number, units: UnitSystem): string {
  const value = Math.round(units === 'us' ? sqFtFromM2(m2) : m2);
  return `${String(value).replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009')} ${units === 'us' ? 'sq ft' : 'm²'}`;
}

/** A number, a fraction, or a number and a fraction: 3, 3.5, 3,5, 1/2, 3 1/2. */
const NUMBER = String.raw`(?:\d+(?:[.,]\d+)?(?:\s+\d+/\d+)?|\d+/\d+|[.,]\d+)`;
const INCH_MARK = '(?:in|inch|inches|"|″)';
const FEET = new RegExp(String.raw`^(${NUMBER})\s*(?:ft|feet|foot|'|′)(?:\s*-?\s*(${NUMBER})\s*${INCH_MARK}?)?$`);
const INCHES = new RegExp(String.raw`^(${NUMBER})\s*${INCH_MARK}$`);
const METRES = new RegExp(String.raw`^(${NUMBER})\s*(m|cm|mm)$`);
const PLAIN = new RegExp(String.raw`^${NUMBER}$`);

function numberIn(text: string): number {
  return text
    .replace(',', '.')
    .split(/\s+/)
    .reduce((sum, part) => {
      const [over, under] = part.split('/');
      return sum + Number(over) / (under === undefined ? 1 : Number(under));
    }, 0);
}

/** A length as a person writes it, in m: 12.5 in the project's units, or 3.2 m, 320 cm, 10' 6", 10 ft 6 in, 10'-6 1/2". Null where it is none. */
export function parseLength(text: string, units: UnitSystem): number | null {
  const written = text.trim().toLowerCase();
  const inUnit = (value: number, factor: number): number | null => (Number.isFinite(value) ? value * factor : null);
  if (PLAIN.test(written)) return inUnit(numberIn(written), units === 'us' ? M_PER_FT : 1);
  const metric = METRES.exec(written);
  if (metric !== null) return inUnit(numberIn(metric[1]!), { m: 1, cm: 0.01, mm: 0.001 }[metric[2]!]!);
  const inches = INCHES.exec(written);
  if (inches !== null) return inUnit(numberIn(inches[1]!) / 12, M_PER_FT);
  const feet = FEET.exec(written);
  return feet === null ? null : inUnit(numberIn(feet[1]!) + (feet[2] === undefined ? 0 : numberIn(feet[2]) / 12), M_PER_FT);
}
