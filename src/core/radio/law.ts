import type { Band, WidthMhz } from './band';
import { radioModelOf, type ApModel } from './catalogue';
import { channelOf } from './channel';
import { allowedChannels, domainName, ruleFor, type AllowedChannel, type Domain } from './regulation';

/** A radio as set, as far as model and law are concerned. */
export type SetRadio = Readonly<{ band: Band; on: boolean; channel: number; widthMhz: WidthMhz; txPowerDbm: number }>;

/** Whether two settings send the same. */
export const sameSetting = (a: Omit<SetRadio, 'band'>, b: Omit<SetRadio, 'band'>): boolean =>
  a.on === b.on && a.channel === b.channel && a.widthMhz === b.widthMhz && a.txPowerDbm === b.txPowerDbm;

/** What of a radio's setting model or law do not allow. Powers in dBm. */
export type LawProblem =
  | Readonly<{ kind: 'band' }>
  | Readonly<{ kind: 'channel'; domain: string; channel: number; widthMhz: WidthMhz }>
  | Readonly<{ kind: 'outdoors'; domain: string; channel: number }>
  | Readonly<{ kind: 'width'; widthMhz: WidthMhz; maxWidthMhz: WidthMhz }>
  | Readonly<{ kind: 'power'; txPowerDbm: number; minPowerDbm: number; maxPowerDbm: number }>
  | Readonly<{ kind: 'eirp'; domain: string; eirpDbm: number; maxEirpDbm: number }>;

/** Tenths of a decibel: sums of powers and gains are not exact in binary. */
const tenth = (db: number): number => Math.round(db * 10) / 10;

/** Channels of a band and width that a model may use: those of the domain, less indoor ones for a model that hangs outdoors. */
export const lawfulChannels = (domain: Domain, model: ApModel, band: Band, widthMhz: WidthMhz): readonly AllowedChannel[] =>
  allowedChannels(domain, band, widthMhz).filter(({ indoorOnly }) => !(indoorOnly && model.outdoor));

/** What is wrong with a radio's setting, or null. One that is off sends nothing and breaks nothing. */
export function lawProblem(domain: Domain, model: ApModel, radio: SetRadio): LawProblem | null {
  if (!radio.on) return null;
  const { band, channel, widthMhz, txPowerDbm } = radio;
  const limits = radioModelOf(model, band);
  if (limits === null) return { kind: 'band' };
  const { minPowerDbm, maxPowerDbm, maxWidthMhz, antenna } = limits;
  if (widthMhz > maxWidthMhz) return { kind: 'width', widthMhz, maxWidthMhz };
  if (txPowerDbm < minPowerDbm || txPowerDbm > maxPowerDbm) return { kind: 'power', txPowerDbm, minPowerDbm, maxPowerDbm };
  const rule = ruleFor(domain, channelOf(radio));
  if (rule === null) return { kind: 'channel', domain: domainName(domain), channel, widthMhz };
  if (rule.indoorOnly && model.outdoor) return { kind: 'outdoors', domain: domainName(domain), channel };
  const eirpDbm = tenth(txPowerDbm + antenna.peakDbi);
  return eirpDbm > tenth(rule.maxEirpDbm) ? { kind: 'eirp', domain: domainName(domain), eirpDbm, maxEirpDbm: tenth(rule.maxEirpDbm) } : null;
}

/**
 * The highest conducted power, in dBm, that model and law leave a radio on its channel, down to half a decibel; the model's own where the
 * channel is not allowed at all.
 */
export function highestPowerDbm(domain: Domain, model: ApModel, radio: Pick<SetRadio, 'band' | 'channel' | 'widthMhz'>): number {
  const limits = radioModelOf(model, radio.band);
  // A band that the model lacks is told as such and not as a power.
  if (limits === null) return Infinity;
  const rule = ruleFor(domain, channelOf(radio));
  if (rule === null) return limits.maxPowerDbm;
  return Math.min(limits.maxPowerDbm, Math.max(limits.minPowerDbm, Math.floor((tenth(rule.maxEirpDbm) - limits.antenna.peakDbi) * 2 + 1e-9) / 2));
}

/** A radio whose power is lowered to what model and law leave it, where it is higher. */
export const withinLaw = <R extends SetRadio>(domain: Domain, model: ApModel, radio: R): R => {
  const highest = highestPowerDbm(domain, model, radio);
  return radio.txPowerDbm > highest ? { ...radio, txPowerDbm: highest } : radio;
};

const dbm = (value: number) => `${String(tenth(value)).replace('-', '−')} dBm`;

/** The problem in words, with what to do. */
export function lawWords(problem: LawProblem): string {
  switch (problem.kind) {
    case 'band':
      return 'This model has no radio in the band: switch it off, or choose another model.';
    case 'channel':
      return `Channel ${problem.channel} at ${problem.widthMhz} MHz is not allowed in ${problem.domain}: choose another channel or width.`;
    case 'outdoors':
      return `Channel ${problem.channel} is for indoor use only in ${problem.domain}, and this model hangs outdoors: choose another channel.`;
    case 'width':
      return `The model has ${problem.maxWidthMhz} MHz at most, not ${problem.widthMhz}: choose a narrower width.`;
    case 'power':
      return `The model sends ${dbm(problem.minPowerDbm)} to ${dbm(problem.maxPowerDbm)}, not ${dbm(problem.txPowerDbm)}: change the power.`;
    case 'eirp':
      return `${dbm(problem.eirpDbm)} EIRP is more than the ${dbm(problem.maxEirpDbm)} that ${problem.domain} allows on this channel: lower the power.`;
  }
}
