import type { RadioRemedy } from '../checks/finding';
import { changeWidth, editRadios } from './commands';
import type { Design, RecordOf } from './registry';
import { applyChanges, change, type Change } from './step';

export type CheckRuleSetting = RecordOf<'checkRules'>;

/** How a rule is set; null where nobody has changed it. */
export const checkRuleOf = ({ checkRules }: Pick<Design, 'checkRules'>, ruleId: string): CheckRuleSetting | null =>
  Object.hasOwn(checkRules, ruleId) ? checkRules[ruleId]! : null;

/** Sets fields of a rule: switches it, with the reason, or gives it another number. */
export function setCheckRule(design: Design, ruleId: string, fields: Partial<Omit<CheckRuleSetting, 'id'>>): Change[] {
  const before = checkRuleOf(design, ruleId);
  return change('checkRules', ruleId, before, { ...(before ?? { id: ruleId, on: true, note: '', threshold: null }), ...fields });
}

/** Why a finding of a variant was accepted; null where it was not. */
export const acceptedOf = (
  { acceptedFindings }: Pick<Design, 'acceptedFindings'>,
  variantId: string,
  finding: string,
): RecordOf<'acceptedFindings'> | null =>
  Object.values(acceptedFindings).find((one) => one.variantId === variantId && one.finding === finding) ?? null;

/** Accepts a finding for a reason; one that was accepted gets the new reason. */
export function acceptFinding(design: Design, { id, variantId, finding, reason }: RecordOf<'acceptedFindings'>): Change[] {
  const before = acceptedOf(design, variantId, finding);
  return change('acceptedFindings', before?.id ?? id, before, { id: before?.id ?? id, variantId, finding, reason });
}

/** Sets radios as a remedy says; a width takes a channel that is allowed with it. */
export function applyRemedy(design: Design, radios: readonly RadioRemedy[]): Change[] {
  let after = design;
  const changes: Change[] = [];
  const add = (more: readonly Change[]) => {
    after = applyChanges(after, more);
    changes.push(...more);
  };
  for (const { apId, band, fields } of radios) {
    const { widthMhz, ...rest } = fields;
    if (widthMhz !== undefined) add(changeWidth(after, [apId], band, widthMhz));
    if (Object.keys(rest).length > 0) add(editRadios(after, [apId], band, rest));
  }
  return changes;
}
