import { BANDS } from '@/core/radio/band';
import { lossBetween } from '@/core/fields/between';
import { findWalls } from '@/core/finding/findWalls';
import { readDxf } from '@/core/formats/dxf';
import { contoursOf } from '@/core/fields/contour';
import { lossFieldInto } from '@/core/fields/lossField';
import { cellAt } from '@/core/geometry/grid';
import { cellsOf } from '@/core/planning/choices';
import type { OutsideNetwork, PlanRadio } from '@/core/planning/problem';
import { retune, type LossesAt } from '@/core/planning/retune';
import { channelOf } from '@/core/radio/channel';
import { againstModel } from '@/core/survey/againstModel';
import { floats, outlinesFor, planeOf, stationOf, stationsOf, type Handler } from './derived';
import { inspect } from './inspect';
import { positions } from './positions';
import { bandLoss, detail, difference, lens, share } from './lensCalls';
import { listenOnSite } from './listen';
import { faults, surveyed } from './survey';
import type { CallName, Params, Progress, Result } from './protocol';

const lossField: Handler<'lossField'> = ({ scene, model, pose, channels }) => {
  const lossDb = BANDS.map(() => floats(scene.grid.cols * scene.grid.rows));
  lossFieldInto(outlinesFor(scene), stationOf(model, pose, channels), planeOf(scene), lossDb);
  return { lossDb };
};

const contours: Handler<'contours'> = ({ grid, values, levels }) => contoursOf(values, grid, levels);

const NONE = new Float32Array(0);

/** More demand points than this add time and no insight; they are taken evenly from the service area, fewer where radios are many. */
const MAX_DEMAND_POINTS = 4000;
const MAX_POINTS_TIMES_RADIOS = 300_000;

function* retuneHandler({
  scene,
  mask,
  radios,
  rules,
  outside,
  seed,
}: Params<'retune'>): Generator<Progress<'retune'>, Result<'retune'>, boolean | undefined> {
  const inside: number[] = [];
  for (let i = 0; i < mask.length; i++) if (mask[i] === 1) inside.push(i);
  const stride = Math.max(1, Math.ceil(Math.sqrt(inside.length / Math.min(MAX_DEMAND_POINTS, MAX_POINTS_TIMES_RADIOS / radios.length))));
  const { cols } = scene.grid;
  const demand = inside.filter((i) => Math.floor(i / cols) % stride === 0 && (i % cols) % stride === 0);
  const plan = BANDS.flatMap((band): PlanRadio[] => {
    const own = radios.filter((radio) => radio.band === band);
    const n = own.length;
    const { lossDb } = lossBetween(
      scene.medium,
      own.map(({ model, pose }) => stationOf(model, pose, [])),
      band,
    );
    return own.map(({ pose: _pose, ...radio }, r) => ({
      ...radio,
      lossDb: Float32Array.from(demand, (i) => radio.lossDb[i]!),
      cellLossDb: Float32Array.from(inside, (i) => radio.lossDb[i]!),
      lossToRadioDb: lossDb.slice(r * n, r * n + n),
    }));
  });
  const networks = outside.map(({ rounds, ...network }): OutsideNetwork => {
    const own = radios.filter(({ band }) => band === network.band).map((radio) => ({ ...radio, cellLossDb: radio.lossDb, lossToRadioDb: NONE }));
    const spots = rounds.flatMap(({ xM, yM, levelDbm }) => {
      const at = cellAt(scene.grid, xM, yM);
      return at < 0 ? [] : [{ at, levelDbm }];
    });
    return { ...network, cells: cellsOf(own, spots) };
  });
  const poses = new Map(radios.map(({ apId, pose }) => [apId, pose]));
  const lossesAt: LossesAt = (own, settings) => {
    const onChannels = own.map(({ apId, model, band }, r) => ({ model, pose: poses.get(apId)!, channel: channelOf({ band, ...settings[r]! }) }));
    const { lossDb } = lossBetween(scene.medium, stationsOf(onChannels), own[0]!.band);
    return onChannels.map((radio, r) => {
      const field = bandLoss(scene, radio);
      return { cellLossDb: Float32Array.from(inside, (i) => field[i]!), lossToRadioDb: lossDb.slice(r * own.length, (r + 1) * own.length) };
    });
  };
  return yield* retune(plan, rules, networks, seed, lossesAt);
}

const listen: Handler<'listen'> = ({ design, site, stretch }) => listenOnSite(design, site, stretch);

const against: Handler<'againstModel'> = ({ scene, radios, samples }) => againstModel(outlinesFor(scene).medium, scene.planeZM, radios, samples);

const findWallsHandler: Handler<'findWalls'> = ({ picture, options }) => findWalls(picture, options);

const dxf: Handler<'readDxf'> = ({ text }) => readDxf(text);

export const HANDLERS: { [K in CallName]: Handler<K> } = {
  lossField,
  lens,
  share,
  difference,
  detail,
  contours,
  retune: retuneHandler,
  againstModel: against,
  surveyed,
  faults,
  inspect,
  positions,
  findWalls: findWallsHandler,
  readDxf: dxf,
  listen,
};
