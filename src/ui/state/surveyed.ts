import { create } from 'zustand';
import type { Design } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import type { Band } from '@/core/radio/band';
import type { Held } from '@/core/survey/fit/solve';
import type { FitSummary } from '@/core/survey/fit/summary';
import type { Counted } from '@/core/survey/heard';
import { packHeard } from '@/core/survey/packed';
import { browserPool } from '@/engine/browser';
import { mapsInParts } from '@/engine/inParts';
import type { EnginePool } from '@/engine/pool';
import type { FoundFault, Result, SurveyQuestion, SurveyedMap } from '@/engine/protocol';
import { emittersOf, floorScene, sceneOf } from '@/engine/scene';
import { wordsOf } from './notices';
import type { Place } from './selectors';

/** Numbers what was heard, so that a key can name them. */
const heardMarks = new WeakMap<Counted, number>();
let lastMark = 0;
export function markOf(heard: Counted): number {
  const known = heardMarks.get(heard) ?? ++lastMark;
  heardMarks.set(heard, known);
  return known;
}

/** What a walk is asked, and what its answer depends on. Radios that are off in the design now may have been on when it was walked. */
export function surveyQuestion(design: Design, place: Place, heard: Counted, band: Band, held: Held): { question: SurveyQuestion; key: string } {
  const scene = floorScene(design, place.floor);
  const radios = emittersOf(design, place.around, [band], true).map(({ of, ...emitter }) => ({ ...emitter, apId: of.id }));
  return {
    question: { scene: sceneOf(scene), radios, heard, held },
    key: JSON.stringify([scene.key, markOf(heard), radios, held]),
  };
}

type Learned = Readonly<{ key: string | null; summary: FitSummary | null; error: string | null }>;
/** What was learned from the walk in view, in the band in view, by the measured map that is shown. */
export const useLearned = create<Learned>()(() => ({ key: null, summary: null, error: null }));

/** The newest measured maps, of the walk in view and of the one that it is held against; and what they were made from, which another reach does not change. */
type Slot = 'now' | 'earlier';
type Newest = Readonly<{ key: string; reachM: number; learned: Promise<Result<'learned'>>; maps: Promise<readonly SurveyedMap[]> }>;
const newest: Record<Slot, Newest | null> = { now: null, earlier: null };

/** The measured maps of a walk's radios; made once for the same question and reach. What is learned from the walk in view is told. */
export function surveyedFor(
  { question, key }: ReturnType<typeof surveyQuestion>,
  reachM: number,
  slot: Slot = 'now',
  pool: Pick<EnginePool, 'call' | 'size'> = browserPool(),
): Promise<readonly SurveyedMap[]> {
  const known = newest[slot]?.key === key ? newest[slot] : null;
  if (known?.reachM === reachM) return known.maps;
  const learned = known?.learned ?? pool.call('learned', { ...question, heard: packHeard(question.heard) }, { priority: 'soon' });
  const maps = learned.then((told) => mapsInParts(pool, question, told, reachM));
  const own = (newest[slot] = { key, reachM, learned, maps });
  const tell = (what: Omit<Learned, 'key'>) => slot === 'now' && useLearned.setState({ key, ...what });
  Promise.all([learned, maps]).then(
    ([{ summary }]) => newest[slot] === own && tell({ summary, error: null }),
    (error: unknown) => {
      if (newest[slot] !== own) return;
      newest[slot] = null;
      tell({ summary: null, error: wordsOf(error instanceof UpperRoomError ? error : new UpperRoomError('WORKER_FAILED')) });
    },
  );
  return maps;
}

type FaultsFound = Readonly<{ key: string | null; busy: boolean; found: readonly FoundFault[] | null; error: string | null }>;
export const NOT_LOOKED: FaultsFound = { key: null, busy: false, found: null, error: null };
/** What a walk was found to say of the drawing, for the walk and design it was asked of. */
export const useFaultsFound = create<FaultsFound>()(() => NOT_LOOKED);
let looking: AbortController | null = null;

/** Looks for what is not as drawn; what was looked for before is given up. */
export async function lookForFaults({ question, key }: ReturnType<typeof surveyQuestion>): Promise<void> {
  looking?.abort();
  const own = (looking = new AbortController());
  useFaultsFound.setState({ key, busy: true, found: null, error: null });
  try {
    const found = await browserPool().call('faults', question, { priority: 'long', signal: own.signal });
    if (looking === own) useFaultsFound.setState({ busy: false, found });
  } catch (error) {
    if (looking !== own) return;
    if (!(error instanceof UpperRoomError)) console.error(error);
    const known = error instanceof UpperRoomError ? error : new UpperRoomError('WORKER_FAILED');
    useFaultsFound.setState(known.code === 'CANCELLED' ? NOT_LOOKED : { busy: false, error: wordsOf(known) });
  }
}

/** Ends the looking, if there is any. */
export const stopLooking = (): void => looking?.abort();

/** For another project: nothing that was learned in the last one is shown in it. */
export function forgetLearned(): void {
  looking?.abort();
  looking = null;
  newest.now = newest.earlier = null;
  useLearned.setState({ key: null, summary: null, error: null });
  useFaultsFound.setState(NOT_LOOKED);
}
