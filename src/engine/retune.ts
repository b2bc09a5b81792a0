import { lossBetween } from '@/core/fields/between';
import { cellAt } from '@/core/geometry/grid';
import { cellsOf } from '@/core/planning/choices';
import type { Ground, OutsideNetwork, PlanRadio } from '@/core/planning/problem';
import { retune, type LossesAt } from '@/core/planning/retune';
import type { Station } from '@/core/propagation/station';
import { BANDS, type Band } from '@/core/radio/band';
import { channelOf } from '@/core/radio/channel';
import { stationOf, stationsOf } from './derived';
import { bandLoss } from './lensCalls';
import type { Params, Progress, Result, RetuneFloor, RetuneRadio } from './protocol';

const NONE = new Float32Array(0);

/** More demand points than this add time and no insight; they are taken evenly from the service area, fewer where radios are many. */
const MAX_DEMAND_POINTS = 4000;
const MAX_POINTS_TIMES_RADIOS = 300_000;
/** Where nobody is expected there is somebody now and then: so much of the mean of all. */
const EMPTY_SHARE = 0.1;
/** What points count of the area is kept in whole numbers of this part of the mean. */
const WEIGHT_UNIT = 100;

/** The cells where service is owed. */
const ownCells = ({ mask }: RetuneFloor): number[] => Array.from(mask.keys()).filter((i) => mask[i] === 1);

/** Demand points of a floor, evenly over its service area. */
function evenly(floor: RetuneFloor, inside: readonly number[], most: number): number[] {
  const stride = Math.max(1, Math.ceil(Math.sqrt(inside.length / most)));
  const { cols } = floor.scene.grid;
  return inside.filter((i) => Math.floor(i / cols) % stride === 0 && (i % cols) % stride === 0);
}

/** How many people are expected at each cell where service is owed, or a little where nobody is. */
function crowdAt({ mask, people }: RetuneFloor): Float64Array {
  const crowd = new Float64Array(mask.length);
  for (const zone of people) {
    const cells = zone.mask.reduce((sum, inside) => sum + inside, 0);
    for (let i = 0; i < mask.length; i++) if (zone.mask[i] === 1 && mask[i] === 1) crowd[i]! += zone.count / cells;
  }
  return crowd;
}

/**
 * Demand points of all floors, and what they count of the area. With people, a point stands for as many of them as any other: so many more where they are
 * dense, and each the less of the area.
 */
function pointsOf(floors: readonly RetuneFloor[], countPeople: boolean, radios: number): { points: number[][]; areaWeight: Int32Array | null } {
  const most = Math.min(MAX_DEMAND_POINTS, MAX_POINTS_TIMES_RADIOS / radios);
  const cells = floors.map(ownCells);
  const all = cells.reduce((sum, list) => sum + list.length, 0);
  const crowds = floors.map(crowdAt);
  const people = crowds.reduce((sum, crowd) => sum + crowd.reduce((more, one) => more + one, 0), 0);
  if (!countPeople || people === 0)
    return { points: floors.map((floor, f) => evenly(floor, cells[f]!, (most * cells[f]!.length) / all)), areaWeight: null };
  const least = (EMPTY_SHARE * people) / all;
  const weightAt = (f: number, i: number): number => Math.max(least, crowds[f]![i]!);
  const whole = cells.reduce((sum, list, f) => sum + list.reduce((more, i) => more + weightAt(f, i), 0), 0);
  const each = whole / Math.min(most, all);
  const weights: number[] = [];
  const points = cells.map((list, f) => {
    const chosen: number[] = [];
    let [sum, next] = [0, each / 2];
    for (const i of list) {
      const weight = weightAt(f, i);
      sum += weight;
      for (; sum >= next; next += each) {
        chosen.push(i);
        weights.push(Math.max(1, Math.round((WEIGHT_UNIT * (whole / all)) / weight)));
      }
    }
    return chosen;
  });
  return { points, areaWeight: Int32Array.from(weights) };
}

/** Loss from each to each at its antenna, in dB, through the medium of the floor of the one that hears; those of other floors hear through the first one's. */
function lossesBetween(floors: readonly RetuneFloor[], stations: readonly Station[], homes: readonly number[], band: Band): Float32Array[] {
  const n = stations.length;
  const known = new Map<string, Float32Array>();
  const through = (floor: number): Float32Array => {
    const { medium } = floors[Math.max(0, floor)]!.scene;
    // Floors differ by their environment alone.
    const key = JSON.stringify(medium.propagation);
    const lossDb = known.get(key) ?? lossBetween(medium, stations, band).lossDb;
    known.set(key, lossDb);
    return lossDb;
  };
  return stations.map((_, i) => Float32Array.from(homes, (home, j) => through(home)[i * n + j]!));
}

/** Plans the radios of some floors together: what they do on each, and to each other through the slabs. */
export function* retuneOnFloors({
  floors,
  radios,
  rules,
  countPeople,
  outside,
  outsideFloor,
  seed,
}: Params<'retune'>): Generator<Progress<'retune'>, Result<'retune'>, boolean | undefined> {
  const { points, areaWeight } = pointsOf(floors, countPeople, Math.max(1, radios.length));
  const cells = floors.map(ownCells);
  const picked = (from: (floor: number) => Float32Array, lists: readonly (readonly number[])[]): Float32Array => {
    const all = new Float32Array(lists.reduce((sum, list) => sum + list.length, 0));
    let at = 0;
    lists.forEach((list, f) => {
      const values = from(f);
      for (const i of list) all[at++] = values[i]!;
    });
    return all;
  };
  const plan = BANDS.flatMap((band): PlanRadio[] => {
    const own = radios.filter((radio) => radio.band === band);
    const between = lossesBetween(
      floors,
      own.map(({ model, pose }) => stationOf(model, pose, [])),
      own.map(({ home }) => home),
      band,
    );
    return own.map(({ pose: _pose, home: _home, lossDb, ...radio }, r) => ({
      ...radio,
      lossDb: picked((f) => lossDb[f]!, points),
      cellLossDb: picked((f) => lossDb[f]!, cells),
      lossToRadioDb: between[r]!,
    }));
  });
  const ground: Ground = { floors: floors.map(({ name }, f) => ({ name, points: points[f]!.length, cells: cells[f]!.length })), areaWeight };
  const networks = outside.map(({ rounds, ...network }): OutsideNetwork => {
    const own = radios
      .filter(({ band }) => band === network.band)
      .map((radio) => ({ ...radio, lossDb: radio.lossDb[outsideFloor]!, cellLossDb: NONE, lossToRadioDb: NONE }));
    const spots = rounds.flatMap(({ xM, yM, levelDbm }) => {
      const at = cellAt(floors[outsideFloor]!.scene.grid, xM, yM);
      return at < 0 ? [] : [{ at, levelDbm }];
    });
    return { ...network, cells: cellsOf(own, spots) };
  });
  const places = new Map(radios.map((radio): [string, Pick<RetuneRadio, 'pose' | 'home'>] => [radio.apId, radio]));
  const lossesAt: LossesAt = (own, settings) => {
    const onChannels = own.map(({ apId, model, band }, r) => ({
      model,
      pose: places.get(apId)!.pose,
      channel: channelOf({ band, ...settings[r]! }),
    }));
    const homes = own.map(({ apId }) => places.get(apId)!.home);
    const between = lossesBetween(floors, stationsOf(onChannels), homes, own[0]!.band);
    return onChannels.map((radio, r) => ({ cellLossDb: picked((f) => bandLoss(floors[f]!.scene, radio), cells), lossToRadioDb: between[r]! }));
  };
  return yield* retune(plan, rules, networks, seed, lossesAt, ground);
}
