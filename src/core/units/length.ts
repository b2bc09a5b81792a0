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
