/** A value with a true minus sign, as numbers are set throughout. */
export const signed = (value: number, digits = 0): string => value.toFixed(digits).replace('-', '−');
