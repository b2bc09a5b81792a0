import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import type { Contour } from '@/core/fields/contour';
import { measuredSpots } from '@/core/survey/measured';
import type { Sample } from '@/core/survey/receiver';
import type { AccessPoint, Design } from '@/core/design/design';
import type { Band } from '@/core/radio/band';
import { browserPool } from '@/engine/browser';
import { FieldCache } from '@/engine/fieldCache';
import type { LensResult, SceneRadio } from '@/engine/protocol';
import { floorScene, poseOf, type FloorScene } from '@/engine/scene';
import { contourLevels, LENS_INFO } from './lenses';
import { wordsOf } from './notices';
import type { Place } from './selectors';
import type { Session } from './sessionStore';

/** A radio of the map, in the order of the result's indices. */
export type MapRadio = Readonly<{ ap: AccessPoint; band: Band }>;

/** The newest map, with what it was computed for. Contours follow a moment later. */
export type MapResult = LensResult &
  Readonly<{
    scene: FloorScene;
    radios: readonly MapRadio[];
    lens: Session['lens'];
    band: Band;
    threshold: number;
    elapsedMs: number;
    contours: readonly Contour[] | null;
    computedFields: number;
  }>;

export const useMap = create<{ map: MapResult | null; busy: boolean; error: string | null }>()(() => ({ map: null, busy: false, error: null }));

let cache: FieldCache | null = null;
export const fieldCache = (): FieldCache => (cache ??= new FieldCache(browserPool()));

/** Below every value of every lens: the contour that bounds where there is a value at all. */
export const ANY_VALUE_LEVEL = -200;

export const CURVE_LEVELS = { from: -95, to: -30, step: 1 } as const;

type Inputs = {
  design: Design;
  place: Place;
  session: Pick<Session, 'lens' | 'band' | 'rank' | 'heardApId' | 'ignoreBelowDbm' | 'thresholds' | 'source' | 'reachM'>;
  samples: readonly Sample[]; /** The access point being dragged, when it is one alone. */
  movingApId: string | null;
  dragging: boolean;
};

/** Radios that are on in the band, with their loss fields; the one being dragged comes without. */
async function litRadios(
  scene: FloorScene,
  aps: readonly AccessPoint[],
  band: Band,
  movingApId: string | null,
): Promise<Array<SceneRadio & { ap: AccessPoint }>> {
  const lane = band === '2.4' ? 0 : band === '5' ? 1 : 2;
  const found = await Promise.all(
    aps.map(async (ap) => {
      const radio = ap.radios.find((candidate) => candidate.band === band && candidate.on);
      if (radio === undefined) return null;
      const lossDb = ap.id === movingApId ? null : (await fieldCache().get(scene, ap.modelId, poseOf(ap)))[lane]!;
      return {
        ap,
        apId: ap.id,
        modelId: ap.modelId,
        pose: poseOf(ap),
        channel: { band, primary: radio.channel, widthMhz: radio.widthMhz },
        txPowerDbm: radio.txPowerDbm,
        lossDb,
      };
    }),
  );
  return found.filter((radio) => radio !== null);
}

async function compute({ design, place, session, samples, dragging, movingApId }: Inputs, isNewest: () => boolean): Promise<void> {
  const started = performance.now();
  const scene = floorScene(design, place.floor);
  const heard = session.heardApId === null ? place.aps : place.aps.filter((ap) => ap.id === session.heardApId);
  const radios = await litRadios(scene, heard, session.band, movingApId);
  const info = LENS_INFO[session.lens];
  const threshold = session.thresholds[session.lens];
  const measured =
    session.source === 'measured' && session.lens === 'signal'
      ? { spots: measuredSpots(samples, session.band, session.heardApId, session.rank), reachM: session.reachM }
      : null;
  const curveLevels: number[] = [];
  const [curveFrom, curveTo] = session.lens === 'signal' ? [CURVE_LEVELS.from, CURVE_LEVELS.to] : [info.from, info.to];
  for (let level = curveFrom; level <= curveTo; level += CURVE_LEVELS.step) curveLevels.push(level);
  const result = await browserPool().call('lens', {
    scene: bare(scene),
    mask: scene.mask,
    lens: session.lens,
    rank: session.rank,
    ignoreBelowDbm: session.ignoreBelowDbm,
    measured,
    threshold,
    sense: info.sense,
    movingApId,
    fromValue: info.from,
    toValue: info.to,
    bins: info.bins,
    curveLevels,
    radios: radios.map(({ ap: _ap, ...radio }) => radio),
  });
  const elapsedMs = performance.now() - started;
  const map: MapResult = {
    ...result,
    scene,
    radios: radios.map(({ ap }) => ({ ap, band: session.band })),
    lens: session.lens,
    band: session.band,
    threshold,
    elapsedMs,
    contours: null,
    computedFields: radios.length,
  };
  useMap.setState({ map, error: null });
  // While something is dragged the next frame matters more than the contours of this one.
  if (dragging || !isNewest()) return;
  const contours = await browserPool().call('contours', {
    grid: scene.grid,
    values: result.values,
    levels: [...(measured ? [ANY_VALUE_LEVEL] : []), ...contourLevels(session.lens, threshold)],
  });
  if (isNewest()) useMap.setState({ map: { ...map, contours } });
}

/** The scene without what only the page needs, so that messages stay small. */
const bare = ({ key, panes, grid, exponent, clientHeightM }: FloorScene) => ({ key, panes, grid, exponent, clientHeightM });

/**
 * Keeps the map up to date: whenever an input changes, the newest inputs are computed as soon as the engine is free.
 * Nothing stale is waited for: inputs that were overtaken are never started.
 */
export function useLens(inputs: Inputs | null): void {
  const newest = useRef<Inputs | null>(null);
  const running = useRef(false);
  useEffect(() => {
    newest.current = inputs;
    if (inputs === null || running.current) return;
    const loop = async () => {
      running.current = true;
      useMap.setState({ busy: true });
      for (let done: Inputs | null = null; newest.current !== null && newest.current !== done;) {
        const current: Inputs = newest.current;
        done = current;
        try {
          await compute(current, () => newest.current === current);
        } catch (error) {
          if (!(error instanceof UpperRoomError)) throw error;
          useMap.setState({ map: null, error: wordsOf(error) });
        }
      }
      running.current = false;
      useMap.setState({ busy: false });
    };
    void loop();
  }, [inputs]);
}
