import { BANDS, bandIndex, type Band } from '@/core/radio/band';
import { modelKey, radioModelOf } from '@/core/radio/catalogue';
import { centresOf, middlePowerDbm, pathMhz } from '@/core/radio/channel';
import { lossBetween, type BetweenLoss } from '@/core/fields/between';
import { mergeRadio, topThree, type LitRadio, type TopThree } from '@/core/fields/combine';
import { contoursOf } from '@/core/fields/contour';
import { differenceInto, differenceStatistics, kindDifferenceInto } from '@/core/fields/difference';
import { lensCurve } from '@/core/fields/lens';
import { lensOf, type Lens } from '@/core/fields/lenses';
import { owedShares } from '@/core/fields/owed';
import { lossFieldInto } from '@/core/fields/lossField';
import { servedBy, shareMeeting, statisticsOf, valuedOf } from '@/core/fields/statistics';
import { assignTints, touchingOf } from '@/core/fields/tints';
import { measuredInto, type SurveyedRadio } from '@/core/survey/fit/shown';
import { antennasOf, floats, outlinesFor, planeOf, stationsOf, type Handler } from './derived';
import { bandParts, shownBy, type BandPart, type Shown } from './shownBy';
import type { LensResult, Params, Result, Scene, SceneRadio, SurveyedMap } from './protocol';

/** The newest losses between access points, by band: while one is dragged only its own are computed. */
const newestBetween = new Map<Band, BetweenLoss>();

/** Level of each radio at each other radio's antenna, in dBm: rows are listeners. All radios are of one band. */
export function levelsAt(scene: Scene, radios: readonly SceneRadio[]): Float32Array {
  const n = radios.length;
  const levels = new Float32Array(n * n);
  if (n === 0) return levels;
  const { band } = radios[0]!.channel;
  const between = lossBetween(outlinesFor(scene).medium, stationsOf(radios), band, newestBetween.get(band) ?? null);
  newestBetween.set(band, between);
  const { lossDb } = between;
  for (let listener = 0; listener < n; listener++)
    for (let sender = 0; sender < n; sender++) levels[listener * n + sender] = middlePowerDbm(radios[sender]!) - lossDb[sender * n + listener]!;
  return levels;
}

/** What combining gave last, by band, and the key of what it was made of: all radios, or all but the one that moves. */
const standing = new Map<Band | undefined, { key: string; top: TopThree }>();

/** Everything the combined levels of these radios depend on. */
function keyOf(scene: Scene, radios: readonly SceneRadio[], without: number): string {
  return [
    scene.key,
    without,
    ...radios.map((radio, i) => {
      const { model, pose, channel } = radio;
      return i === without
        ? 'moving'
        : [modelKey(model), pose.xM, pose.yM, pose.zM, pose.azimuthDeg, pose.tiltDeg, channel.band, pathMhz(channel), middlePowerDbm(radio)].join();
    }),
  ].join('|');
}

/**
 * The strongest three at every cell. They are kept: another lens, rank or limit combines nothing again. While one radio moves, the others
 * are combined once and the moving one merged into a copy: one pass a frame instead of one a radio. (Of exactly equal levels the standing
 * radio then keeps its place.)
 */
function combined(scene: Scene, { radios, lit }: BandPart, movingApId: string | null, cells: number): TopThree {
  const movingAt = movingApId === null ? -1 : radios.findIndex((radio) => radio.apId === movingApId);
  const key = keyOf(scene, radios, movingAt);
  const band = radios[0]?.channel.band;
  let stand = standing.get(band);
  if (stand?.key !== key) {
    // Without power the one that moves is in no cell.
    stand = { key, top: topThree(movingAt < 0 ? lit : lit.with(movingAt, { ...lit[movingAt]!, txPowerDbm: -Infinity }), cells) };
    standing.set(band, stand);
  }
  if (movingAt < 0) return stand.top;
  const top: TopThree = { cells, level: stand.top.level.slice(), radio: stand.top.radio.slice() };
  mergeRadio(top, lit[movingAt]!, movingAt);
  return top;
}

/** The loss field of one radio's band alone, at its channel. */
export function bandLoss(scene: Scene, { model, pose, channel }: Pick<SceneRadio, 'model' | 'pose' | 'channel'>): Float32Array {
  const lane = bandIndex(channel.band);
  const cells = scene.grid.cols * scene.grid.rows;
  const only = antennasOf(model).map((antenna, i) => (i === lane ? antenna : null));
  const outs = BANDS.map(() => new Float32Array(cells));
  lossFieldInto(outlinesFor(scene), { pose, antennas: only, centresMhz: centresOf([channel]) }, planeOf(scene), outs);
  return outs[lane]!;
}

/** Kinds of area with their tints and areas; `values` hold indices into them. */
function kindAreas(
  { kindsOf }: Lens,
  lit: readonly LitRadio[],
  values: Float32Array,
  { scene, mask, palette, keptTints }: Params<'lens'>,
): LensResult['kinds'] {
  if (kindsOf === null) return [];
  const kinds = kindsOf(lit);
  const kept = kinds.map(({ id }) => (Object.hasOwn(keptTints, id) ? keptTints[id]! : null));
  const tints = assignTints(touchingOf(values, scene.grid.cols, kinds.length), kinds.length, palette, kept);
  const cells = new Float64Array(kinds.length);
  for (let i = 0; i < values.length; i++) if (mask[i] === 1 && values[i]! >= 0) cells[values[i]!]!++;
  return kinds.map((kind, i) => ({ ...kind, tint: tints[i]!, areaM2: cells[i]! * scene.grid.cellM ** 2 }));
}

/** The share of a mask that meets the threshold; null for lenses that have none. */
const shareOf = ({ threshold: rule }: Lens, values: Float32Array, mask: Uint8Array, threshold: number): number | null =>
  rule === null ? null : shareMeeting(values, mask, threshold, rule.sense);

export const share: Handler<'share'> = ({ lens, values, mask, zones, threshold }) => {
  const of = (where: Uint8Array): number | null => shareOf(lensOf(lens), values, where, threshold);
  return { all: of(mask) ?? NaN, zones: zones.map(of) };
};

/** The radios with their loss fields; those that came without are computed, and between them the call can be cancelled. */
export function* litBy(scene: Scene, radios: readonly SceneRadio[]): Generator<undefined, LitRadio[], boolean | undefined> {
  const lit: LitRadio[] = [];
  for (const radio of radios) {
    const { apId: key, name, txPowerDbm, channel } = radio;
    const { generation } = radio.model;
    const streams = radioModelOf(radio.model, channel.band)?.streams ?? 1;
    lit.push({ key, name, txPowerDbm, channel, streams, generation, lossDb: radio.lossDb ?? bandLoss(scene, radio) });
    if (radio.lossDb === null) yield;
  }
  return lit;
}

/** Leaves the areas of one kind, where one is asked for. */
function keepOnly(onlyKind: string | null, kinds: readonly Readonly<{ id: string }>[], values: Float32Array): void {
  if (onlyKind === null || kinds.length === 0) return;
  const only = kinds.findIndex(({ id }) => id === onlyKind);
  for (let i = 0; i < values.length; i++) if (values[i] !== only) values[i] = NaN;
}

/** What the lens shows in other cells than the floor's own, finer ones as a rule, with contours: for the eye, and counted nowhere. */
export function* detail(params: Params<'detail'>): Generator<undefined, Result<'detail'>, boolean | undefined> {
  const { scene, onlyKind, levels } = params;
  const shown = lensOf(params.lens);
  const cells = scene.grid.cols * scene.grid.rows;
  const lit = yield* litBy(scene, params.radios);
  const parts = bandParts(params.radios, lit);
  const tops = parts.map((part) => topThree(part.lit, cells));
  const values = floats(cells);
  shownBy({ question: params, lit, mask: new Uint8Array(cells), levelsAt }, parts, tops, null).fill(values);
  yield;
  keepOnly(onlyKind, shown.kindsOf?.(lit) ?? [], values);
  return { values, contours: contoursOf(values, scene.grid, levels) };
}

/** Measured maps with what the model says of the same radios, for what receives without gain: as it was measured. */
const besideModel = (maps: readonly SurveyedMap[], lit: readonly LitRadio[], { receiver }: Scene): SurveyedRadio[] =>
  maps.map((map) => {
    const radio = lit.find(({ key }) => key === map.apId);
    if (radio === undefined) return { ...map, predictedDbm: null };
    const atMiddleDbm = middlePowerDbm(radio) - receiver.gainDbi;
    return { ...map, predictedDbm: (cell) => atMiddleDbm - radio.lossDb[cell]! };
  });

/** Whether what was found on a walk is shown: of the rest of the floor nothing is claimed. */
const isWalked = ({ measured, swept }: Params<'lens'>): boolean => measured !== null || (swept ?? null) !== null;

/** Between its stages it can be cancelled: what has been overtaken need not be finished. */
export function* lens(params: Params<'lens'>): Generator<undefined, Result<'lens'>, boolean | undefined> {
  const { scene, mask, radios, ignoreBelowDbm, threshold } = params;
  const shown = lensOf(params.lens);
  const cells = scene.grid.cols * scene.grid.rows;
  const lit = yield* litBy(scene, radios);
  const parts = bandParts(radios, lit);
  const tops = parts.map((part) => combined(scene, part, params.movingApId, cells));
  yield;
  const n = radios.length;
  const met = shown.counts && !isWalked(params) ? new Float64Array(n * n) : null;
  const { top, fill, owed } = shownBy({ question: params, lit, mask, levelsAt }, parts, tops, met);
  const values = floats(cells);
  if (params.swept) values.set(params.swept);
  else if (params.measured)
    measuredInto(
      shown.measured ?? 'level',
      besideModel(params.measured, lit, scene),
      params.rank,
      ignoreBelowDbm,
      values,
      params.measuredThen ?? [],
      params.passDbm,
    );
  else fill(values);
  yield;
  const kinds = kindAreas(shown, lit, values, params);
  keepOnly(params.onlyKind, kinds, values);
  const serving = top.radio.slice(0, cells);
  for (let i = 0; i < cells; i++) if (!(top.level[i]! >= ignoreBelowDbm)) serving[i] = -1;
  const cellAreaM2 = scene.grid.cellM ** 2;
  let sum = 0;
  let count = 0;
  for (let i = 0; i < cells; i++) {
    if (mask[i] === 0 || Number.isNaN(values[i]!)) continue;
    sum += values[i]!;
    count++;
  }
  const { from, to, bins } = shown.scale;
  // Of what was not measured nothing is claimed: shares are of what was.
  const walked = isWalked(params);
  const counted = walked ? valuedOf(values, mask) : mask;
  return {
    values,
    serving,
    statistics: statisticsOf(values, counted, cellAreaM2, from, to, bins),
    wholeM2: mask.reduce((sum, inside) => sum + inside, 0) * cellAreaM2,
    share: shareOf(shown, values, counted, threshold) ?? NaN,
    curve: lensCurve(shown, values, counted),
    kinds,
    served: servedBy(radios.length, serving, top.level, mask, cellAreaM2),
    strongest: shown.without ? top.level.slice(0, cells) : null,
    sharers: met === null ? null : sharersOf(met, serving, values, mask, n),
    mean: count === 0 ? NaN : sum / count,
    zones: zoneShares(shown, params, top, owed, values),
  };
}

/** What of each zone meets the threshold, or, for the lens that asks for service levels, what is owed there. */
function zoneShares(lens: Lens, params: Params<'lens'>, top: TopThree, owed: Shown['owed'], values: Float32Array): LensResult['zones'] {
  const { zones, threshold } = params;
  const walked = isWalked(params);
  const asked = lens.id === 'service' && zones.some(({ level }) => level !== null) ? owed() : null;
  return zones.map(({ id: zoneId, mask, level }) => ({
    zoneId,
    share: shareOf(lens, values, walked ? valuedOf(values, mask) : mask, threshold),
    owed: asked === null || level === null ? null : owedShares({ mask, level }, top, asked),
  }));
}

/** Who shares with whom, from cells counted together. */
function sharersOf(met: Float64Array, serving: Int16Array, values: Float32Array, mask: Uint8Array, n: number): NonNullable<LensResult['sharers']> {
  const cells = new Float64Array(n);
  for (let i = 0; i < serving.length; i++) if (mask[i] === 1 && serving[i]! >= 0 && !Number.isNaN(values[i]!)) cells[serving[i]!]!++;
  return Array.from(cells, (count, s) => {
    const who = Array.from({ length: n }, (_, j) => ({ radio: j, share: count === 0 ? 0 : met[s * n + j]! / count }))
      .filter(({ share }) => share > 0)
      .sort((a, b) => b.share - a.share);
    return { mean: count === 0 ? NaN : who.reduce((sum, { share }) => sum + share, 0), who };
  });
}

export const difference: Handler<'difference'> = ({ lens: id, now, then, mask, threshold }) => {
  const shown = lensOf(id);
  const values = floats(now.values.length);
  if (shown.threshold === null) kindDifferenceInto(now.values, then.values, now.kinds, then.kinds, values);
  else differenceInto(now.values, then.values, shown.threshold, values);
  return { values, statistics: differenceStatistics(shown, now.values, then.values, values, mask, threshold) };
};
