import { domainOf, clientTypesOf, modelsOf } from '@/core/design/design';
import { v7 as uuid } from 'uuid';
import { create } from 'zustand';
import { defaultRadios, hangAll } from '@/core/design/commands';
import { UpperRoomError } from '@/core/errors';
import type { PointM } from '@/core/geometry/point';
import { IDLE_ROUNDS, type Positions } from '@/core/planning/positions/positions';
import { BANDS, type Band } from '@/core/radio/band';
import { radioModelOf, type ApModel } from '@/core/radio/catalogue';
import type { Domain } from '@/core/radio/regulation';
import { browserPool } from '@/engine/browser';
import { candidatesOn, coarseScene, groupsOn, placedAt, standingIn, wholeFloor } from '@/engine/candidates';
import { floorScene } from '@/engine/scene';
import { useDocument } from '../../../state/documentStore';
import { wordsOf } from '../../../state/notices';
import { placeNow } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';

/** What is asked for: the model that is to hang, by which band, at what conducted power, and whether what hangs counts. */
export type Asked = Readonly<{ modelId: string; band: Band; txPowerDbm: number; keep: boolean }>;

/** One answer of the table of how many: for a level, in a band; null while it is on its way. */
export type HowMany = Readonly<{ band: Band; levelDbm: number; found: Positions | null }>;

/** Where it is for, what was asked, and how far it has come. `spots` are the candidates that places in `best` point at. */
type Proposal = Readonly<{
  of: Readonly<{ projectId: string; floorId: string; variantId: string }> | null;
  asked: Asked | null;
  phase: 'none' | 'running' | 'done' | 'failed';
  levelsDone: number;
  spots: readonly PointM[];
  standing: number;
  best: Positions | null;
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
  problem: null,
  howMany: [],
  counting: false,
};
export const useProposal = create<Proposal>()(() => NOTHING);

/** Levels of the table, in dBm, and of which share of the floor. */
export const TABLE_DBM = [-60, -65, -67, -70] as const;
export const TABLE_SHARE = 0.95;

let running: { cancel: AbortController; stop: AbortController } | null = null;

/** Gives up what was proposed, and what is being looked for. */
export function forgetProposal(): void {
  running?.cancel.abort();
  running = null;
  useProposal.setState(NOTHING);
}

/** Ends the search with the best it has. */
export const stopProposal = (): void => running?.stop.abort();

/** A model's power to begin with in a band: as it is hung by hand, within the law. */
export const usualPowerDbm = (domain: Domain, model: ApModel, band: Band): number =>
  defaultRadios(model, domain).find((radio) => radio.band === band)?.txPowerDbm ?? 0;

function begin() {
  running?.cancel.abort();
  const mine = (running = { cancel: new AbortController(), stop: new AbortController() });
  const { projectId, design } = useDocument.getState();
  const place = placeNow();
  if (projectId === null || place === null) return null;
  const fine = floorScene(design, place.floor, clientTypesOf(design)(useSession.getState().clientId));
  return { mine, projectId, design, place, scene: coarseScene(place.floor, fine), spots: candidatesOn(design, place.floor) };
}

/** Looks for the fewest positions that meet what is owed on the floor in view. */
export async function propose(asked: Asked): Promise<void> {
  const begun = begin();
  if (begun === null) return;
  const { mine, projectId, design, place, scene, spots } = begun;
  const { floor, variant } = place;
  const groups = groupsOn(design, floor, scene);
  const standing = asked.keep ? standingIn(design, place.aps, asked.band) : [];
  useProposal.setState({
    ...NOTHING,
    of: { projectId, floorId: floor.id, variantId: variant.id },
    asked,
    phase: 'running',
    spots,
    standing: standing.length,
  });
  try {
    const best = await browserPool().call(
      'positions',
      {
        scene,
        band: asked.band,
        candidates: placedAt(floor, spots, modelsOf(design)(asked.modelId), asked.txPowerDbm),
        standing,
        groups,
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
    if (running === mine) useProposal.setState({ phase: 'done', best });
  } catch (error) {
    if (running !== mine) return;
    if (!(error instanceof UpperRoomError)) throw error;
    useProposal.setState({ phase: 'failed', problem: wordsOf(error) });
  }
}

/** Counts how many access points of a model a bare floor needs, by level and band, one after the other. */
export async function countHowMany(asked: Asked): Promise<void> {
  const begun = begin();
  if (begun === null) return;
  const { mine, projectId, design, place, scene, spots } = begun;
  const { floor, variant } = place;
  const model = modelsOf(design)(asked.modelId);
  const bands = BANDS.filter((band) => radioModelOf(model, band) !== null);
  const cells: HowMany[] = bands.flatMap((band) => TABLE_DBM.map((levelDbm) => ({ band, levelDbm, found: null })));
  useProposal.setState({ ...NOTHING, of: { projectId, floorId: floor.id, variantId: variant.id }, asked, howMany: cells, counting: true });
  try {
    for (const [at, { band, levelDbm }] of cells.entries()) {
      const found = await browserPool().call(
        'positions',
        {
          scene,
          band,
          candidates: placedAt(floor, spots, model, usualPowerDbm(domainOf(place.project), model, band)),
          standing: [],
          groups: [wholeFloor(design, floor, scene, levelDbm, TABLE_SHARE)],
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
    if (running !== mine) return;
    if (!(error instanceof UpperRoomError)) throw error;
    useProposal.setState({ counting: false, problem: wordsOf(error) });
  }
}

/** Whether a proposal is for the floor and variant in view; copies of a project have floors of the same ids. */
export const isFor = ({ of }: Proposal, projectId: string | null, floorId: string, variantId: string): boolean =>
  of !== null && of.projectId === projectId && of.floorId === floorId && of.variantId === variantId;

/** The spots of what is proposed. */
export const proposedSpots = ({ best, spots }: Proposal): readonly PointM[] => (best?.chosen ?? []).map((j) => spots[j]!);

/** Hangs what is proposed, as one step. */
export function hangProposed(): void {
  const proposal = useProposal.getState();
  const { of, asked } = proposal;
  const { projectId, design } = useDocument.getState();
  if (of === null || asked === null || of.projectId !== projectId || !Object.hasOwn(design.floors, of.floorId)) return;
  const spots = proposedSpots(proposal);
  const ids: string[] = [];
  const newId = () => ids[ids.push(uuid()) - 1]!;
  const { floorId, variantId } = of;
  const { modelId, band, txPowerDbm } = asked;
  const title = `Hang ${spots.length} proposed access ${spots.length === 1 ? 'point' : 'points'}`;
  const done = useDocument.getState().run(title, (now) => hangAll(now, { floorId, variantId, modelId, band, txPowerDbm }, spots, newId));
  if (!done) return;
  forgetProposal();
  useSession.getState().set({ proposing: false, selection: { table: 'accessPoints', ids } });
}
