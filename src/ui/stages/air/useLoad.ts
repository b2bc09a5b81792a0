import { useMemo } from 'react';
import { optionOf, ranked, summaryOf, type LoadSummary, type Option } from '@/core/air/advice';
import type { ChannelLoad } from '@/core/air/load';
import { channelOfHeard, type HeardNetwork } from '@/core/air/heard';
import { overlaps } from '@/core/air/radio';
import { domainOf, modelsOf, type AccessPoint, type Radio } from '@/core/design/design';
import { WIDTHS_MHZ, type Band, type WidthMhz } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import type { Channel } from '@/core/radio/channel';
import { lawfulChannels } from '@/core/radio/law';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { useAir, type LoadRun } from './airStore';

/** A measurement channel by channel. */
export function summariesOf(run: LoadRun | undefined): LoadSummary[] {
  const byChannel = new Map<number, ChannelLoad[]>();
  for (const load of run?.loads ?? []) byChannel.set(load.channel, [...(byChannel.get(load.channel) ?? []), load]);
  return [...byChannel].map(([channel, dwells]) => summaryOf({ band: run!.band, channel, dwells })).sort((a, b) => a.channel - b.channel);
}

export const useLoads = (band: Band): { now: LoadSummary[]; before: LoadSummary[] } => {
  const now = useAir((s) => s.load[band]);
  const before = useAir((s) => s.before[band]);
  return { now: useMemo(() => summariesOf(now), [now]), before: useMemo(() => summariesOf(before), [before]) };
};

/** How many networks have a channel in common with one: radios, for names of one are one. */
export const networksOn =
  (networks: readonly HeardNetwork[]) =>
  (channel: Channel): number =>
    new Set(networks.filter((one) => overlaps(channelOfHeard(one), channel)).map(({ bssid }) => bssid.slice(2))).size;

/** What an access point's radio could take, by width, best first; and what it has. */
export type Advice = Readonly<{ ap: AccessPoint; radio: Radio; options: readonly Option[]; present: Option | null; widths: readonly WidthMhz[] }>;

/** Whose channel is advised: the one listened from, the selected, or the first of the band on this floor. */
export function useAdvice(place: Place, networks: readonly HeardNetwork[], apId: string | null, band: Band): Advice | null {
  const design = useDocument((s) => s.design);
  const { now: loads } = useLoads(band);
  return useMemo(() => {
    const ap = place.aps.find(({ id }) => id === apId);
    const radio = ap?.radios.find((one) => one.band === band);
    if (ap === undefined || radio === undefined || loads.length === 0) return null;
    const model = modelsOf(design)(ap.modelId);
    const most = radioModelOf(model, band)?.maxWidthMhz ?? 20;
    const domain = domainOf(place.project);
    const widths = WIDTHS_MHZ.filter((widthMhz) => widthMhz <= most && lawfulChannels(domain, model, band, widthMhz).length > 0);
    const count = networksOn(networks.filter(({ bssid }) => bssid.slice(2) !== ''));
    const options = widths.flatMap((widthMhz) =>
      ranked(
        lawfulChannels(domain, model, band, widthMhz)
          .filter(({ channel }) => !radio.forbidden.includes(channel.primary))
          .flatMap((allowed) => optionOf(allowed, loads, count, ap.id) ?? []),
      ),
    );
    const present = options.find(({ channel }) => channel.primary === radio.channel && channel.widthMhz === radio.widthMhz) ?? null;
    return { ap, radio, options, present, widths };
  }, [place, networks, apId, band, loads, design]);
}
