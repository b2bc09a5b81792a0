import { change, type Change } from './step';
import type { Design, ServiceLevel } from './design';

/**
 * What is commonly asked for. Voice wants a second access point as loud as the first, for roaming; a dense hall wants air rather than signal; finding
 * things by radio wants to be heard by several.
 */
export const USUAL_LEVELS: readonly ServiceLevel[] = [
  { id: 'level-data', name: 'Data', signalDbm: -70, secondDbm: null, snrDb: 20, rateMbps: 50, sharersMost: 2, share: 0.95 },
  { id: 'level-voice', name: 'Voice', signalDbm: -67, secondDbm: -67, snrDb: 25, rateMbps: 24, sharersMost: 1, share: 0.98 },
  { id: 'level-dense', name: 'Dense hall', signalDbm: -65, secondDbm: null, snrDb: 28, rateMbps: 100, sharersMost: 1, share: 0.95 },
  { id: 'level-location', name: 'Location', signalDbm: -72, secondDbm: -75, snrDb: null, rateMbps: null, sharersMost: null, share: 0.95 },
];

/** Adds those of the usual service levels that the project does not have. */
export const addUsualLevels = (design: Design): Change[] =>
  USUAL_LEVELS.flatMap((level) => (Object.hasOwn(design.serviceLevels, level.id) ? [] : change('serviceLevels', level.id, null, level)));

/** Adds a service level like another, under a name of its own. */
export function addLevel(design: Design, id: string, like: ServiceLevel = USUAL_LEVELS[0]!): Change[] {
  const names = new Set(Object.values(design.serviceLevels).map(({ name }) => name));
  let name = `${like.name}, own`;
  for (let n = 2; names.has(name); n++) name = `${like.name}, own ${n}`;
  return change('serviceLevels', id, null, { ...like, id, name });
}
