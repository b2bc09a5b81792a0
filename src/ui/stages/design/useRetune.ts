import { useCallback, useRef, useState } from 'react';
import { applySettings, edit, type RadioSetting } from '@/core/design/commands';
import { clientTypesOf, floorsOf, type Design, type Variant } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import type { PlanRules, Setting } from '@/core/planning/problem';
import { bestOf, type RetuneProgress, type RetuneSheet, type SheetRow } from '@/core/planning/retune';
import type { Band } from '@/core/radio/band';
import { outsideNetworks } from '@/core/survey/outside';
import type { Sample } from '@/core/survey/sample';
import { browserPool } from '@/engine/browser';
import type { Params } from '@/engine/protocol';
import { isPlanned, retuneQuestion, type RetuneScope } from '@/engine/retuneQuestion';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import { placeNow, type Place } from '../../state/selectors';
import { showFloor, useSession, type ShownSheet } from '../../state/sessionStore';
import { fieldCache } from '../../state/useLens';

export type RetuneRun =
  | { phase: 'idle' }
  | { phase: 'running'; progress: RetuneProgress | null; course: readonly CoursePoint[]; startedAt: number; stopping: boolean }
  | { phase: 'failed'; message: string };

/** Where a search of one band stood, so many seconds after it was begun. */
export type CoursePoint = Readonly<{ atS: number; best: number; bound: number | null }>;

/** Nobody sees more points than these. */
const MOST_POINTS = 400;

/** The course with one more point; a new band begins anew, and where it gets long every second point is enough. */
function courseWith(course: readonly CoursePoint[], last: RetuneProgress | null, next: RetuneProgress, atS: number): CoursePoint[] {
  const before = last?.band === next.band ? course : [];
  const kept = before.length < MOST_POINTS ? before : before.filter((_, i) => i % 2 === 0);
  return [...kept, { atS, best: next.bestCost, bound: next.bound }];
}

/** The least height at which a sheet can be read. */
const SHEET_PX = 220;

export const rowKey = ({ apId, band }: Pick<SheetRow, 'apId' | 'band'>): string => `${apId}/${band}`;

/** The rows that are taken: all but those left out. */
const takenOf = ({ rows, left }: Pick<ShownSheet, 'rows' | 'left'>): SheetRow[] => rows.filter((row) => !left.includes(rowKey(row)));
const settingsOf = (sheet: Pick<ShownSheet, 'rows' | 'left'>): RadioSetting[] =>
  takenOf(sheet).map(({ apId, band, after }) => ({ apId, band, ...after }));

/** What the sheet would change of the plan as it stands. */
const previewOf = (sheet: ShownSheet) => ({ kind: 'retune' as const, changes: applySettings(useDocument.getState().design, settingsOf(sheet)) });

/** What a retune is asked: bands, rules, which floors or access points, and how it is searched. */
export type RetuneAsk = Readonly<{
  bands: readonly Band[];
  rules: PlanRules;
  scope: 'floor' | 'building' | 'selected';
  countPeople: boolean;
  starts: number;
}>;

/** The access points that are selected, of this place; null where none is. */
export function selectedHere(place: Place): readonly string[] | null {
  const { selection } = useSession.getState();
  if (selection?.table !== 'accessPoints') return null;
  const own = new Set(place.aps.map(({ id }) => id));
  const ids = selection.ids.filter((id) => own.has(id));
  return ids.length === 0 ? null : ids;
}

type Asked = Pick<ShownSheet, 'floorIds' | 'only' | 'variantId' | 'rules' | 'countPeople' | 'starts' | 'outside' | 'outsideFloorId'>;

/** What a sheet's floors are now: those that are gone are left out. */
const scopeOf = (design: Design, { floorIds, only, variantId }: Pick<Asked, 'floorIds' | 'only' | 'variantId'>): RetuneScope => ({
  floors: floorsOf(design).filter(({ id }) => floorIds.includes(id)),
  variantId,
  only: only === null ? null : new Set(only),
});

/** The question of a sheet, with what is settled already. */
async function paramsOf(asked: Asked, bands: readonly Band[], kept: ReadonlyMap<string, Setting>): Promise<Omit<Params<'retune'>, 'seed'>> {
  const { design } = useDocument.getState();
  const scope = scopeOf(design, asked);
  // Its floors may be gone meanwhile.
  if (scope.floors.length === 0) throw new UpperRoomError('NOTHING_TO_PLAN');
  const client = clientTypesOf(design)(useSession.getState().clientId);
  const { rules, countPeople, outside, outsideFloorId } = asked;
  return {
    ...(await retuneQuestion(design, scope, bands, kept, rowKey, fieldCache(), client)),
    rules,
    countPeople,
    outside,
    outsideFloor: Math.max(
      0,
      scope.floors.findIndex(({ id }) => id === outsideFloorId),
    ),
  };
}

/** Searches from several starts, each in a worker of its own as far as there are any, and keeps the best. */
async function fromStarts(
  params: Omit<Params<'retune'>, 'seed'>,
  starts: number,
  options: Readonly<{ signal: AbortSignal; stop: AbortSignal; onProgress: (progress: RetuneProgress) => void }>,
): Promise<RetuneSheet> {
  const latest = new Map<number, RetuneProgress>();
  const seeds = Array.from({ length: starts }, (_, k) => k + 1);
  const runs = seeds.map((seed) =>
    browserPool()
      .call(
        'retune',
        { ...params, seed },
        {
          ...options,
          priority: 'long',
          onProgress: (progress) => {
            latest.set(seed, progress);
            // Told is the best of those that are at the same band.
            const alike = [...latest.values()].filter(({ band }) => band === progress.band);
            options.onProgress({ ...progress, bestCost: Math.min(...alike.map(({ bestCost }) => bestCost)) });
          },
        },
      )
      // One that had not begun when it was stopped has nothing to give.
      .catch((error: unknown) => {
        if (options.stop.aborted && !options.signal.aborted && error instanceof UpperRoomError && error.code === 'CANCELLED') return null;
        throw error;
      }),
  );
  const sheets = (await Promise.all(runs)).filter((sheet) => sheet !== null);
  if (sheets.length === 0) throw new UpperRoomError('CANCELLED');
  return bestOf(sheets);
}

/** Runs a retune in a worker, previews its sheet on the map, applies it as one step. */
export function useRetune(samples: readonly Sample[]) {
  const [state, setState] = useState<RetuneRun>({ phase: 'idle' });
  const stopper = useRef<AbortController | null>(null);
  const ender = useRef<AbortController | null>(null);

  /** `round`: plans round the rows that are ticked on the sheet, and keeps them. */
  const start = useCallback(
    async ({ bands, rules, scope, countPeople, starts }: RetuneAsk, round: boolean) => {
      const { sheet: shown } = useSession.getState();
      const around = round && shown !== null ? shown : null;
      // What is planned round a sheet is planned on the sheet's floor.
      if (around !== null) toSheet(around);
      const place = placeNow();
      if (place === null) return;
      stopper.current?.abort();
      weighing?.abort();
      const controller = new AbortController();
      stopper.current = controller;
      ender.current = new AbortController();
      const kept = new Map(around === null ? [] : takenOf(around).map((row) => [rowKey(row), row.after]));
      const startedAt = performance.now();
      setState({ phase: 'running', progress: null, course: [], startedAt, stopping: false });
      useSession.getState().set({ preview: null, sheet: null });
      const { design } = useDocument.getState();
      const asked: Asked = {
        floorIds: around?.floorIds ?? (scope === 'building' ? floorsOf(design).map(({ id }) => id) : [place.floor.id]),
        only: around !== null ? around.only : scope === 'selected' ? selectedHere(place) : null,
        variantId: place.variant.id,
        rules,
        countPeople,
        starts,
        outside: outsideNetworks(samples),
        outsideFloorId: place.floor.id,
      };
      try {
        const sheet = await fromStarts(await paramsOf(asked, bands, kept), starts, {
          signal: controller.signal,
          stop: ender.current.signal,
          onProgress: (progress) => {
            const atS = (performance.now() - startedAt) / 1000;
            setState((was) => (was.phase === 'running' ? { ...was, progress, course: courseWith(was.course, was.progress, progress, atS) } : was));
          },
        });
        if (controller.signal.aborted) return;
        setState({ phase: 'idle' });
        // Radios that were counted and not planned have no line.
        const planned = scopeOf(design, asked);
        const rows = sheet.rows.filter(({ apId }) => design.accessPoints[apId] !== undefined && isPlanned(planned, design.accessPoints[apId]));
        const fresh: ShownSheet = { ...sheet, ...asked, rows, left: [], rest: null, applied: false };
        useSession.getState().set({
          sheet: fresh,
          preview: previewOf(fresh),
          evidence: 'sheet',
          evidenceOpen: true,
          // Room for the bands' lines and some rows.
          evidencePx: Math.max(SHEET_PX, useSession.getState().evidencePx),
        });
      } catch (error) {
        if (!(error instanceof UpperRoomError)) throw error;
        if (stopper.current === controller) setState(error.code === 'CANCELLED' ? { phase: 'idle' } : { phase: 'failed', message: wordsOf(error) });
      }
    },
    [samples],
  );

  /** Ends the search; the sheet shows the best it had. */
  const stop = useCallback(() => {
    ender.current?.abort();
    setState((was) => (was.phase === 'running' ? { ...was, stopping: true } : was));
  }, []);

  /** Gives it up: nothing of it is shown. */
  const cancel = useCallback(() => {
    stopper.current?.abort();
    setState({ phase: 'idle' });
  }, []);

  return { state, start, stop, cancel };
}

/** Shows a floor that a sheet is about, where another is in view. */
function toSheet({ floorIds }: ShownSheet): void {
  const here = placeNow()?.floor.id;
  if (here !== undefined && !floorIds.includes(here)) showFloor(floorIds[0]!);
}

/** Ticks rows of the sheet, or leaves them out; what comes of those that are ticked alone is worked out anew. */
export function tickRows(keys: readonly string[], taken: boolean): void {
  const { sheet, preview, set } = useSession.getState();
  if (sheet === null || sheet.applied) return;
  const others = sheet.left.filter((key) => !keys.includes(key));
  const next: ShownSheet = { ...sheet, left: taken ? others : [...others, ...keys], rest: null };
  toSheet(next);
  set({ sheet: next, ...(preview?.kind === 'retune' ? { preview: previewOf(next) } : {}) });
  void weigh(next);
}

let weighing: AbortController | null = null;

/** What comes of the rows that are ticked when the others stay as they are: the same figures, with every radio settled. */
async function weigh(sheet: ShownSheet): Promise<void> {
  weighing?.abort();
  if (sheet.left.length === 0) return;
  const mine = (weighing = new AbortController());
  const kept = new Map(sheet.rows.map((row) => [rowKey(row), sheet.left.includes(rowKey(row)) ? row.before : row.after]));
  const bands = sheet.bands.map(({ band }) => band);
  try {
    const rest = await browserPool().call('retune', { ...(await paramsOf(sheet, bands, kept)), seed: 1 }, { signal: mine.signal });
    // Whatever has been ticked, applied or opened meanwhile has another sheet, or none.
    if (useSession.getState().sheet === sheet) useSession.getState().set({ sheet: { ...sheet, rest } });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    if (error.code !== 'CANCELLED') useDocument.getState().setNotice({ code: error.code, details: error.details });
  }
}

/** Applies the ticked rows of the sheet in view as one step, which keeps its rules too. The sheet stays to be read. */
export function applySheet(): void {
  const { sheet, set } = useSession.getState();
  if (sheet === null || sheet.applied) return;
  const { run } = useDocument.getState();
  set({ preview: null });
  const bands = sheet.bands.map((band) => band.band).join(', ');
  const part = sheet.left.length === 0 ? '' : `, ${takenOf(sheet).length} of ${sheet.rows.length} radios`;
  const done = run(`Retune ${bands} GHz${part}`, (design) => [
    ...applySettings(
      design,
      settingsOf(sheet).filter((setting) => Object.hasOwn(design.accessPoints, setting.apId)),
    ),
    // The rules that it was made under stay with the variant, for the next time.
    ...(Object.hasOwn(design.variants, sheet.variantId) ? edit(design, 'variants', sheet.variantId, { retune: savedRules(sheet) }) : []),
  ]);
  if (done) set({ sheet: { ...sheet, applied: true }, retuneOpen: false });
}

/** The rules of a sheet as they are kept. */
export function savedRules(sheet: Pick<ShownSheet, 'rules' | 'bands' | 'floorIds' | 'countPeople' | 'starts'>): NonNullable<Variant['retune']> {
  const { domain: _domain, leastServiceDbm: _least, widthCost: _cost, ...rules } = sheet.rules;
  const { countPeople, starts } = sheet;
  return { bands: sheet.bands.map(({ band }) => band), ...rules, building: sheet.floorIds.length > 1, countPeople, starts };
}

export const discardSheet = (): void => useSession.getState().set({ preview: null, sheet: null, evidence: 'radios' });

/** Shows the plan with the sheet's settings, or as it is today. */
export function previewSheet(on: boolean): void {
  const { sheet, set } = useSession.getState();
  if (sheet !== null) set({ preview: on ? previewOf(sheet) : null });
}
