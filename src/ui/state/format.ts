/** A value with a true minus sign, as numbers are set throughout. */
export const signed = (value: number, digits = 0): string => value.toFixed(digits).replace('-', '−');

/** A share of 0 to 1 in percent. */
export const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;

/** A share of 0 to 1 in whole percents. */
export const wholePercent = (share: number): string => `${Math.round(100 * share)} %`;

/** How a radio is set. */
export const settingText = (setting: Readonly<{ on: boolean; channel: number; widthMhz: number; txPowerDbm: number }>): string =>
  setting.on ? `${setting.channel}/${setting.widthMhz} ${signed(setting.txPowerDbm)} dBm` : 'off';
