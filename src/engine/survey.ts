import { lossFields } from '@/core/fields/lossField';
import { outlinesOf } from '@/core/fields/outlines';
import { bandIndex, perBand } from '@/core/radio/band';
import { centresOf, middlePowerDbm } from '@/core/radio/channel';
import { faultsOf } from '@/core/survey/fit/faults';
import { fitReadings, type Fit } from '@/core/survey/fit/fit';
import { readingsOf, unheardOf } from '@/core/survey/fit/readings';
import { withUnheard } from '@/core/survey/fit/unheard';
import { summaryOf } from '@/core/survey/fit/summary';
import { learnedMedium, surveyedOf } from '@/core/survey/fit/surveyed';
import { screensIn } from '@/core/survey/measured';
import { UpperRoomError } from '@/core/errors';
import { floats, outlinesFor, type Handler } from './derived';
import type { Params, Progress, Result, SurveyQuestion } from './protocol';

function fitOf({ scene, radios, heard: { samples, visits }, held }: SurveyQuestion, countUnheard: boolean): Fit {
  const [first] = radios;
  if (first === undefined) throw new UpperRoomError('TOO_FEW_READINGS');
  const { medium } = outlinesFor(scene);
  const apart = screensIn(medium.panes, first.channel.band, scene.planeZM);
  const whose = radios.map(({ apId, channel: { band } }) => ({ apId, band }));
  const fit = fitReadings(medium, radios, readingsOf(samples, whose, apart), scene.planeZM, held);
  return countUnheard ? withUnheard(fit, unheardOf(samples, visits, whose)) : fit;
}

/** The measured map of each radio that was heard, and what was learned on the way. */
export const surveyed: Handler<'surveyed'> = (params) => {
  const { scene, radios, reachM } = params;
  const fit = fitOf(params, true);
  const heard = new Set(fit.readings.map(({ radio }) => radio));
  const outlines = outlinesOf(learnedMedium(fit));
  const maps = radios.flatMap((radio, r) => {
    if (!heard.has(r)) return [];
    const lane = bandIndex(radio.channel.band);
    const antennas = perBand((band) => (band === radio.channel.band ? radio.antenna : null));
    const station = { pose: radio.pose, antennas, centresMhz: centresOf([radio.channel]) };
    const lossDb = lossFields(outlines, station, { grid: scene.grid, zM: scene.planeZM, gainDbi: 0 })[lane]!;
    const map = surveyedOf(fit, r, scene.grid, lossDb, middlePowerDbm(radio), reachM);
    const shared = (values: Float32Array) => {
      const copy = floats(values.length);
      copy.set(values);
      return copy;
    };
    return [{ apId: radio.apId, levelDbm: shared(map.levelDbm), sdDb: shared(map.sdDb) }];
  });
  return {
    maps,
    summary: summaryOf(
      fit,
      radios.map(({ apId }) => apId),
      params.held,
    ),
  };
};

/** What the readings say is not as drawn; what was not heard is left aside, for it leans on the model that is in question. */
export function* faults(params: Params<'faults'>): Generator<Progress<'faults'> | undefined, Result<'faults'>, boolean | undefined> {
  const apIds = params.radios.map(({ apId }) => apId);
  const found = yield* faultsOf(fitOf({ ...params, held: [] }, false));
  return found.map((fault) =>
    fault.kind === 'swapped'
      ? { ...fault, apIds: [apIds[fault.radio]!, apIds[fault.other]!] }
      : { ...fault, apIds: 'radio' in fault ? [apIds[fault.radio]!] : [] },
  );
}
