import { v7 as uuid } from 'uuid';
import { create } from 'zustand';
import { applySettings, defaultRadio, hangAll, type Hanging } from '@/core/design/commands';
import { clientTypesOf, domainOf, floorsOf, modelsOf, variantsOf, type AccessPoint, type Design, type Floor } from '@/core/design/design';
import { removeWhole } from '@/core/design/equipmentCommands';
import { applyChanges, change } from '@/core/design/step';
import { UpperRoomError } from '@/core/errors';
import { IDLE_ROUNDS, type GroupShare } from '@/core/planning/positions/positions';
import type { Positions } from '@/core/planning/positions/proposed';
import { DEFAULT_RULES, type PlanRules } from '@/core/planning/problem';
import type { RetuneSheet } from '@/core/planning/retune';
import { BANDS, type Band, type WidthMhz } from '@/core/radio/band';
import { radioModelOf, type ApModel } from '@/core/radio/catalogue';
import { withinLaw } from '@/core/radio/law';
import { browserPool } from '@/engine/browser';
import { candidatesOn, coarseScene, demandsOn, peopleOn, placedAt, standingIn, wholeFloor } from '@/engine/candidates';
import type { Candidate, Demand, Scene } from '@/engine/protocol';
import { retuneQuestion } from '@/engine/retuneQuestion';
import { floorScene } from '@/engine/scene';
import { useDocument } from '../../../state/documentStore';
import { wordsOf } from '../../../state/notices';
import { placeNow, type Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import { fieldCache } from '../../../state/useLens';
import { metBy } from './met';

/** What people want of the air at one time: devices that each has, Mb/s of each device, and what share of its airtime a radio may spend on it. */
export type CrowdWish = Readonly<{ devicesEach: number; mbpsEach: number; airtimeShare: number }>;

/**
 * What is asked for: models that may hang, by which band and channel width they are judged, at what conducted power; whether what hangs counts; on the floor in
 * view or on all together; whether people are counted; and whether channels and powers are planned as well.
 */
export type Asked = Readonly<{
  modelIds: readonly string[];
  band: Band;
  widthMhz: WidthMhz;
  txPowerDbm: number;
  keep: boolean;
  building: boolean;
  crowd: CrowdWish | null;
  plan: boolean;
}>;

/** One answer of the table of how many: for a level, in a band; null while it is on its way. */
export type HowMany = Readonly<{ band: Band; levelDbm: number; found: Positions | null }>;

/** Channels and powers for what is proposed: of access points that hang only in the sheet as yet. `powersKept`: lower ones would have broken what is owed. */
type Planned = Readonly<{ ids: readonly string[]; sheet: RetuneSheet; powersKept: boolean }>;

/** What is met in a band by which it was not judged. */
export type OtherBand = Readonly<{ band: Band; groups: readonly GroupShare[] }>;

/** Where it is for, what was asked, and how far it has come. `spots` are the candidates that places in `best` point at. */
type Proposal = Readonly<{
  of: Readonly<{ projectId: string; floorIds: readonly string[]; variantId: string }> | null;
  asked: Asked | null;
  phase: 'none' | 'running' | 'planning' | 'done' | 'failed';
  levelsDone: number;
  spots: readonly Hanging[];
  standing: number;
  best: Positions | null;
  planned: Planned | null;
  others: readonly OtherBand[];
  problem: string | null;
  howMany: readonly HowMany[];
  counting: boolean;
}>;
const NOTHING: Proposal = {
  of: null,
  asked: null,
  phase: 'none',
  levelsDone: 0,
  spots: [],
  standing: 0,
  best: null,
  planned: null,
  others: [],
  problem: null,
  howMany: [],
  counting: false,
};
export const useProposal = create<Proposal>()(() => NOTHING);

/** Levels of the table, in dBm, and of which share of the floor. */
export const TABLE_DBM = [-60, -65, -67, -70] as const;
export const TABLE_SHARE = 0.95;

type Run = Readonly<{ cancel: AbortController; stop: AbortController }>;
let running: Run | null = null;

/** Gives up what was proposed, and what is being looked for. */
export function forgetProposal(): void {
  running?.cancel.abort();
  running = null;
  useProposal.setState(NOTHING);
}

/** Ends the search with the best it has. */
export const stopProposal = (): void => running?.stop.abort();

/** A model's radio of a band as it is proposed: at a width and a power, within model and law. */
const radioOf = (place: Place, model: ApModel, { band, widthMhz, txPowerDbm }: Pick<Asked, 'band' | 'widthMhz' | 'txPowerDbm'>) => {
  const domain = domainOf(place.project);
  const radio = withinLaw(domain, model, { ...defaultRadio(model, domain, band, widthMhz), txPowerDbm });
  return { model, txPowerDbm: radio.txPowerDbm, widthMhz: radio.widthMhz };
};

/** A floor of which positions are asked, with the points at which what is owed is looked at and the places where one may hang. */
type AskedFloor = Readonly<{ floor: Floor; scene: Scene; spots: ReturnType<typeof candidatesOn> }>;
type Begun = Readonly<{ mine: Run; projectId: string; design: Design; place: Place; floors: readonly AskedFloor[] }>;

function begin(building: boolean): Begun | null {
  running?.cancel.abort();
  const mine = (running = { cancel: new AbortController(), stop: new AbortController() });
  const { projectId, design } = useDocument.getState();
  const place = placeNow();
  if (projectId === null || place === null) return null;
  const client = clientTypesOf(design)(useSession.getState().clientId);
  const floors = (building ? floorsOf(design) : [place.floor]).map((floor) => ({
    floor,
    scene: coarseScene(floor, floorScene(design, floor, client)),
    spots: candidatesOn(design, floor),
  }));
  return { mine, projectId, design, place, floors };
}

/** Candidates of all floors, and the same as they would be hung. */
function candidatesOf({ floors, design, place }: Begun, asked: Asked): { candidates: Candidate[]; spots: Hanging[] } {
  const models = asked.modelIds.map((id) => radioOf(place, modelsOf(design)(id), asked));
  let firstPlace = 0;
  const candidates = floors.flatMap(({ floor, spots }, scene) => {
    const placed = placedAt(floor, spots, models, asked.band, scene, firstPlace);
    firstPlace += spots.length;
    return placed;
  });
  const spots = candidates.map(({ pose: { xM, yM, azimuthDeg }, model, scene }) => ({
    xM,
    yM,
    azimuthDeg,
    modelId: model.id,
    floorId: floors[scene]!.floor.id,
  }));
  return { candidates, spots };
}

const demandsOf = ({ floors, design }: Begun): Demand[] =>
  floors.flatMap(({ floor, scene }, f) => demandsOn(design, floor, scene, f, floors.length > 1));

/** Whatever a search breaks with is said, unless somebody gave it up. */
function failed(mine: Run, error: unknown, to: Partial<Proposal>): void {
  if (running !== mine) return;
  if (!(error instanceof UpperRoomError)) throw error;
  useProposal.setState({ ...to, problem: wordsOf(error) });
}

/** Whether an access point that hangs is counted, and stays. */
const stays = ({ keep }: Asked, { locked }: Pick<AccessPoint, 'locked'>): boolean => keep || locked;

/** A design without what hangs on some floors and does not stay. */
const withoutOthers = (design: Design, asked: Asked, variantId: string, floorIds: readonly string[]): Design => ({
  ...design,
  accessPoints: Object.fromEntries(
    Object.entries(design.accessPoints).filter(([, ap]) => ap.variantId !== variantId || !floorIds.includes(ap.floorId) || stays(asked, ap)),
  ),
});

/** Looks for the fewest positions that meet what is owed, and plans channels and powers for them where that was asked. */
export async function propose(asked: Asked): Promise<void> {
  const begun = begin(asked.building);
  if (begun === null) return;
  const { mine, projectId, design, place, floors } = begun;
  const { candidates, spots } = candidatesOf(begun, asked);
  const hanging = place.around.filter((ap) => stays(asked, ap) && floors.some(({ floor }) => floor.id === ap.floorId));
  const standing = standingIn(
    design,
    hanging,
    asked.band,
    floors.map(({ floor }) => floor),
  );
  const { crowd } = asked;
  useProposal.setState({
    ...NOTHING,
    of: { projectId, floorIds: floors.map(({ floor }) => floor.id), variantId: place.variant.id },
    asked,
    phase: 'running',
    spots,
    standing: standing.length,
  });
  try {
    const best = await browserPool().call(
      'positions',
      {
        scenes: floors.map(({ scene }) => scene),
        band: asked.band,
        demands: demandsOf(begun),
        candidates,
        standing: standing.map(({ model, pose, txPowerDbm, widthMhz, scene }) => ({ model, pose, txPowerDbm, widthMhz, scene })),
        crowd:
          crowd === null
            ? null
            : {
                people: floors.flatMap(({ floor, scene }, f) => peopleOn(design, floor, scene, f)),
                mbpsEach: crowd.devicesEach * crowd.mbpsEach,
                airtimeShare: crowd.airtimeShare,
              },
        seed: 1,
        idleRounds: IDLE_ROUNDS.thorough,
      },
      {
        signal: mine.cancel.signal,
        stop: mine.stop.signal,
        priority: 'long',
        onProgress: ({ done, best: now }) => running === mine && useProposal.setState({ levelsDone: done, ...(now === null ? {} : { best: now }) }),
      },
    );
    if (running !== mine) return;
    if (best.chosen === null || best.chosen.length === 0) return useProposal.setState({ phase: 'done', best });
    useProposal.setState({ phase: 'planning', best });
    const hung = hungAs(
      begun,
      asked,
      best.chosen.map((j) => spots[j]!),
    );
    const planned = asked.plan ? await planFor(begun, asked, hung) : null;
    const others = await inOtherBands(begun, asked, planned === null ? hung.design : withSettings(hung.design, planned.sheet));
    if (running === mine) useProposal.setState({ phase: 'done', planned, others });
  } catch (error) {
    failed(mine, error, { phase: 'failed' });
  }
}

/** A design in which what is proposed hangs, without what is not counted; and the ids of what is proposed. */
type HungAs = Readonly<{ design: Design; ids: readonly string[] }>;

function hungAs({ design, place, floors }: Begun, asked: Asked, spots: readonly Hanging[]): HungAs {
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

const withSettings = (design: Design, { rows }: RetuneSheet): Design =>
  applyChanges(
    design,
    applySettings(
      design,
      rows.map(({ apId, band, after }) => ({ apId, band, ...after })),
    ),
  );

/** What is met in the other bands that are on in a design. */
async function inOtherBands({ mine, place, floors, ...begun }: Begun, asked: Asked, design: Design): Promise<OtherBand[]> {
  const ids = floors.map(({ floor }) => floor.id);
  const on = Object.values(design.accessPoints).filter((ap) => ap.variantId === place.variant.id && ids.includes(ap.floorId));
  const bands = BANDS.filter((band) => band !== asked.band && on.some(({ radios }) => radios.some((radio) => radio.band === band && radio.on)));
  const demands = demandsOf({ mine, place, floors, ...begun });
  const each = await Promise.all(bands.map((band) => metBy(design, floors, place.variant.id, band, demands, mine.cancel.signal)));
  return each.map(({ groups }, i) => ({ band: bands[i]!, groups }));
}

/** The rules of the variant, or those a retune begins with. */
function rulesOf({ place }: Begun): PlanRules {
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
async function planFor(begun: Begun, asked: Asked, { design: hung, ids }: HungAs): Promise<Planned> {
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

/** Counts how many access points of a model a bare floor needs, by level and band, one after the other. */
export async function countHowMany(modelIds: readonly string[]): Promise<void> {
  const begun = begin(false);
  if (begun === null) return;
  const { mine, projectId, design, place, floors } = begun;
  const { floor, scene } = floors[0]!;
  const models = modelIds.map((id) => modelsOf(design)(id));
  const bands = BANDS.filter((band) => models.some((model) => radioModelOf(model, band) !== null));
  const cells: HowMany[] = bands.flatMap((band) => TABLE_DBM.map((levelDbm) => ({ band, levelDbm, found: null })));
  useProposal.setState({ ...NOTHING, of: { projectId, floorIds: [floor.id], variantId: place.variant.id }, howMany: cells, counting: true });
  try {
    for (const [at, { band, levelDbm }] of cells.entries()) {
      const usual = modelIds
        .filter((id) => radioModelOf(modelsOf(design)(id), band) !== null)
        .map((id) => {
          const { txPowerDbm, widthMhz } = defaultRadio(modelsOf(design)(id), domainOf(place.project), band, 20);
          return { model: modelsOf(design)(id), txPowerDbm, widthMhz };
        });
      const found = await browserPool().call(
        'positions',
        {
          scenes: [scene],
          band,
          demands: [wholeFloor(design, floor, scene, levelDbm, TABLE_SHARE)],
          candidates: placedAt(floor, floors[0]!.spots, usual, band),
          standing: [],
          crowd: null,
          seed: 1,
          idleRounds: IDLE_ROUNDS.quick,
        },
        { signal: mine.cancel.signal, stop: mine.stop.signal, priority: 'long' },
      );
      if (running !== mine) return;
      useProposal.setState(({ howMany }) => ({ howMany: howMany.map((cell, i) => (i === at ? { ...cell, found } : cell)) }));
    }
    useProposal.setState({ counting: false });
  } catch (error) {
    failed(mine, error, { counting: false });
  }
}

/** Whether a proposal is for a floor and variant in view; copies of a project have floors of the same ids. */
export const isFor = ({ of }: Proposal, projectId: string | null, floorId: string, variantId: string): boolean =>
  of !== null && of.projectId === projectId && of.floorIds.includes(floorId) && of.variantId === variantId;

/** The spots of what is proposed. */
export const proposedSpots = ({ best, spots }: Pick<Proposal, 'best' | 'spots'>): readonly Hanging[] => (best?.chosen ?? []).map((j) => spots[j]!);

/** Hangs what is proposed, with the channels and powers planned for it, as one step. @param instead what hangs there and was not counted is taken down in the same step */
export function hangProposed(instead: boolean): void {
  const proposal = useProposal.getState();
  const { of, asked, planned } = proposal;
  const { projectId, design } = useDocument.getState();
  if (of === null || asked === null || of.projectId !== projectId || !of.floorIds.every((id) => Object.hasOwn(design.floors, id))) return;
  if (!variantsOf(design).some(({ id }) => id === of.variantId)) return;
  const spots = proposedSpots(proposal);
  const ids = spots.map((_, k) => planned?.ids[k] ?? uuid());
  const title = `Hang ${spots.length} proposed access ${spots.length === 1 ? 'point' : 'points'}`;
  const done = useDocument.getState().run(title, (now) => {
    const kept = new Set(Object.keys(withoutOthers(now, asked, of.variantId, of.floorIds).accessPoints));
    const gone = instead
      ? removeWhole(
          now,
          'accessPoints',
          Object.keys(now.accessPoints).filter((id) => !kept.has(id)),
        )
      : [];
    const bare = applyChanges(now, gone);
    let next = 0;
    const fresh = applyChanges(
      bare,
      hangAll(bare, { variantId: of.variantId, ...asked }, spots, () => ids[next++]!),
    );
    const settings = (planned?.sheet.rows ?? []).map(({ apId, band, after }) => ({ apId, band, ...after }));
    // Each is hung as it is planned: one change of each record.
    const settled = applyChanges(fresh, applySettings(fresh, settings));
    return [...gone, ...ids.flatMap((id) => change('accessPoints', id, null, settled.accessPoints[id]!))];
  });
  if (!done) return;
  forgetProposal();
  useSession.getState().set({ proposing: false, selection: { table: 'accessPoints', ids } });
}
