import { modelKey } from '@/core/radio/catalogue';
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import type { Contour } from '@/core/fields/contour';
import { lensCurve } from '@/core/fields/lens';
import { contourLevels, lensOf } from '@/core/fields/lenses';
import { lostWithout, valuedOf } from '@/core/fields/statistics';
import type { Counted } from '@/core/survey/heard';
import { sweptSpots } from '@/core/survey/swept';
import { clientTypesOf, serviceLevelOf, type AccessPoint, type Design } from '@/core/design/design';
import type { Band } from '@/core/radio/band';
import { browserPool } from '@/engine/browser';
import { FieldCache } from '@/engine/fieldCache';
import type { LensQuestion, LensResult, SceneEmitter, SceneRadio } from '@/engine/protocol';
import { litRadios } from '@/engine/litRadios';
import { floorScene, sceneOf, type FloorScene } from '@/engine/scene';
import { KIND_TINTS } from '../theme/tokens';
import { wordsOf } from './notices';
import { bandsAsked, takesBand } from './bandsAsked';
import { apsHeard, measuredOf } from './heardFrom';
import type { Place } from './selectors';
import type { Session } from './sessionStore';
import { forgetLearned, markOf, surveyQuestion, surveyedFor } from './surveyed';
import { asideOf, emittersCounted, sweptAsked } from './sweptAsked';

/** A radio of the map, in the order of the result's indices. */
export type MapRadio = Readonly<{ ap: AccessPoint; band: Band }>;

/** The newest map, with what it was computed for. Contours follow a moment later. */
export type MapResult = LensResult &
  Readonly<{
    /** What the values were made of; a threshold is not in it. */
    key: string;
    scene: FloorScene;
    /** What it answers: the same question may be asked of other cells. */
    question: LensQuestion;
    radios: readonly MapRadio[];
    lens: Session['lens'];
    band: Band;
    /** Whether it is of the band that the client takes at each spot. */
    byClient: boolean;
    /** Whether it shows samples. */
    measured: boolean;
    /** What else is to be said of it: the channel or the kind of signal, what counts as noise; empty where there is nothing. */
    aside: string;
    threshold: number;
    elapsedMs: number;
    contours: readonly Contour[] | null;
    computedFields: number;
  }>;

type MapState = { map: MapResult | null; busy: boolean; error: string | null };
const NO_MAP: MapState = { map: null, busy: false, error: null };
/** The map in view. */
export const useMap = create<MapState>()(() => NO_MAP);
/** The map it is compared with. */
export const useOtherMap = create<MapState>()(() => NO_MAP);
/** When nothing is compared any more. */
export const forgetOtherMap = (): void => useOtherMap.setState(NO_MAP);
type MapStore = typeof useMap;
/** For another project: nothing of the last one's maps is shown in it. */
export function forgetMaps(): void {
  [useMap, useOtherMap].forEach((maps) => maps.setState(NO_MAP));
  forgetLearned();
}

let cache: FieldCache | null = null;
export const fieldCache = (): FieldCache => (cache ??= new FieldCache(browserPool()));

/** Below every value of every lens: the contour that bounds where there is a value at all. */
export const ANY_VALUE_LEVEL = -200;

export type LensInputs = {
  design: Design;
  place: Place;
  session: Pick<
    Session,
    | 'lens'
    | 'band'
    | 'byClient'
    | 'rank'
    | 'heardFrom'
    | 'ignoreBelowDbm'
    | 'thresholds'
    | 'source'
    | 'reachM'
    | 'sweptChannel'
    | 'signalKind'
    | 'countEmitters'
    | 'held'
    | 'onlyKind'
    | 'widthMhz'
    | 'direction'
    | 'clientId'
  >;
  heard: Counted;
  /** The earlier walk that what was measured is held against, and the variant that it walked; null for none. */
  earlier: Readonly<{ place: Place; heard: Counted }> | null;
  /** The access point being dragged, when it is one alone. */
  movingApId: string | null;
  dragging: boolean;
};

/** Everything that the values of a map depend on. */
function keyOf(
  scene: FloorScene,
  radios: readonly SceneRadio[],
  emitters: readonly SceneEmitter[],
  { design, session }: LensInputs,
  walked: string | null,
): string {
  const { lens, rank, widthMhz, direction, ignoreBelowDbm, onlyKind, heardFrom, band, reachM, clientId } = session;
  const rule = takesBand(session) ? clientTypesOf(design)(clientId).bandRule : null;
  return JSON.stringify([
    scene.key,
    scene.maskKey,
    [lens, rank, widthMhz, direction, ignoreBelowDbm, onlyKind, heardFrom, band, rule],
    scene.zones.map(({ zone }) => [zone.id, serviceLevelOf(design, zone)]),
    walked === null ? null : [walked, reachM],
    emitters,
    radios.map(({ apId, name, model, pose, channel, txPowerDbm }) => [apId, name, modelKey(model), pose, channel, txPowerDbm]),
  ]);
}

async function compute(maps: MapStore, inputs: LensInputs, overtaken: AbortSignal): Promise<void> {
  const { design, place, session, heard, earlier, dragging, movingApId } = inputs;
  const started = performance.now();
  const client = clientTypesOf(design)(session.clientId);
  const scene = floorScene(design, place.floor, client);
  // A client that does not know the band hears nobody there.
  const byBand = bandsAsked(session, client).map((band) =>
    litRadios(design, scene, apsHeard(session.heardFrom, design, place.around, band), band, fieldCache(), movingApId),
  );
  const radios = (await Promise.all(byBand)).flat();
  if (overtaken.aborted && !dragging) return;
  const lens = lensOf(session.lens);
  const threshold = session.thresholds[session.lens];
  const asked = session.source === 'measured' && lens.measured !== null ? surveyQuestion(design, place, heard, session.band, session.held) : null;
  const askedThen =
    asked !== null && lens.measured === 'since' && earlier !== null
      ? surveyQuestion(design, earlier.place, earlier.heard, session.band, session.held)
      : null;
  const sweep = session.source === 'measured' ? sweptAsked(session, heard.looks) : null;
  const spots = sweep === null ? [] : sweptSpots(heard.looks, session.band, sweep);
  const measuring = asked !== null || lens.swept !== null;
  const emitters = emittersCounted(design, session, client);
  const key = keyOf(
    scene,
    radios,
    emitters,
    inputs,
    asked !== null
      ? `${asked.key}/${askedThen?.key ?? ''}/${lens.measured === 'verdict' ? session.thresholds.signal : ''}`
      : lens.swept !== null
        ? JSON.stringify([sweep, markOf(heard)])
        : null,
  );
  const last = maps.getState().map;
  let map: MapResult;
  if (last !== null && last.key === key && !dragging) {
    // The same values: only what the threshold decides is new.
    map = last.threshold === threshold ? last : await atThreshold(last, threshold);
  } else {
    const question: LensQuestion = {
      scene: sceneOf(scene),
      lens: session.lens,
      rank: session.rank,
      widthMhz: session.widthMhz,
      direction: session.direction,
      zones: scene.zones.map(({ zone, mask }) => ({ id: zone.id, mask, level: serviceLevelOf(design, zone) })),
      bandRule: takesBand(session) ? client.bandRule : null,
      ignoreBelowDbm: session.ignoreBelowDbm,
      emitters,
      onlyKind: session.onlyKind,
      radios: radios.map(({ ap: _ap, ...radio }) => radio),
    };
    const measuredFrom = measuredOf(session.heardFrom, design, place.around, session.band);
    const [measured, measuredThen] = await Promise.all([
      asked ? surveyedFor(asked, session.reachM) : null,
      askedThen ? surveyedFor(askedThen, session.reachM, 'earlier') : null,
    ]);
    const params = {
      ...question,
      mask: scene.mask,
      palette: KIND_TINTS.light,
      keptTints: dragging && last !== null && last.lens === session.lens ? Object.fromEntries(last.kinds.map(({ id, tint }) => [id, tint])) : {},
      measured: measured?.filter(({ apId }) => measuredFrom === null || measuredFrom.has(apId)) ?? null,
      swept:
        lens.swept === null
          ? null
          : await browserPool().call('sweptMap', { scene: question.scene, band: session.band, spots, reachM: session.reachM }, { priority: 'soon' }),
      passDbm: session.thresholds.signal,
      measuredThen,
      threshold,
      movingApId,
    };
    // A frame of a drag is finished and shown; anything else that is overtaken is given up.
    const result = await browserPool().call('lens', params, { priority: 'now', ...(dragging ? {} : { signal: overtaken }) });
    map = {
      ...result,
      key,
      scene,
      question,
      measured: measuring,
      aside: asideOf(sweep, emitters.length),
      radios: radios.map(({ ap, channel: { band } }) => ({ ap, band })),
      lens: session.lens,
      band: session.band,
      byClient: question.bandRule !== null,
      threshold,
      elapsedMs: performance.now() - started,
      contours: null,
      computedFields: radios.length,
    };
  }
  maps.setState({ map, error: null });
  // While something is dragged the next frame matters more than the contours of this one.
  if (dragging || overtaken.aborted) return;
  const levels = [...(measuring ? [ANY_VALUE_LEVEL] : []), ...contourLevels(lens, threshold)];
  const known = map.contours ?? [];
  const missing = levels.filter((level) => !known.some((contour) => contour.level === level));
  const traced = missing.length === 0 ? [] : await browserPool().call('contours', { grid: scene.grid, values: map.values, levels: missing });
  const contours = levels.map((level) => [...known, ...traced].find((contour) => contour.level === level)!);
  if (!overtaken.aborted) maps.setState({ map: { ...map, contours } });
}

/** The same values by another threshold. */
async function atThreshold(last: MapResult, threshold: number): Promise<MapResult> {
  const { lens, values, scene, zones } = last;
  const counted = (mask: Uint8Array) => (last.measured ? valuedOf(values, mask) : mask);
  const masks = scene.zones.map(({ mask }) => counted(mask));
  const shares = await browserPool().call('share', { lens, values, mask: counted(scene.mask), zones: masks, threshold });
  return { ...last, threshold, share: shares.all, zones: zones.map((zone, i) => ({ ...zone, share: shares.zones[i] ?? null })) };
}

/**
 * Keeps a map up to date: whenever an input changes, the newest inputs are computed as soon as the engine is free.
 * Nothing stale is waited for: inputs that were overtaken are never started, or given up.
 */
export function useLens(inputs: LensInputs | null, maps: MapStore = useMap): void {
  const newest = useRef<LensInputs | null>(null);
  const running = useRef(false);
  const overtaken = useRef(new AbortController());
  useEffect(() => {
    newest.current = inputs;
    overtaken.current.abort();
    if (inputs === null || running.current) return;
    const loop = async () => {
      running.current = true;
      maps.setState({ busy: true });
      for (let done: LensInputs | null = null; newest.current !== null && newest.current !== done;) {
        const current: LensInputs = newest.current;
        done = current;
        try {
          overtaken.current = new AbortController();
          await compute(maps, current, overtaken.current.signal);
        } catch (error) {
          // Whatever failed is said, and the next inputs are computed as ever: one failed call never freezes the map.
          if (!(error instanceof UpperRoomError)) console.error(error);
          const known = error instanceof UpperRoomError ? error : new UpperRoomError('WORKER_FAILED');
          if (known.code !== 'CANCELLED') maps.setState({ map: null, error: wordsOf(known) });
        }
      }
      running.current = false;
      maps.setState({ busy: false });
    };
    void loop();
  }, [inputs, maps]);
}

/** What would be below the threshold if a radio failed, in m2, by access point and band; null for maps that do not show what is left without it. */
export function lostByRadio({ values, serving, strongest, radios, scene, threshold, measured }: MapResult): Map<string, number> | null {
  if (strongest === null || measured) return null;
  const lostM2 = lostWithout(radios.length, serving, strongest, values, scene.mask, threshold, scene.grid.cellM ** 2);
  return new Map(radios.map(({ ap, band }, i) => [`${ap.id}/${band}`, lostM2[i]!]));
}

/** The curve of a map in one of its zones; null where it has no such zone. */
export function curveIn(map: MapResult, zoneId: string): readonly number[] | null {
  const zone = map.scene.zones.find((one) => one.zone.id === zoneId);
  return zone === undefined ? null : lensCurve(lensOf(map.lens), map.values, map.measured ? valuedOf(map.values, zone.mask) : zone.mask);
}
