import type { Band, WidthMhz } from '../radio/band';
import type { FactPlace, Facts } from './facts';
import { some } from './words';

/** How bad it is: it may not stay, it costs the users something, or it should be known. */
export const SEVERITIES = ['stop', 'mend', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** A radio set otherwise. */
export type RadioRemedy = Readonly<{ apId: string; band: Band; fields: Readonly<{ channel?: number; widthMhz?: WidthMhz; txPowerDbm?: number }> }>;

/** What can be done as one step. */
export type Remedy = Readonly<{ label: string; radios: readonly RadioRemedy[] }>;

/**
 * Something an engineer should look at. `key` says what it is about and stays the same as long as that is so, whatever the numbers are; `reason` holds
 * the numbers.
 */
export type Finding = Readonly<{
  key: string;
  ruleId: string;
  severity: Severity;
  title: string;
  reason: string;
  advice: string;
  place: FactPlace | null;
  apIds: readonly string[];
  remedy: Remedy | null;
}>;

/** A number that a rule judges by, which the engineer may set. */
export type RuleThreshold = Readonly<{ words: string; unit: string; least: number; most: number; start: number }>;

/** One rule: what it looks for, by what number, and what it finds. */
export type Rule = Readonly<{
  id: string;
  label: string;
  /** Why it is looked for. */
  help: string;
  threshold: RuleThreshold | null;
  /** After "n radios at 5 GHz": where many radios of a band are found alike, they are one finding. Null where each stands alone. */
  many: string | null;
  find: (facts: Facts, threshold: number) => readonly Found[];
}>;

/** What a rule finds. `of`: what it is about, within the rule. Radios say of which band they are, and how bad it is beside others alike. */
export type Found = Omit<Finding, 'ruleId' | 'key'> & Readonly<{ of: string; alike?: Readonly<{ band: Band; name: string; weight: number }> }>;

/** So many alike are one finding. */
const MANY = 3;

/** Findings of many radios of a band told as one: who they are, the worst of them in full, and all remedies together. */
function together(rule: Rule, found: readonly Found[]): Found[] {
  const { many } = rule;
  if (many === null) return [...found];
  const bands = new Map<Band, Found[]>();
  for (const one of found) if (one.alike !== undefined) bands.set(one.alike.band, [...(bands.get(one.alike.band) ?? []), one]);
  return found.flatMap((one) => {
    const group = one.alike === undefined ? [] : bands.get(one.alike.band)!;
    if (group.length < MANY) return [one];
    if (group[0] !== one) return [];
    const sorted = [...group].sort((p, q) => q.alike!.weight - p.alike!.weight);
    const worst = sorted[0]!;
    const radios = group.flatMap(({ remedy }) => remedy?.radios ?? []);
    return [
      {
        ...worst,
        of: one.alike!.band,
        title: `${group.length} radios at ${one.alike!.band} GHz ${many}`,
        reason: `${some(
          sorted.map(({ alike }) => alike!.name),
          8,
        )}. First of them, ${worst.alike!.name}: ${worst.reason}`,
        apIds: group.flatMap(({ apIds }) => apIds),
        remedy:
          radios.length === 0
            ? null
            : {
                label: radios.length === 1 ? worst.remedy!.label : `Do this to ${radios.length} radios: ${worst.remedy?.label ?? 'mend'} and alike`,
                radios,
              },
      },
    ];
  });
}

/** How a rule is set in a project: off with the reason, or by another number. */
export type RuleSetting = Readonly<{ on: boolean; note: string; threshold: number | null }>;

const RANK: Readonly<Record<Severity, number>> = { stop: 0, mend: 1, note: 2 };

/** All findings of some rules, the gravest first, then as the rules are listed. A rule without setting is on. */
export function findingsOf(rules: readonly Rule[], facts: Facts, settingOf: (ruleId: string) => RuleSetting | null): Finding[] {
  const found = rules.flatMap((rule) => {
    const { id, threshold, find } = rule;
    const setting = settingOf(id);
    if (setting?.on === false) return [];
    return together(rule, find(facts, setting?.threshold ?? threshold?.start ?? 0)).map(({ of, alike: _alike, ...rest }): Finding => ({
      ...rest,
      ruleId: id,
      key: `${id}:${of}`,
    }));
  });
  return found.sort((p, q) => RANK[p.severity] - RANK[q.severity]);
}
