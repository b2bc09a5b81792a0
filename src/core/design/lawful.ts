import { UpperRoomError } from '../errors';
import { lawProblem, lawWords, sameSetting, type LawProblem } from '../radio/law';
import { modelOf, type ApModel, type ModelLookup } from '../radio/catalogue';
import type { Domain } from '../radio/regulation';
import { PROJECT_ID, domainOf, type Radio } from './design';
import type { Change } from './step';

/** A radio that a change would set against model or law. */
export type Breach = Readonly<{ apId: string; name: string; radio: Radio; problem: LawProblem }>;

/**
 * Radios that changes set against model or law. What stood so before and is not touched is no breach: another domain was chosen, or it is
 * old; that is marked where it is shown.
 * @param domain that of the project before the changes
 * @param models the access point models before the changes
 */
export function breachesOf(domain: Domain, changes: readonly Change[], models: ModelLookup = modelOf): Breach[] {
  let ruling = domain;
  const came = new Map<string, ApModel>();
  for (const change of changes) if (change.table === 'apModels' && change.after !== null) came.set(change.id, change.after);
  for (const change of changes) if (change.table === 'project' && change.id === PROJECT_ID && change.after !== null) ruling = domainOf(change.after);
  return changes.flatMap((change) => {
    if (change.table !== 'accessPoints' || change.after === null) return [];
    const { before, after } = change;
    return after.radios.flatMap((radio) => {
      const was = before?.modelId === after.modelId ? before.radios.find(({ band }) => band === radio.band) : undefined;
      if (was !== undefined && sameSetting(was, radio)) return [];
      const problem = lawProblem(ruling, came.get(after.modelId) ?? models(after.modelId), radio);
      return problem === null ? [] : [{ apId: after.id, name: after.name, radio, problem }];
    });
  });
}

/** The refusal of breaches: radio by radio, what is wrong and what to do. */
export const notLawful = (breaches: readonly Breach[]): UpperRoomError =>
  new UpperRoomError('NOT_LAWFUL', {
    errors: breaches.slice(0, 20).map(({ name, radio, problem }) => ({ path: `${name}, ${radio.band} GHz`, message: lawWords(problem) })),
  });
