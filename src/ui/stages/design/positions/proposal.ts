import { v7 as uuid } from 'uuid';
import { create } from 'zustand';
import { applySettings, defaultRadio, hangAll, type Hanging } from '@/core/design/commands';
import { clientTypesOf, domainOf, floorsOf, modelsOf, variantsOf } from '@/core/design/design';
import { removeWhole } from '@/core/design/equipmentCommands';
import { applyChanges, change } from '@/core/design/step';
import { UpperRoomError } from '@/core/errors';
import { IDLE_ROUNDS } from '@/core/planning/positions/positions';
import type { Positions } from '@/core/planning/positions/proposed';
import { BANDS, type Band } from '@/core/radio/band';
import { radioModelOf, type ApModel } from '@/core/radio/catalogue';
import { withinLaw } from '@/core/radio/law';
import { browserPool } from '@/engine/browser';
import { candidatesOn, coarseScene, peopleOn, placedAt, standingIn, wholeFloor } from '@/engine/candidates';
import type { Candidate } from '@/engine/protocol';
import { floorScene } from '@/engine/scene';
import { useDocument } from '../../../state/documentStore';
import { wordsOf } from '../../../state/notices';
import { placeNow, type Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import { demandsOf, stays, withoutOthers, type Asked, type Begun, type Run } from './asked';
import { hungAs, inOtherBands, planFor, withSettings, type OtherBand, type Planned } from './planned';

export type { Asked, CrowdWish } from './asked';

/** One answer of the table of how many: for a level, in a band; null while it is on its way. */
export type HowMany = Readonly<{ band: Band; levelDbm: number; found: Positions | null }>;

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

/** Whatever a search breaks with is said, unless somebody gave it up. */
function failed(mine: Run, error: unknown, to: Partial<Proposal>): void {
  if (running !== mine) return;
  if (!(error instanceof UpperRoomError)) throw error;
  useProposal.setState({ ...to, problem: wordsOf(error) });
}

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
