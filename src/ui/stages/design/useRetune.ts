import { radioModelOf } from '@/core/radio/catalogue';
import { clientTypesOf, modelsOf } from '@/core/design/design';
import { useCallback, useRef, useState } from 'react';
import { UpperRoomError } from '@/core/errors';
import { applySettings, type RadioSetting } from '@/core/design/commands';
import { BANDS, type Band } from '@/core/radio/band';
import type { PlanRules } from '@/core/planning/problem';
import type { RetuneProgress, RetuneSheet } from '@/core/planning/retune';
import { outsideNetworks } from '@/core/survey/outside';
import type { Sample } from '@/core/survey/sample';
import { browserPool } from '@/engine/browser';
import type { RetuneRadio } from '@/engine/protocol';
import { floorScene, poseOf } from '@/engine/scene';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import { placeNow } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { fieldCache } from '../../state/useLens';

export type RetuneRun =
  | { phase: 'idle' }
  | { phase: 'running'; progress: RetuneProgress | null; startedAt: number; stopping: boolean }
  | { phase: 'failed'; message: string };

/** The least height at which a sheet can be read. */
const SHEET_PX = 220;

const settingsOf = (sheet: RetuneSheet): RadioSetting[] => sheet.rows.map((row) => ({ apId: row.apId, band: row.band, ...row.after }));

/** Runs a retune in a worker, previews its sheet on the map, applies it as one step. */
export function useRetune(samples: readonly Sample[]) {
  const [state, setState] = useState<RetuneRun>({ phase: 'idle' });
  const stopper = useRef<AbortController | null>(null);
  const ender = useRef<AbortController | null>(null);

  const start = useCallback(
    async (bands: readonly Band[], rules: PlanRules) => {
      const place = placeNow();
      if (place === null) return;
      stopper.current?.abort();
      const controller = new AbortController();
      stopper.current = controller;
      ender.current = new AbortController();
      setState({ phase: 'running', progress: null, startedAt: performance.now(), stopping: false });
      useSession.getState().set({ preview: null, sheet: null });
      try {
        const { design } = useDocument.getState();
        const { mask, key, mediumKey, medium, grid, planeZM, receiver } = floorScene(
          design,
          place.floor,
          clientTypesOf(design)(useSession.getState().clientId),
        );
        const scene = { key, mediumKey, medium, grid, planeZM, receiver };
        const radios: RetuneRadio[] = [];
        // Radios of other floors stay as they are, and are counted where they are heard here.
        for (const ap of place.around) {
          const pose = poseOf(design, ap);
          const model = modelsOf(design)(ap.modelId);
          const fields = await fieldCache().get(scene, model, pose);
          for (const { band, on, channel, widthMhz, txPowerDbm, locked, forbidden } of ap.radios) {
            if (!bands.includes(band) || !on || radioModelOf(model, band) === null) continue;
            radios.push({
              apId: ap.id,
              name: ap.name,
              model,
              pose,
              band,
              locked: locked || ap.locked || ap.floorId !== place.floor.id,
              forbidden,
              before: { on, channel, widthMhz, txPowerDbm },
              lossDb: fields[BANDS.indexOf(band)]!,
            });
          }
        }
        const sheet = await browserPool().call(
          'retune',
          { scene, mask, radios, rules, outside: outsideNetworks(samples), seed: 1 },
          {
            signal: controller.signal,
            stop: ender.current.signal,
            priority: 'long',
            onProgress: (progress) => setState((was) => (was.phase === 'running' ? { ...was, progress } : was)),
          },
        );
        if (controller.signal.aborted) return;
        setState({ phase: 'idle' });
        useSession.getState().set({
          sheet: { ...sheet, floorId: place.floor.id },
          preview: { kind: 'retune', changes: applySettings(design, settingsOf(sheet)) },
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

/** Applies the sheet in view as one step. */
export function applySheet(): void {
  const { sheet, set } = useSession.getState();
  if (sheet === null) return;
  const { run } = useDocument.getState();
  set({ preview: null, sheet: null, evidence: 'radios', retuneOpen: false });
  run(`Retune ${sheet.bands.map((band) => band.band).join(', ')} GHz`, (design) =>
    applySettings(
      design,
      settingsOf(sheet).filter((setting) => Object.hasOwn(design.accessPoints, setting.apId)),
    ),
  );
}

export const discardSheet = (): void => useSession.getState().set({ preview: null, sheet: null, evidence: 'radios' });

/** Shows the plan with the sheet's settings, or as it is today. */
export function previewSheet(on: boolean): void {
  const { sheet, set } = useSession.getState();
  if (sheet === null) return;
  set({ preview: on ? { kind: 'retune', changes: applySettings(useDocument.getState().design, settingsOf(sheet)) } : null });
}
