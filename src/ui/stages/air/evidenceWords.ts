import type { Evidence, Identified } from '@/core/spectrum/identify';
import { signed } from '../../state/format';

/** Beyond so many of its usual deviations a number speaks against a kind. */
const AGAINST = 1.5;

const percent = (share: number): string => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;

/** A measured number in words. */
function numberWords({ feature, value }: Evidence): string {
  switch (feature) {
    case 'width':
      return `${value.toFixed(1)} MHz wide`;
    case 'flat':
      return `its top takes ${percent(value)} of its width`;
    case 'length':
      return `bursts of ${value < 1000 ? `${Math.round(value)} µs` : `${(value / 1000).toFixed(1)} ms`}`;
    case 'duty':
      return `on the air at least ${percent(value)} of the time`;
    case 'perSecond':
      return `${Math.round(value)} bursts a second`;
    case 'mainsLock':
      return `${percent(value)} in step with the mains`;
    case 'wander':
      return `its frequency goes ${value.toFixed(1)} MHz within a burst`;
    case 'places':
      return `on ${Math.round(value)} frequencies`;
    case 'advertisingShare':
      return `${percent(value)} of it on 2402, 2426 and 2480 MHz`;
    case 'rhythm':
    case 'noRhythm':
      return `${percent(value)} in one rhythm`;
    case 'raster':
      return `${value.toFixed(1)} MHz off the nearest of its channels`;
  }
}

/** What speaks for a kind and what against it, each in a number. */
export function evidenceWords(evidence: readonly Evidence[]): { speaksFor: string[]; against: string[] } {
  const words = evidence.map((one) => ({ words: numberWords(one), against: Math.abs(one.off) > AGAINST }));
  return {
    speaksFor: words.filter(({ against }) => !against).map((one) => one.words),
    against: words.filter(({ against }) => against).map((one) => one.words),
  };
}

/** Where and how strong it was found. */
export const whereWords = ({ fromMhz, toMhz, levelDbm, duty, bursts }: Identified): string =>
  `${fromMhz.toFixed(0)} to ${toMhz.toFixed(0)} MHz, ${signed(levelDbm)} dBm while it is on, at least ${percent(duty)} of the time; ${bursts} ${bursts === 1 ? 'burst' : 'bursts'} seen`;
