import { channelLabel, channelOf, isPreferredScanning, occupied20 } from '../radio/channel';
import { radioModelOf } from '../radio/catalogue';
import { sameSetting } from '../radio/law';
import { domainName, ruleFor } from '../radio/regulation';
import type { Assignment } from './assignment';
import type { Exposure } from './exposure';
import type { PowerCause } from './powers';
import { rulesFor, type BarredBy, type Option, type PlanRadio, type PlanRules, type Setting } from './problem';

/** The next best channel and how much more it would cost, in radios sharing airtime, mean over the service area. */
export type RunnerUp = Readonly<{ label: string; extraCost: number }>;

/** The runner-up of a radio's choice, all others staying: the best of other spectrum, not another primary in the same; `null` when there is none. */
export function runnerUpOf(problem: Assignment, options: readonly Option[], choice: ArrayLike<number>, r: number): RunnerUp | null {
  const at = (a: number) => problem.neighbours[r]!.reduce((sum, s) => sum + problem.pair(r, a, s, choice[s]!), problem.single(r, a));
  const own = at(choice[r]!);
  let best: RunnerUp | null = null;
  const spectrum = occupied20(options[choice[r]!]!.channel).join();
  options.forEach((option, a) => {
    if (occupied20(option.channel).join() === spectrum) return;
    const extraCost = at(a) - own;
    if (best === null || extraCost < best.extraCost) best = { label: channelLabel(option.channel), extraCost };
  });
  return best;
}

/** Least share of the service area that is worth naming. */
const WORTH_NAMING = 0.002;

/** Names of the radios that took most from this one, worst first. */
export function takersOf(radios: readonly PlanRadio[], r: number, { n, price }: Exposure): string[] {
  return radios
    .map(({ name }, i) => ({ name, cost: i === r ? 0 : price[i * n + r]! }))
    .filter(({ cost }) => cost > WORTH_NAMING)
    .sort((a, b) => b.cost - a.cost)
    .map(({ name }) => name);
}

const minus = (dbm: number) => String(dbm).replace('-', '−');
const listed = (names: readonly string[]) => (names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', '));

/** Why a radio without any channel was left as it is, and what would help. */
export const BARRED_WORDS: Readonly<Record<BarredBy, (radio: PlanRadio, rules: PlanRules) => string>> = {
  domain: ({ band }, { domain }) => `${domainName(domain)} allows no ${band} GHz channel at these widths: tick another width.`,
  outdoor: ({ band }, { domain }) =>
    `it hangs outdoors, and ${domainName(domain)} allows these ${band} GHz channels indoors only: choose another model.`,
  chosen: () => 'none of the channels chosen is one that it may use: add channels to the list.',
  forbidden: () => 'all channels that are left are forbidden for it: allow one in its form.',
  dfs: () => 'only channels with radar detection are left: let them be used.',
  power: () => 'the least power that its model sends is more than limits and headroom leave: lower the headroom.',
};

const STAYS = 'Stays: no change saves more than the change penalty.';

/** In words, what was done with a radio and the true cause of it. */
export function whyOf(
  radio: PlanRadio,
  after: Setting,
  all: PlanRules,
  found: { takers: readonly string[]; barredBy: BarredBy | null; othersBefore: number; capDbm: number; cause: PowerCause | null },
): string {
  const rules = rulesFor(all, radio);
  const { before, band } = radio;
  if (radio.locked) return 'Locked: left as it is.';
  if (radio.spared === false) return STAYS;
  if (radio.spared === true) return 'Left as it is: others gain more, and no more changes are allowed.';
  if (radio.kept !== undefined) return sameSetting(radio.kept, before) ? 'Left as it is, as was chosen.' : 'Kept from the sheet before.';
  if (found.barredBy !== null) return `Left as it is: ${BARRED_WORDS[found.barredBy](radio, rules)}`;
  if (!after.on) return `Off: coverage at ${minus(rules.thresholdDbm)} dBm is kept without it, and its channel is free for the others.`;
  const reasons: string[] = [];
  if (before.channel !== after.channel) {
    const rule = ruleFor(rules.domain, channelOf({ band, ...before }));
    if (rule === null) reasons.push(`${channelLabel({ ...before, primary: before.channel })} is not allowed in ${domainName(rules.domain)}.`);
    else if (rules.channels[band].length > 0 && !rules.channels[band].includes(before.channel))
      reasons.push(`${before.channel} is not among the channels chosen.`);
    else if (radio.forbidden.includes(before.channel)) reasons.push(`${before.channel} is forbidden for it.`);
    else if (rule.dfs && rules.dfs === 'never') reasons.push(`${before.channel} needs radar detection, which is not to be used.`);
    else if (found.takers.length > 0) reasons.push(`${before.channel} was shared with ${listed(found.takers)}.`);
    else if (found.othersBefore > WORTH_NAMING) reasons.push(`${before.channel} is used by networks of others.`);
    else if (isPreferredScanning({ band, primary: after.channel }) && !isPreferredScanning({ band, primary: before.channel }))
      reasons.push(`${after.channel} is a preferred scanning channel.`);
    else reasons.push('Makes room for the others.');
  }
  if (after.widthMhz < before.widthMhz)
    reasons.push(
      rules.widthsMhz[band].includes(before.widthMhz)
        ? `Narrower: ${before.widthMhz} MHz would meet more than they are worth.`
        : `Narrower: ${before.widthMhz} MHz is not among the widths chosen.`,
    );
  if (after.widthMhz > before.widthMhz) reasons.push(`Wider: ${after.widthMhz} MHz costs less than it is worth.`);
  const lessDb = before.txPowerDbm - after.txPowerDbm;
  if (lessDb > 0)
    reasons.push(
      before.txPowerDbm > found.capDbm && after.txPowerDbm === found.capDbm
        ? `Capped at ${minus(tenth(found.capDbm))} dBm by ${capCause(radio, after, rules)}.`
        : `${tenth(lessDb)} dB less${causeWords(found.cause, rules, 'less')}`,
    );
  if (lessDb < 0) reasons.push(`${tenth(-lessDb)} dB more${causeWords(found.cause, rules, 'more')}`);
  return reasons.length > 0 ? reasons.join(' ') : STAYS;
}

const fewer = (radios: number): string => radios.toFixed(radios < 0.01 ? 3 : 2);

/** What would be lost if the power went back. */
function causeWords(cause: PowerCause | null, rules: PlanRules, way: 'less' | 'more'): string {
  switch (cause?.part) {
    case 'contention':
      return way === 'less'
        ? `: it is heard less elsewhere, ${fewer(cause.much)} radios sharing airtime fewer in the mean.`
        : `: it serves spots where others would share more, ${fewer(cause.much)} radios fewer in the mean.`;
    case 'coverage':
      return `: ${(cause.much * 100).toFixed(1)} % of the area would else fall below ${minus(rules.thresholdDbm)} dBm.`;
    case 'spread':
      return `: neighbours differ by ${tenth(rules.powerSpreadDb)} dB at the most.`;
    case 'unequal':
      return way === 'less' ? ': its cell was much larger than the others.' : ': its cell was much smaller than the others.';
    case undefined:
      return way === 'less' ? ': nothing is lost by it, beside the other changes.' : ', beside the other changes.';
  }
}

/** Powers are whole or half decibels; sums of them are not, in binary. */
const tenth = (db: number): number => Math.round(db * 10) / 10;

/** What keeps the power of a radio down on its new channel. */
function capCause(radio: PlanRadio, after: Setting, rules: PlanRules): string {
  if (after.txPowerDbm >= rules.maxPowerDbm) return 'the maximum power chosen';
  const { maxPowerDbm, antenna } = radioModelOf(radio.model, radio.band)!;
  const rule = ruleFor(rules.domain, channelOf({ band: radio.band, ...after }));
  const byLaw = rule !== null && rule.maxEirpDbm - antenna.peakDbi < maxPowerDbm;
  const cause = byLaw ? `the law of ${domainName(rules.domain)}, ${tenth(rule.maxEirpDbm)} dBm EIRP` : `its model, ${maxPowerDbm} dBm`;
  return rules.headroomDb > 0 ? `${cause}, less ${tenth(rules.headroomDb)} dB headroom` : cause;
}
