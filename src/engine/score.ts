import { accessPointsAround } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import { gridOver } from '@/core/geometry/grid';
import { distanceM } from '@/core/geometry/point';
import { BANDS } from '@/core/radio/band';
import { predictorOf } from '@/core/survey/fit/trend';
import { otherChannels } from '@/core/survey/otherChannel';
import { bssidOf, type SiteFault } from '@/core/survey/site';
import type { Score } from '@/contract/site';
import { trueStorey } from './truth';
import type { FoundFault, Params, Result, SurveyQuestion } from './protocol';
import { emittersOf, floorScene, sceneOf } from './scene';
import { faults, located, surveyed } from './survey';

/** Spots of the map that are compared lie so many cells apart; weaker radios are left to nobody. */
const EVERY = 6;
const WEAKEST_DBM = -85;
/** A place told nearer than this to the true one is the place. */
const NEAR_M = 4;
/** Places of no more access points than this are looked for: each takes a second or two. */
const MOST_PLACED = 24;
/** 90 % of a normal lie within so many deviations. */
const NINETY = 1.645;

/** Whether something that was told is a hidden fault. */
function isIt(told: FoundFault, fault: SiteFault): boolean {
  switch (fault.kind) {
    case 'level':
      return told.kind === 'level' && told.apIds.includes(fault.apId) && Math.sign(told.offDb) === Math.sign(fault.offDb);
    case 'elsewhere':
      return told.kind === 'elsewhere' && told.apIds.includes(fault.apId) && distanceM(told, fault) < NEAR_M;
    case 'swapped':
      return told.kind === 'swapped' && fault.apIds.every((id) => told.apIds.includes(id));
    case 'obstacle': {
      if (told.kind !== 'obstacle') return false;
      const [x, y] = [(told.fromM[0] + told.toM[0]) / 2, (told.fromM[1] + told.toM[1]) / 2];
      return distanceM({ xM: x, yM: y }, { xM: (fault.axM + fault.bxM) / 2, yM: (fault.ayM + fault.byM) / 2 }) < NEAR_M;
    }
    case 'no-wall':
      return told.kind === 'wall' && told.wallId === fault.wallId && told.offDb < 0;
    case 'channel':
      return (
        told.kind === 'channel' &&
        told.apId === fault.apId &&
        told.heard.band === fault.band &&
        told.heard.primary === fault.channel &&
        told.heard.widthMhz === fault.widthMhz
      );
    // What is not plugged in is told by the fit, a height by nothing.
    case 'unplugged':
    case 'height':
      return false;
  }
}

/** The access points that a hidden fault is about. */
const apsOf = (fault: SiteFault): readonly string[] => ('apIds' in fault ? fault.apIds : 'apId' in fault ? [fault.apId] : []);

/** How a survey compares with the truth: its map, the places of access points, and what it told of what was hidden. Yields between access points. */
export function* score({ design, site, asked, heard }: Params<'score'>): Generator<undefined, Score, boolean | undefined> {
  const { floorId, variantId, band, reachM } = asked;
  const floor = design.floors[floorId];
  if (floor === undefined) throw new UpperRoomError('RECORD_UNKNOWN', { what: 'floor', table: 'floors', id: floorId });
  const aps = accessPointsAround(design, floorId, variantId);
  const scene = floorScene(design, floor);
  const radios = emittersOf(design, aps, [band], true).map(({ of, ...emitter }) => ({ ...emitter, apId: of.id }));
  const question: SurveyQuestion = { scene: sceneOf(scene), radios, heard, held: [] };
  const { transmitters, level, zM } = trueStorey(design, site, { floorId, variantId });
  const sending = new Map(transmitters.filter(({ channel }) => channel.band === band).map((one) => [one.apId, one]));
  const { maps, summary } = surveyed({ ...question, reachM });
  yield;
  const { cols, rows, cellM, originXM, originYM } = scene.grid;
  let [compared, measured, predicted, held] = [0, 0, 0, 0];
  for (const { apId, levelDbm, sdDb } of maps) {
    const truth = sending.get(apId);
    const radio = radios.find((one) => one.apId === apId)!;
    if (truth === undefined) continue;
    const predictedDbm = predictorOf(scene.medium, radio);
    for (let row = 0; row < rows; row += EVERY)
      for (let col = 0; col < cols; col += EVERY) {
        const cell = row * cols + col;
        if (scene.mask[cell] === 0 || !(levelDbm[cell]! > WEAKEST_DBM)) continue;
        const at = { xM: originXM + col * cellM, yM: originYM + row * cellM, zM };
        // As the receiver reads it: that is what was measured.
        const trueDbm = level(truth, at) + site.receiverOffsetDb;
        compared++;
        measured += (levelDbm[cell]! - trueDbm) ** 2;
        predicted += (predictedDbm(at) - trueDbm) ** 2;
        if (Math.abs(levelDbm[cell]! - trueDbm) <= NINETY * sdDb[cell]!) held++;
      }
    yield;
  }
  // Channels are told band by band; what is hidden is of all.
  const otherBands = emittersOf(
    design,
    aps,
    BANDS.filter((one) => one !== band),
    true,
  ).map(({ of, channel }) => ({ apId: of.id, channel }));
  const told: FoundFault[] = [
    ...(yield* run(faults(question))),
    ...otherChannels(heard.samples, otherBands).map((one) => ({ ...one, apIds: [one.apId] })),
  ];
  const known = new Set(aps.map(({ id }) => id));
  const hidden = (site.faults ?? [])
    .filter((fault) => apsOf(fault).every((id) => known.has(id)))
    .map((fault) => ({
      fault,
      found: fault.kind === 'unplugged' ? summary.unheard.includes(fault.apId) : told.some((one) => isIt(one, fault)),
    }));
  // Another channel that was heard is so, whatever drove it there.
  const falseAlarms = told.filter((one) => one.kind !== 'channel' && !hidden.some(({ fault }) => isIt(one, fault))).length;
  const positions: Score['positions'] = [];
  const grid = gridOver(floor.outline, 1);
  const mask = new Uint8Array(grid.cols * grid.rows).fill(1);
  for (const { apId, pose } of radios) {
    const truth = sending.get(apId);
    if (positions.length === MOST_PLACED) break;
    if (truth === undefined || !maps.some((map) => map.apId === apId)) continue;
    const found = located({ ...question, bssid: bssidOf(apId, band), band, heightM: pose.zM, grid, mask }) as Result<'locate'>;
    positions.push({ apId, designedAwayM: distanceM(pose, truth.pose), foundAwayM: found === null ? null : distanceM(found, truth.pose) });
    yield;
  }
  const mean = (sum: number, root = true): number | null => (compared === 0 ? null : root ? Math.sqrt(sum / compared) : sum / compared);
  return {
    map: { compared, measuredDb: mean(measured), predictedDb: mean(predicted), held: mean(held, false) },
    positions,
    hidden,
    falseAlarms,
  };
}

/** A handler to its end. */
function* run<P, R>(all: Generator<P, R, boolean | undefined>): Generator<undefined, R, boolean | undefined> {
  let step = all.next();
  for (; !step.done; step = all.next()) yield;
  return step.value;
}
