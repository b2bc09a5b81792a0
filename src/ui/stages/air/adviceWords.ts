import { SAME_SHARE, type Option } from '@/core/air/advice';
import type { ClientType } from '@/core/radio/clientTypes';
import type { WidthMhz } from '@/core/radio/band';
import { channelLabel, liesBetween } from '@/core/radio/channel';
import { signed, wholePercent } from '../../state/format';

const networks = (count: number): string => `${count} ${count === 1 ? 'radio' : 'radios'} heard on it`;

/** An option in numbers. */
export const optionWords = ({ left, energyDbm, networks: count }: Option): string =>
  `${wholePercent(left)} of airtime left, ${signed(energyDbm)} dBm energy; ${networks(count)}`;

/** What takes most of a channel, in words; empty where nothing takes a hundredth. */
export function takenBy({ takes, notWifi }: Option, nameOf: (apId: string) => string): string {
  const parts = takes
    .filter(({ costs }) => costs >= 0.01)
    .slice(0, 3)
    .map(({ ssid, apId, costs }) => `${apId === null ? ssid || 'a hidden network' : nameOf(apId)} ${wholePercent(costs)}`);
  if (notWifi >= 0.01) parts.push(`not Wi-Fi ${wholePercent(notWifi)}`);
  return parts.join(', ');
}

/** Why one option is better than what is set, and what a narrower width would gain. */
export function reasonOf(best: Option, present: Option | null, options: readonly Option[], nameOf: (apId: string) => string): string[] {
  const words: string[] = [];
  if (present !== null && present !== best) {
    const taken = takenBy(present, nameOf);
    words.push(`${channelLabel(present.channel)} now: ${optionWords(present)}.${taken === '' ? '' : ` It is taken by ${taken}.`}`);
    if (present.networks < best.networks && best.left > present.left + SAME_SHARE)
      words.push('Fewer networks stand where it is now, and yet more of the time is taken there.');
  }
  const { widthMhz } = best.channel;
  const freest = options.find(({ channel }) => channel.widthMhz === 20 && liesBetween(channel));
  if (freest !== undefined && freest.left > best.left + SAME_SHARE)
    words.push(
      `Channel ${freest.channel.primary} would have ${wholePercent(freest.left)}, but lies between those that part: there it is noise to two instead of taking turns.`,
    );
  const narrower = options.filter(({ channel }) => channel.widthMhz === widthMhz / 2)[0];
  if (narrower !== undefined && narrower.left > best.left + SAME_SHARE)
    words.push(
      `At ${narrower.channel.widthMhz} MHz channel ${narrower.channel.primary} has ${wholePercent(narrower.left)} of its time, for half the width.`,
    );
  return words;
}

/** Whether 5 or 6 GHz may be said instead: clients that know 2.4 GHz alone stay there. */
export function otherBandWords(clients: readonly Pick<ClientType, 'name' | 'bands'>[], left: number, widthMhz: WidthMhz): string {
  const bound = clients
    .filter(({ bands }) => bands.length === 1 && bands[0] === '2.4')
    .map(({ name }) => name.toLowerCase().replace(', 2.4 ghz only', ''));
  const other = `5 GHz has ${wholePercent(left)} of a ${widthMhz} MHz channel left`;
  return bound.length === 0
    ? `${other}: whoever can should be there.`
    : `${other}, for those that know it; ${bound.join(' and ')} of the brief ${bound.length === 1 ? 'knows' : 'know'} 2.4 GHz alone and must stay.`;
}
