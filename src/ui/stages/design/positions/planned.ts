import { v7 as uuid } from 'uuid';
import { applySettings, hangAll, type Hanging } from '@/core/design/commands';
import { clientTypesOf, domainOf, modelsOf, type Design } from '@/core/design/design';
import { applyChanges } from '@/core/design/step';
import type { GroupShare } from '@/core/planning/positions/positions';
import { DEFAULT_RULES, type PlanRules } from '@/core/planning/problem';
import type { RetuneSheet } from '@/core/planning/retune';
import { BANDS, type Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { browserPool } from '@/engine/browser';
import { retuneQuestion } from '@/engine/retuneQuestion';
import { useSession } from '../../../state/sessionStore';
import { fieldCache } from '../../../state/useLens';
import { demandsOf, withoutOthers, type Asked, type Begun } from './asked';
import { metBy } from './met';

/** Channels and powers for what is proposed: of access points that hang only in the sheet as yet. `powersKept`: lower ones would have broken what is owed. */
export type Planned = Readonly<{ ids: readonly string[]; sheet: RetuneSheet; powersKept: boolean }>;

/** What is met in a band by which it was not judged. */
export type OtherBand = Readonly<{ band: Band; groups: readonly GroupShare[] }>;

/** A design in which what is proposed hangs, without what is not counted; and the ids of what is proposed. */
export type HungAs = Readonly<{ design: Design; ids: readonly string[] }>;

export function hungAs({ design, place, floors }: Begun, asked: Asked, spots: readonly Hanging[]): HungAs {
  const bare = withoutOthers(
    design,
    asked,
    place.variant.id,
    floors.map(({ floor }) => floor.id),
  );
  const ids = spots.map(() => uuid());
  let next = 0;
  const changes = hangAll(bare, { variantId: place.variant.id, ...asked }, spots, () => ids[next++]!);
  return { design: applyChanges(bare, changes), ids };
}

export const withSettings = (design: Design, { rows }: RetuneSheet): Design =>
  applyChanges(
    design,
    applySettings(
      design,
      rows.map(({ apId, band, after }) => ({ apId, band, ...after })),
    ),
  );

/** What is met in the other bands that are on in a design. */
export async function inOtherBands({ mine, place, floors, ...begun }: Begun, asked: Asked, design: Design): Promise<OtherBand[]> {
  const ids = floors.map(({ floor }) => floor.id);
  const on = Object.values(design.accessPoints).filter((ap) => ap.variantId === place.variant.id && ids.includes(ap.floorId));
  const bands = BANDS.filter((band) => band !== asked.band && on.some(({ radios }) => radios.some((radio) => radio.band === band && radio.on)));
  const demands = demandsOf({ mine, place, floors, ...begun });
  const each = await Promise.all(bands.map((band) => metBy(design, floors, place.variant.id, band, demands, mine.cancel.signal)));
  return each.map(({ groups }, i) => ({ band: bands[i]!, groups }));
}

/** The rules of the variant, or those a retune begins with. */
export function rulesOf({ place }: Begun): PlanRules {
  const {
    bands: _bands,
    building: _building,
    countPeople: _people,
    starts: _starts,
    ...kept
  } = place.variant.retune ?? { bands: [], building: false, countPeople: false, starts: 1 };
  const { ignoreBelowDbm, thresholds } = useSession.getState();
  return { ...DEFAULT_RULES, thresholdDbm: thresholds.signal, ...kept, domain: domainOf(place.project), leastServiceDbm: ignoreBelowDbm };
}

/**
 * Channels and powers for access points that are proposed, beside what hangs, which stays as it is. Where lower powers would break what is owed and was found met,
 * powers stay as proposed.
 */
export async function planFor(begun: Begun, asked: Asked, { design: hung, ids }: HungAs): Promise<Planned> {
  const { mine, design, place, floors } = begun;
  const scope = { floors: floors.map(({ floor }) => floor), variantId: place.variant.id, only: new Set(ids) };
  const client = clientTypesOf(design)(useSession.getState().clientId);
  // Only bands that what is proposed has: nothing is planned in others.
  const bands = BANDS.filter((band) => asked.modelIds.some((id) => radioModelOf(modelsOf(design)(id), band) !== null));
  const question = await retuneQuestion(hung, scope, bands, new Map(), ({ apId, band }) => `${apId}/${band}`, fieldCache(), client);
  const rules = rulesOf(begun);
  const plan = async (planPower: boolean): Promise<RetuneSheet> => {
    const sheet = await browserPool().call(
      'retune',
      { ...question, rules: { ...rules, planPower }, countPeople: false, outside: [], outsideFloor: 0, seed: 1 },
      { signal: mine.cancel.signal, stop: mine.stop.signal, priority: 'long' },
    );
    return { ...sheet, rows: sheet.rows.filter(({ apId }) => scope.only.has(apId)) };
  };
  const demands = demandsOf(begun);
  const askedFloors = floors.map(({ floor, scene }) => ({ floor, scene }));
  const isMet = async (of: Design): Promise<boolean[]> => {
    const { groups } = await metBy(of, askedFloors, place.variant.id, asked.band, demands, mine.cancel.signal);
    return groups.map(({ share, owed }) => share >= owed - 1e-9);
  };
  if (rules.planPower) {
    const sheet = await plan(true);
    const [before, after] = [await isMet(hung), await isMet(withSettings(hung, sheet))];
    if (before.every((met, g) => !met || after[g])) return { ids, sheet, powersKept: false };
  }
  return { ids, sheet: await plan(false), powersKept: rules.planPower };
}
