import { BANDS } from '@/core/radio/band';
import { findWalls } from '@/core/finding/findWalls';
import { readDxf } from '@/core/formats/dxf';
import { contoursOf } from '@/core/fields/contour';
import { lossFieldInto } from '@/core/fields/lossField';
import { againstModel } from '@/core/survey/againstModel';
import { nextPlaces } from '@/core/survey/next';
import { planRoute } from '@/core/survey/route';
import { airAt, askAir } from './air';
import { floats, outlinesFor, planeOf, stationOf, type Handler } from './derived';
import { inspect } from './inspect';
import { met, moveAside, positions, thinOut } from './positions';
import { detail, difference, lens, share } from './lensCalls';
import { listenOnSite } from './listen';
import { transferOnSite } from './transfer';
import { retuneOnFloors } from './retune';
import { score } from './score';
import { readBeacons, readSamples, writeCapture } from './surveyFiles';
import { faults, learned, located, measuredMaps, swept } from './survey';
import type { CallName } from './protocol';

const lossField: Handler<'lossField'> = ({ scene, model, pose, channels }) => {
  const lossDb = BANDS.map(() => floats(scene.grid.cols * scene.grid.rows));
  lossFieldInto(outlinesFor(scene), stationOf(model, pose, channels), planeOf(scene), lossDb);
  return { lossDb };
};

const contours: Handler<'contours'> = ({ grid, values, levels }) => contoursOf(values, grid, levels);

const listen: Handler<'listen'> = ({ design, site, stretch }) => listenOnSite(design, site, stretch);

const airAtSpot: Handler<'airAt'> = ({ design, site, where }) => airAt(design, site, where);

const air: Handler<'air'> = ({ spot, asked }) => askAir(spot, asked);

const transfer: Handler<'transfer'> = ({ design, site, asked }) => transferOnSite(design, site, asked);

const against: Handler<'againstModel'> = ({ scene, radios, samples }) => againstModel(outlinesFor(scene).medium, scene.planeZM, radios, samples);

const route: Handler<'route'> = ({ ground, grid, toSee, everyM, start }) => planRoute(ground, grid, toSee, everyM, start);

const next: Handler<'nextPlaces'> = ({ ground, grid, unsure, everyM, start }) => nextPlaces(ground, grid, unsure, everyM, start);

const findWallsHandler: Handler<'findWalls'> = ({ picture, options }) => findWalls(picture, options);

const dxf: Handler<'readDxf'> = ({ text }) => readDxf(text);

export const HANDLERS: { [K in CallName]: Handler<K> } = {
  lossField,
  lens,
  share,
  difference,
  detail,
  contours,
  retune: retuneOnFloors,
  againstModel: against,
  learned,
  measuredMaps,
  sweptMap: swept,
  faults,
  locate: located,
  inspect,
  positions,
  met,
  thinOut,
  moveAside,
  route,
  nextPlaces: next,
  findWalls: findWallsHandler,
  readDxf: dxf,
  readSamples,
  readBeacons,
  writeCapture,
  listen,
  airAt: airAtSpot,
  air,
  transfer,
  score,
};
