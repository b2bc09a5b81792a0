import { useCallback, useRef, useState } from 'react';
import { applySettings, edit, type RadioSetting } from '@/core/design/commands';
import { clientTypesOf, modelsOf } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import type { PlanRules, Setting } from '@/core/planning/problem';
import type { RetuneProgress, SheetRow } from '@/core/planning/retune';
import { BANDS, type Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { outsideNetworks } from '@/core/survey/outside';
import type { Sample } from '@/core/survey/sample';
import { browserPool } from '@/engine/browser';
import type { Params, RetuneRadio } from '@/engine/protocol';
import { floorScene, poseOf, sceneOf } from '@/engine/scene';
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

/** The radios round a floor as planning takes them. Those of other floors stay as they are, and are counted where they are heard here; `kept` is settled already. */
async function problemOf(
  place: Place,
  bands: readonly Band[],
  kept: ReadonlyMap<string, Setting>,
): Promise<Pick<Params<'retune'>, 'scene' | 'mask' | 'radios'>> {
  const { design } = useDocument.getState();
  const floor = floorScene(design, place.floor, clientTypesOf(design)(useSession.getState().clientId));
  const scene = sceneOf(floor);
  const radios: RetuneRadio[] = [];
  for (const ap of place.around) {
    const pose = poseOf(design, ap);
    const model = modelsOf(design)(ap.modelId);
    const fields = await fieldCache().get(scene, model, pose);
    for (const { band, on, channel, widthMhz, txPowerDbm, locked, forbidden } of ap.radios) {
      if (!bands.includes(band) || !on || radioModelOf(model, band) === null) continue;
      const settled = kept.get(rowKey({ apId: ap.id, band }));
      radios.push({
        apId: ap.id,
        name: ap.name,
        model,
        pose,
        band,
        locked: locked || ap.locked || ap.floorId !== place.floor.id,
        forbidden,
        before: { on, channel, widthMhz, txPowerDbm },
        ...(settled === undefined ? {} : { kept: settled }),
        lossDb: fields[BANDS.indexOf(band)]!,
      });
    }
  }
  return { scene, mask: floor.mask, radios };
}

/** Runs a retune in a worker, previews its sheet on the map, applies it as one step. */
export function useRetune(samples: readonly Sample[]) {
  const [state, setState] = useState<RetuneRun>({ phase: 'idle' });
  const stopper = useRef<AbortController | null>(null);
  const ender = useRef<AbortController | null>(null);

  /** `round`: plans round the rows that are ticked on the sheet, and keeps them. */
  const start = useCallback(
    async (bands: readonly Band[], rules: PlanRules, round: boolean) => {
      const { sheet: shown } = useSession.getState();
      // What is planned round a sheet is planned on the sheet's floor.
      if (round && shown !== null) toSheet(shown);
      const place = placeNow();
      if (place === null) return;
      stopper.current?.abort();
      weighing?.abort();
      const controller = new AbortController();
      stopper.current = controller;
      ender.current = new AbortController();
      const kept = new Map(round && shown !== null ? takenOf(shown).map((row) => [rowKey(row), row.after]) : []);
      const startedAt = performance.now();
      setState({ phase: 'running', progress: null, course: [], startedAt, stopping: false });
      useSession.getState().set({ preview: null, sheet: null });
      try {
        const outside = outsideNetworks(samples);
        const sheet = await browserPool().call(
          'retune',
          { ...(await problemOf(place, bands, kept)), rules, outside, seed: 1 },
          {
            signal: controller.signal,
            stop: ender.current.signal,
            priority: 'long',
            onProgress: (progress) => {
              const atS = (performance.now() - startedAt) / 1000;
              setState((was) => (was.phase === 'running' ? { ...was, progress, course: courseWith(was.course, was.progress, progress, atS) } : was));
            },
          },
        );
        if (controller.signal.aborted) return;
        setState({ phase: 'idle' });
        // Radios of other floors were counted and not planned: they have no line.
        const own = new Set(place.aps.map(({ id }) => id));
        const rows = sheet.rows.filter(({ apId }) => own.has(apId));
        const fresh: ShownSheet = { ...sheet, rows, floorId: place.floor.id, variantId: place.variant.id, rules, outside, left: [], rest: null };
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

/** Shows the floor that a sheet is about, where another is in view. */
function toSheet({ floorId }: ShownSheet): void {
  if (placeNow()?.floor.id !== floorId) showFloor(floorId);
}

/** Ticks rows of the sheet, or leaves them out; what comes of those that are ticked alone is worked out anew. */
export function tickRows(keys: readonly string[], taken: boolean): void {
  const { sheet, preview, set } = useSession.getState();
  if (sheet === null) return;
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
  const place = placeNow();
  if (place === null || sheet.left.length === 0) return;
  const mine = (weighing = new AbortController());
  const kept = new Map(sheet.rows.map((row) => [rowKey(row), sheet.left.includes(rowKey(row)) ? row.before : row.after]));
  const bands = sheet.bands.map(({ band }) => band);
  try {
    const params = { ...(await problemOf(place, bands, kept)), rules: sheet.rules, outside: sheet.outside, seed: 1 };
    const rest = await browserPool().call('retune', params, { signal: mine.signal });
    // Whatever has been ticked, applied or opened meanwhile has another sheet, or none.
    if (useSession.getState().sheet === sheet) useSession.getState().set({ sheet: { ...sheet, rest } });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    if (error.code !== 'CANCELLED') useDocument.getState().setNotice({ code: error.code, details: error.details });
  }
}

/** Applies the ticked rows of the sheet in view as one step, which keeps its rules too. */
export function applySheet(): void {
  const { sheet, set } = useSession.getState();
  if (sheet === null) return;
  const { run } = useDocument.getState();
  set({ preview: null, sheet: null, evidence: 'radios', retuneOpen: false });
  const bands = sheet.bands.map((band) => band.band).join(', ');
  const part = sheet.left.length === 0 ? '' : `, ${takenOf(sheet).length} of ${sheet.rows.length} radios`;
  const { domain: _domain, leastServiceDbm: _least, widthCost: _cost, ...rules } = sheet.rules;
  const retune = { bands: sheet.bands.map(({ band }) => band), ...rules };
  run(`Retune ${bands} GHz${part}`, (design) => [
    ...applySettings(
      design,
      settingsOf(sheet).filter((setting) => Object.hasOwn(design.accessPoints, setting.apId)),
    ),
    // The rules that it was made under stay with the variant, for the next time.
    ...(Object.hasOwn(design.variants, sheet.variantId) ? edit(design, 'variants', sheet.variantId, { retune }) : []),
  ]);
}

export const discardSheet = (): void => useSession.getState().set({ preview: null, sheet: null, evidence: 'radios' });

/** Shows the plan with the sheet's settings, or as it is today. */
export function previewSheet(on: boolean): void {
  const { sheet, set } = useSession.getState();
  if (sheet !== null) set({ preview: on ? previewOf(sheet) : null });
}
