import type { WidthMhz } from '../radio/band';
import type { Channel } from '../radio/channel';
import type { Sample } from './sample';

/** An access point that was mostly heard on another channel or width than designed: on which, and with how many of its beacons in the band. */
export type OtherChannel = Readonly<{ kind: 'channel'; apId: string; designed: Channel; heard: Channel; times: number; of: number }>;

/** Fewer beacons say nothing of a channel: one may be read wrong. */
const LEAST_BEACONS = 3;

/** Which radios were heard otherwise than they are designed, in more than half of their beacons: one that a radar drove away for a while comes back. */
export function otherChannels(samples: readonly Sample[], radios: ReadonlyArray<Readonly<{ apId: string; channel: Channel }>>): OtherChannel[] {
  return radios.flatMap(({ apId, channel: designed }): OtherChannel[] => {
    const own = samples.filter((sample) => sample.apId === apId && sample.band === designed.band);
    const counts = new Map<string, { heard: Channel; times: number }>();
    for (const { band, channel: primary, widthMhz } of own) {
      const key = `${primary}/${widthMhz}`;
      const one = counts.get(key) ?? { heard: { band, primary, widthMhz: widthMhz as WidthMhz }, times: 0 };
      counts.set(key, one);
      one.times++;
    }
    return [...counts.values()]
      .filter(
        ({ heard: { primary, widthMhz }, times }) =>
          times >= LEAST_BEACONS && 2 * times > own.length && (primary !== designed.primary || widthMhz !== designed.widthMhz),
      )
      .map(({ heard, times }) => ({ kind: 'channel', apId, designed, heard, times, of: own.length }));
  });
}
