import { AIR_RULES } from './airRules';
import { PLACE_RULES } from './placeRules';
import { RADIO_RULES } from './radioRules';
import type { Rule } from './finding';

/** The one registry of rules. A new one is an object in the list of its kind; the page and the command line read it from here. */
export const RULES: readonly Rule[] = [...RADIO_RULES, ...AIR_RULES, ...PLACE_RULES];

const BY_ID = new Map(RULES.map((rule) => [rule.id, rule]));
export const ruleOf = (id: string): Rule | null => BY_ID.get(id) ?? null;
