import { lossFields } from '@/core/fields/lossField';
import { outlinesOf } from '@/core/fields/outlines';
import { ISOTROPIC } from '@/core/radio/antenna';
import { bandIndex, perBand, type WidthMhz } from '@/core/radio/band';
import { centresOf, channelOf, middlePowerDbm } from '@/core/radio/channel';
import { faultsOf } from '@/core/survey/fit/faults';
import { EXPECTED_SCATTER } from '@/core/survey/fit/scatter';
import { fitReadings, mapBasisOf, type Fit } from '@/core/survey/fit/fit';
import { readingsOf, unheardOf } from '@/core/survey/fit/readings';
import { withUnheard } from '@/core/survey/fit/unheard';
import { EXPONENT_SD, locate } from '@/core/survey/fit/locate';
import { summaryOf, type FitSummary } from '@/core/survey/fit/summary';
import { learnedMedium, surveyedOf } from '@/core/survey/fit/surveyed';
import { hiddenWithin, screensIn } from '@/core/survey/measured';
import { otherChannels } from '@/core/survey/otherChannel';
import { unpackHeard } from '@/core/survey/packed';
import { sweptMap } from '@/core/survey/sweptMap';
import { UpperRoomError } from '@/core/errors';
import { floats, outlinesFor, type Handler } from './derived';
import type { Params, Progress, Result, SurveyQuestion, SurveyedMap } from './protocol';

const whoseOf = (radios: SurveyQuestion['radios']) => radios.map(({ apId, channel: { band } }) => ({ apId, band }));

/** Where radios were listened for and not heard. */
const unheardIn = ({ radios, heard: { samples, visits } }: SurveyQuestion) => unheardOf(samples, visits, whoseOf(radios));

/** What the readings alone say. */
function heardFit({ scene, radios, heard: { samples }, held }: SurveyQuestion): Fit {
  const [first] = radios;
  if (first === undefined) throw new UpperRoomError('TOO_FEW_READINGS');
  const { medium } = outlinesFor(scene);
  const apart = screensIn(medium.panes, first.channel.band, scene.planeZM);
  return fitReadings(medium, radios, readingsOf(samples, whoseOf(radios), apart), scene.planeZM, held);
}

function learnedFrom(question: SurveyQuestion): Result<'learned'> {
  const fit = withUnheard(heardFit(question), unheardIn(question));
  return {
    basis: mapBasisOf(fit),
    heard: [...new Set(fit.readings.map(({ radio }) => radio))].sort((a, b) => a - b),
    summary: summaryOf(
      fit,
      question.radios.map(({ apId }) => apId),
      question.held,
    ),
  };
}

/** What a walk teaches, and of which radios maps can be made from that. */
export const learned: Handler<'learned'> = ({ heard, ...asked }) => learnedFrom({ ...asked, heard: unpackHeard(heard) });

/** The measured maps of some radios. */
export const measuredMaps: Handler<'measuredMaps'> = ({ grid, planeZM, basis, apIds, which, reachM }) => {
  const outlines = outlinesOf(learnedMedium(basis));
  return which.map((r) => {
    const radio = basis.radios[r]!;
    const lane = bandIndex(radio.channel.band);
    const antennas = perBand((band) => (band === radio.channel.band ? radio.antenna : null));
    const station = { pose: radio.pose, antennas, centresMhz: centresOf([radio.channel]) };
    const lossDb = lossFields(outlines, station, { grid, zM: planeZM, gainDbi: 0 })[lane]!;
    const map = surveyedOf(basis, r, grid, lossDb, middlePowerDbm(radio), reachM);
    const shared = (values: Float32Array) => {
      const copy = floats(values.length);
      copy.set(values);
      return copy;
    };
    return { apId: apIds[r]!, levelDbm: shared(map.levelDbm), sdDb: shared(map.sdDb) };
  });
};

/** What a walk teaches and the map of every radio that was heard, here and one after the other. */
export function surveyed({
  reachM,
  ...question
}: SurveyQuestion & Readonly<{ reachM: number }>): Readonly<{ maps: readonly SurveyedMap[]; summary: FitSummary }> {
  const { basis, heard, summary } = learnedFrom(question);
  const { grid, planeZM } = question.scene;
  const apIds = question.radios.map(({ apId }) => apId);
  return { maps: measuredMaps({ grid, planeZM, basis, apIds, which: heard, reachM }) as Result<'measuredMaps'>, summary };
}

/** What a swept receiver found, in the cells that its looks see. */
export const swept: Handler<'sweptMap'> = ({ scene, band, spots, reachM }) => {
  const { panes } = outlinesFor(scene).medium;
  return sweptMap(spots, scene.grid, reachM, hiddenWithin(panes, band, scene.planeZM, reachM));
};

/** What a survey says is not as drawn. */
export function* faults(params: Params<'faults'>): Generator<Progress<'faults'> | undefined, Result<'faults'>, boolean | undefined> {
  const apIds = params.radios.map(({ apId }) => apId);
  const found = yield* faultsOf(heardFit({ ...params, held: [] }), unheardIn(params));
  const others = otherChannels(params.heard.samples, params.radios).map((one) => ({ ...one, apIds: [one.apId] }));
  const told = found.map((fault) =>
    fault.kind === 'swapped'
      ? { ...fault, apIds: [apIds[fault.radio]!, apIds[fault.other]!] }
      : { ...fault, apIds: 'radio' in fault ? [apIds[fault.radio]!] : [] },
  );
  // A channel is read, not estimated.
  return [...others, ...told];
}

/** Where a transmitter is that was heard: through the building as the design's own radios show it to be, where enough of them was heard. */
export const located: Handler<'locate'> = ({ scene, radios, heard, bssid, band, heightM, grid, mask }) => {
  const { samples, visits } = heard;
  const drawn = outlinesFor(scene);
  // Of its own alone: as if it were an access point of that address.
  const own = samples.filter((sample) => sample.bssid === bssid && sample.band === band).map((sample) => ({ ...sample, apId: bssid }));
  const whose = [{ apId: bssid, band }];
  const readings = readingsOf(own, whose, screensIn(drawn.medium.panes, band, scene.planeZM));
  let [outlines, scatter, offsetDb, exponentSd] = [drawn, EXPECTED_SCATTER, 0, EXPONENT_SD];
  try {
    // One of the design's own that is looked for does not vouch for its own place.
    const others = radios.filter(({ apId }) => !samples.some((sample) => sample.bssid === bssid && sample.apId === apId));
    const fit = heardFit({ scene, radios: others, heard, held: [] });
    [outlines, scatter, offsetDb, exponentSd] = [outlinesOf(learnedMedium(fit)), fit.scatter, fit.estimates[0]!, fit.sd[1]!];
  } catch (error) {
    // Without readings of our own the building is taken as drawn.
    if (!(error instanceof UpperRoomError) || error.code !== 'TOO_FEW_READINGS') throw error;
  }
  const lane = bandIndex(band);
  const antennas = perBand((each) => (each === band ? ISOTROPIC : null));
  const channel = own[0] === undefined ? [] : [channelOf({ band, channel: own[0].channel, widthMhz: own[0].widthMhz as WidthMhz })];
  const lossTo = (xM: number, yM: number): Float32Array => {
    const pose = { xM, yM, zM: scene.planeZM, azimuthDeg: 0, tiltDeg: 0 };
    return lossFields(outlines, { pose, antennas, centresMhz: centresOf(channel) }, { grid, zM: heightM, gainDbi: 0 })[lane]!;
  };
  return locate(readings, unheardOf(own, visits, whose), grid, mask, lossTo, scatter, offsetDb, exponentSd);
};
