import { create } from 'zustand';
import { removeWhole } from '@/core/design/equipmentCommands';
import { edit } from '@/core/design/commands';
import { clientTypesOf, type AccessPoint, type Design } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import type { GroupShare } from '@/core/planning/positions/positions';
import type { Band } from '@/core/radio/band';
import { browserPool } from '@/engine/browser';
import { asideOf, coarseScene, demandsOn } from '@/engine/candidates';
import { floorScene, poseOf } from '@/engine/scene';
import { useDocument } from '../../../state/documentStore';
import { wordsOf } from '../../../state/notices';
import type { Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import { hungOn } from './met';

/** What each access point carries: by how much the share of the demand falls that falls most when it goes, and which that is; null where none falls. */
export type Carried = Readonly<{ apId: string; name: string; lost: number; of: string | null }>;

/** One that is to hang elsewhere. */
export type Move = Readonly<{ apId: string; name: string; xM: number; yM: number; movedM: number }>;

/** What hangs on a floor, judged at the points of what is owed there, in one band. */
export type Judged = Readonly<{
  projectId: string | null;
  design: Design;
  floorId: string;
  variantId: string;
  band: Band;
  groups: readonly GroupShare[];
  carried: readonly Carried[];
}>;

/** An answer to which may go, or which move aside: with what is met then. It is of the design that was asked about. */
export type Answer = Readonly<{ of: Judged; groups: readonly GroupShare[] }> &
  Readonly<{ kind: 'thin'; goes: readonly Carried[] } | { kind: 'aside'; moves: readonly Move[] }>;

type Hung = Readonly<{
  /** As it stands; with what is being dragged; and as it stood before the last change. */
  still: Judged | null;
  shown: Judged | null;
  before: Judged | null;
  answer: Answer | null;
  busy: 'thin' | 'aside' | null;
  problem: string | null;
}>;
const NOTHING: Hung = { still: null, shown: null, before: null, answer: null, busy: null, problem: null };
export const useHung = create<Hung>()(() => NOTHING);

const sameQuestion = (a: Judged | null, b: Judged): boolean =>
  a !== null && a.projectId === b.projectId && a.floorId === b.floorId && a.variantId === b.variantId && a.band === b.band;

let asking: AbortController | null = null;
/** Forgets what was judged and gives up what is being asked: for another project, or when nobody looks. */
export function forgetHung(): void {
  asking?.abort();
  asking = null;
  wanted = null;
  useHung.setState(NOTHING);
}

function questionOf(design: Design, { floor }: Pick<Place, 'floor'>) {
  const client = clientTypesOf(design)(useSession.getState().clientId);
  const scene = coarseScene(floor, floorScene(design, floor, client));
  return { floors: [{ floor, scene }], scenes: [scene], demands: demandsOn(design, floor, scene) };
}

async function judge(design: Design, place: Place, band: Band, movingId: string | null): Promise<Judged> {
  const { projectId } = useDocument.getState();
  const { floors, scenes, demands } = questionOf(design, place);
  const hung = await hungOn(design, floors, place.variant.id, band, movingId);
  const { groups, lost } = await browserPool().call('met', { scenes, band, demands, hung: hung.map(({ radio }) => radio) }, { priority: 'now' });
  const carried = hung.flatMap(({ ap }, j): Carried[] => {
    if (ap.floorId !== place.floor.id) return [];
    const most = lost[j]!.reduce((worst, one, g) => (one > lost[j]![worst]! ? g : worst), 0);
    const fall = lost[j]![most] ?? 0;
    return [{ apId: ap.id, name: ap.name, lost: fall, of: fall > 1e-9 ? `${demands[most]!.name}, ${demands[most]!.zone}` : null }];
  });
  return { projectId, design, floorId: place.floor.id, variantId: place.variant.id, band, groups, carried };
}

/** `trial`: it is only being tried out, by a drag or a sheet; `movingId`: the one access point that is dragged alone. */
type Wanted = Readonly<{ design: Design; place: Place; band: Band; trial: boolean; movingId: string | null }>;
let wanted: Wanted | null = null;
let judging = false;

/** Judges what is in view, the newest only: while something is dragged, as fast as answers come. */
export async function keepJudged(next: Wanted): Promise<void> {
  wanted = next;
  if (judging) return;
  judging = true;
  try {
    while (wanted !== null) {
      const { design, place, band, trial, movingId }: Wanted = wanted;
      wanted = null;
      const judged = await judge(design, place, band, movingId);
      const { still } = useHung.getState();
      if (!sameQuestion(still, judged)) useHung.setState({ ...NOTHING, still: judged, shown: judged });
      else if (trial) useHung.setState({ shown: judged, problem: null });
      else if (still!.design === judged.design) useHung.setState({ shown: judged });
      else useHung.setState({ still: judged, shown: judged, problem: null, before: differs(still!, judged) ? still : useHung.getState().before });
    }
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    useHung.setState({ problem: wordsOf(error) });
  } finally {
    judging = false;
  }
}

const differs = (a: Judged, b: Judged): boolean =>
  a.groups.length !== b.groups.length ||
  a.groups.some(
    ({ zone, name, share }, g) => zone !== b.groups[g]!.zone || name !== b.groups[g]!.name || Math.abs(share - b.groups[g]!.share) > 1e-9,
  );

async function answerOf(what: 'thin' | 'aside', ask: (signal: AbortSignal) => Promise<Answer | null>): Promise<void> {
  asking?.abort();
  const mine = (asking = new AbortController());
  useHung.setState({ busy: what, answer: null, problem: null });
  try {
    const answer = await ask(mine.signal);
    if (asking === mine) useHung.setState({ busy: null, answer });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    if (asking === mine) useHung.setState({ busy: null, problem: error.code === 'CANCELLED' ? null : wordsOf(error) });
  }
}

/** Which of those that hang on the floor in view can go together. */
export const askThinOut = (place: Place): Promise<void> =>
  answerOf('thin', async (signal) => {
    const { still } = useHung.getState();
    if (still === null) return null;
    const { design, band } = still;
    const { floors, scenes, demands } = questionOf(design, place);
    const hung = await hungOn(design, floors, place.variant.id, band);
    const { goes, groups } = await browserPool().call(
      'thinOut',
      { scenes, band, demands, hung: hung.map(({ radio }) => radio), seed: 1 },
      { signal, priority: 'long' },
    );
    const gone = goes.map((j) => still.carried.find(({ apId }) => apId === hung[j]!.ap.id)!);
    return { kind: 'thin', of: still, groups, goes: gone };
  });

/** Which of those that hang on the floor in view serve more a little aside. */
export const askAside = (place: Place): Promise<void> =>
  answerOf('aside', async (signal) => {
    const { still } = useHung.getState();
    if (still === null) return null;
    const { design, band } = still;
    const { floors, scenes, demands } = questionOf(design, place);
    const hung = await hungOn(design, floors, place.variant.id, band);
    const aside = hung.flatMap(({ ap, radio: { locked, lossDb: _loss, ...radio } }, of) =>
      locked ? [] : asideOf(design, place.floor, ap).map(({ xM, yM, movedM }) => ({ ...radio, pose: { ...poseOf(design, ap), xM, yM }, of, movedM })),
    );
    const { moves, groups } = await browserPool().call(
      'moveAside',
      { scenes, band, demands, hung: hung.map(({ radio }) => radio), aside },
      { signal, priority: 'long' },
    );
    return {
      kind: 'aside',
      of: still,
      groups,
      moves: moves.map((k) => {
        const { pose, of, movedM } = aside[k]!;
        return { apId: hung[of]!.ap.id, name: hung[of]!.ap.name, xM: pose.xM, yM: pose.yM, movedM };
      }),
    };
  });

/** Takes what was answered as one step; what has gone meanwhile is left out. */
export function takeAnswer(): void {
  const { answer } = useHung.getState();
  if (answer === null) return;
  const standing = (design: Design, { apId }: { apId: string }): AccessPoint | undefined => design.accessPoints[apId];
  const { run } = useDocument.getState();
  const count = answer.kind === 'thin' ? answer.goes.length : answer.moves.length;
  const points = `${count} access ${count === 1 ? 'point' : 'points'}`;
  const done =
    answer.kind === 'thin'
      ? run(`Take down ${points}`, (design) =>
          removeWhole(
            design,
            'accessPoints',
            answer.goes.filter((one) => standing(design, one) !== undefined).map(({ apId }) => apId),
          ),
        )
      : run(`Move ${points} a little`, (design) =>
          answer.moves
            .filter((one) => standing(design, one)?.locked === false)
            .flatMap(({ apId, xM, yM }) => edit(design, 'accessPoints', apId, { xM, yM })),
        );
  if (done) useHung.setState({ answer: null });
}
