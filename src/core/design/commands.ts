import { UNSAID } from './kinds/project';
import { UpperRoomError } from '../errors';
import type { Band, WidthMhz } from '../radio/band';
import { radioModelOf, type ApModel } from '../radio/catalogue';
import { highestPowerDbm, lawfulChannels, withinLaw } from '../radio/law';
import { allowedWidths, type Domain, type DomainId } from '../radio/regulation';
import {
  domainOf,
  PROJECT_ID,
  modelsOf,
  type AccessPoint,
  type Design,
  type Floor,
  type Project,
  type Radio,
  type RecordOf,
  type Table,
  type Walk,
} from './design';
import { childrenOf, keyOf, type Pointer } from './references';
import { kindOf, TABLES } from './registry';
import { USUAL_LEVELS } from './levelCommands';
import type { PointM } from '../geometry/point';
import { applyChanges, change, recordAt, type Change } from './step';

/** Commands are pure: the design and arguments in, changes out. Undo is the changes swapped, so none has an inverse of its own. */

/** @throws UpperRoomError RECORD_UNKNOWN */
export function existing<T extends Table>(design: Design, table: T, id: string): RecordOf<T> {
  const record = recordAt(design, table, id);
  if (record === null) throw new UpperRoomError('RECORD_UNKNOWN', { what: kindOf(table).word, table, id });
  return record as RecordOf<T>;
}

/** Sets fields of one record. @throws UpperRoomError RECORD_UNKNOWN */
export function edit<T extends Table>(design: Design, table: T, id: string, fields: Partial<RecordOf<T>>): Change[] {
  const before = existing(design, table, id);
  return change(table, id, before, { ...before, ...fields });
}

/** Radios of a model as hung fresh: on, at the first lawful channel, without radar detection if there is one, 20 MHz, at two thirds of its power. */
export const defaultRadios = (model: ApModel, domain: Domain): Radio[] => model.radios.map(({ band }) => defaultRadio(model, domain, band, 20));

/** As `defaultRadios`, one of them, on a channel of a width; where the law has none so wide it is as wide as the law has. */
export function defaultRadio(model: ApModel, domain: Domain, band: Band, widthMhz: WidthMhz): Radio {
  const limits = radioModelOf(model, band)!;
  const wide = lawfulChannels(domain, model, band, widthMhz);
  const [lawful, width] = wide.length > 0 ? [wide, widthMhz] : [lawfulChannels(domain, model, band, 20), 20 as const];
  const first = lawful.find((allowed) => !allowed.dfs) ?? lawful[0];
  return withinLaw(domain, model, {
    band,
    on: true,
    channel: first?.channel.primary ?? 1,
    widthMhz: width,
    txPowerDbm: Math.max(limits.minPowerDbm, Math.round(limits.maxPowerDbm * 0.67)),
    locked: false,
    forbidden: [],
  });
}

/** The next free name of the form PREFIX-07 among a variant's access points on a floor. */
export function nextName(design: Design, floorId: string, variantId: string): string {
  const names = Object.values(design.accessPoints).filter((ap) => ap.variantId === variantId);
  const here = names.filter((ap) => ap.floorId === floorId);
  const prefix = (here[0] ?? null)?.name.match(/^(.*?)[-\s]?\d+$/)?.[1] ?? (existing(design, 'floors', floorId).name.trim()[0] ?? 'A').toUpperCase();
  const used = new Set(names.map((ap) => ap.name));
  for (let n = 1; ; n++) {
    const name = `${prefix}-${String(n).padStart(2, '0')}`;
    if (!used.has(name)) return name;
  }
}

export type NewAccessPoint = Pick<AccessPoint, 'id' | 'floorId' | 'variantId' | 'modelId' | 'xM' | 'yM'> & Partial<AccessPoint>;

/** How high a model is hung on a floor: as it is made for, and below the ceiling. */
export const hungHeightM = ({ ceilingM }: Pick<Floor, 'ceilingM'>, { defaultHeightM }: Pick<ApModel, 'defaultHeightM'>): number =>
  Math.min(defaultHeightM, ceilingM - 0.1);

/** Hangs an access point. Height follows the model but stays below the ceiling. */
export function addAccessPoint(design: Design, args: NewAccessPoint): Change[] {
  const floor = existing(design, 'floors', args.floorId);
  const project = existing(design, 'project', PROJECT_ID);
  const model = modelsOf(design)(args.modelId);
  const ap: AccessPoint = {
    name: nextName(design, args.floorId, args.variantId),
    heightM: hungHeightM(floor, model),
    azimuthDeg: 0,
    tiltDeg: 0,
    locked: false,
    withheldSsids: [],
    radios: defaultRadios(model, domainOf(project)),
    ...args,
  };
  return change('accessPoints', ap.id, null, ap);
}

/** Where one is to be hung, of which model, looking which way. */
export type Hanging = PointM & Readonly<{ floorId: string; modelId: string; azimuthDeg: number }>;

/** Hangs access points at some spots, one band's radios at a width and a power that the law is asked about; each gets a name of its own. */
export function hangAll(
  design: Design,
  { variantId, band, widthMhz, txPowerDbm }: Readonly<{ variantId: string; band: Band; widthMhz: WidthMhz; txPowerDbm: number }>,
  spots: readonly Hanging[],
  newId: () => string,
): Change[] {
  const domain = domainOf(existing(design, 'project', PROJECT_ID));
  let after = design;
  return spots.flatMap((spot) => {
    const model = modelsOf(design)(spot.modelId);
    const radios = defaultRadios(model, domain).map((radio) =>
      radio.band === band ? withinLaw(domain, model, { ...defaultRadio(model, domain, band, widthMhz), txPowerDbm }) : radio,
    );
    const changes = addAccessPoint(after, { id: newId(), variantId, ...spot, radios });
    after = applyChanges(after, changes);
    return changes;
  });
}

/** Moves access points by the same distance. Locked ones stay: locked means that nothing moves them but their own form. */
export function moveAccessPoints(design: Design, ids: readonly string[], dxM: number, dyM: number): Change[] {
  return ids.flatMap((id) => {
    const ap = existing(design, 'accessPoints', id);
    return ap.locked ? [] : change('accessPoints', id, ap, { ...ap, xM: round(ap.xM + dxM), yM: round(ap.yM + dyM) });
  });
}

/** Positions are kept to the millimetre. */
export const round = (m: number): number => Math.round(m * 1000) / 1000;

/** Copies access points 1 m aside, with new names. `newIds` has one id for each. */
export function duplicateAccessPoints(design: Design, ids: readonly string[], newIds: readonly string[]): Change[] {
  const domain = domainOf(existing(design, 'project', PROJECT_ID));
  let next = design;
  return ids.flatMap((id, i) => {
    const ap = existing(design, 'accessPoints', id);
    const copy: AccessPoint = {
      ...ap,
      id: newIds[i]!,
      name: nextName(next, ap.floorId, ap.variantId),
      xM: round(ap.xM + 1),
      yM: round(ap.yM + 1),
      locked: false,
      radios: ap.radios.map((radio) => withinLaw(domain, modelsOf(design)(ap.modelId), radio)),
    };
    next = { ...next, accessPoints: { ...next.accessPoints, [copy.id]: copy } };
    return change('accessPoints', copy.id, null, copy);
  });
}

/**
 * Sets fields of one radio of each access point that has that band. A channel, or switching on, lowers the power to what the law leaves there;
 * a power that is asked for is taken as it is.
 */
export function editRadios(design: Design, ids: readonly string[], band: Radio['band'], fields: Partial<Radio>): Change[] {
  const domain = domainOf(existing(design, 'project', PROJECT_ID));
  return ids.flatMap((id) => {
    const ap = existing(design, 'accessPoints', id);
    const set = (radio: Radio): Radio => {
      const next = { ...radio, ...fields };
      return fields.txPowerDbm === undefined && (fields.channel !== undefined || fields.on === true)
        ? withinLaw(domain, modelsOf(design)(ap.modelId), next)
        : next;
    };
    return change('accessPoints', id, ap, { ...ap, radios: ap.radios.map((radio) => (radio.band === band ? set(radio) : radio)) });
  });
}

/** Adds decibels to one band's radios, each kept within its model and the law. */
export function shiftPower(design: Design, ids: readonly string[], band: Radio['band'], db: number): Change[] {
  const domain = domainOf(existing(design, 'project', PROJECT_ID));
  return ids.flatMap((id) => {
    const ap = existing(design, 'accessPoints', id);
    const set = (radio: Radio): Radio => {
      const model = modelsOf(design)(ap.modelId);
      const lowest = radioModelOf(model, band)?.minPowerDbm ?? radio.txPowerDbm;
      return { ...radio, txPowerDbm: Math.max(lowest, Math.min(highestPowerDbm(domain, model, radio), radio.txPowerDbm + db)) };
    };
    return change('accessPoints', id, ap, { ...ap, radios: ap.radios.map((radio) => (radio.band === band ? set(radio) : radio)) });
  });
}

/**
 * Sets the width of one band's radios. Each keeps its channel; one that is not allowed at the new width gives way to the first that is.
 * Where the domain allows none at this width, the radio stays as it is.
 */
export function changeWidth(design: Design, ids: readonly string[], band: Radio['band'], widthMhz: Radio['widthMhz']): Change[] {
  const domain = domainOf(existing(design, 'project', PROJECT_ID));
  return ids.flatMap((id) => {
    const ap = existing(design, 'accessPoints', id);
    const allowed = lawfulChannels(domain, modelsOf(design)(ap.modelId), band, widthMhz).map(({ channel }) => channel.primary);
    const first = allowed[0];
    if (first === undefined) return [];
    const radios = ap.radios.map((radio) =>
      radio.band === band
        ? withinLaw(domain, modelsOf(design)(ap.modelId), { ...radio, widthMhz, channel: allowed.includes(radio.channel) ? radio.channel : first })
        : radio,
    );
    return change('accessPoints', id, ap, { ...ap, radios });
  });
}

/** Changes the model. Radios that both models have keep their settings within the new model's limits; new bands come with defaults. */
export function changeModel(design: Design, ids: readonly string[], modelId: string): Change[] {
  const domain = domainOf(existing(design, 'project', PROJECT_ID));
  const model = modelsOf(design)(modelId);
  const fresh = defaultRadios(model, domain);
  return ids.flatMap((id) => {
    const ap = existing(design, 'accessPoints', id);
    const radios = fresh.map((radio) => {
      const limits = radioModelOf(model, radio.band)!;
      const old = ap.radios.find((candidate) => candidate.band === radio.band);
      if (old === undefined) return radio;
      const widthMhz = old.widthMhz <= limits.maxWidthMhz && allowedWidths(domain, radio.band).includes(old.widthMhz) ? old.widthMhz : 20;
      // A channel that the new model may not use, outdoors say, gives way to its first.
      const lawful = lawfulChannels(domain, model, radio.band, widthMhz).map(({ channel }) => channel.primary);
      const channel = lawful.includes(old.channel) ? old.channel : (lawful[0] ?? old.channel);
      return withinLaw(domain, model, { ...old, channel, widthMhz, txPowerDbm: Math.max(limits.minPowerDbm, old.txPowerDbm) });
    });
    return change('accessPoints', id, ap, { ...ap, modelId, radios });
  });
}

/**
 * Deletes records with all that lies on them: a wall with its openings, a floor with its walls, zones and access points. What only named a
 * deleted record where it may name something of a catalogue stays, and names that.
 * @throws UpperRoomError RECORD_UNKNOWN; LAST_OF_KIND when nothing of a kind would be left that must keep one
 */
export function remove(design: Design, table: Table, ids: readonly string[]): Change[] {
  const gone = new Map<string, Change>();
  const renamed = new Map<string, Pointer & { field: string; instead: string | null }>();
  const take = (at: Pointer): void => {
    if (gone.has(keyOf(at))) return;
    const [removal] = change(at.table, at.id, existing(design, at.table, at.id), null);
    gone.set(keyOf(at), removal!);
    for (const child of childrenOf(design, at)) {
      const catalogue = kindOf(child.table).catalogues[child.field];
      if (catalogue === undefined) take(child);
      else renamed.set(keyOf(child), { ...child, instead: catalogue.instead });
    }
  };
  for (const id of ids) take({ table, id });
  const kept = [...renamed].flatMap(([key, { table: of, id, field, instead }]) =>
    gone.has(key) ? [] : edit(design, of, id, { [field]: instead } as Partial<RecordOf<Table>>),
  );
  for (const counted of TABLES) {
    const { keepOne, word } = kindOf(counted);
    const count = [...gone.values()].filter((one) => one.table === counted).length;
    if (keepOne && count > 0 && count >= Object.keys(design[counted]).length) throw new UpperRoomError('LAST_OF_KIND', { what: word });
  }
  // Children first: each step of the way leaves nothing pointing at what is gone.
  return [...kept, ...[...gone.values()].reverse()];
}

/** A plan-made setting for one radio. */
export type RadioSetting = Readonly<{
  apId: string;
  band: Radio['band'];
  on: boolean;
  channel: number;
  widthMhz: Radio['widthMhz'];
  txPowerDbm: number;
}>;

/** Applies a retune sheet as one step: all radios of an access point in one change. */
export function applySettings(design: Design, settings: readonly RadioSetting[]): Change[] {
  const byAp = new Map<string, RadioSetting[]>();
  for (const setting of settings) byAp.set(setting.apId, [...(byAp.get(setting.apId) ?? []), setting]);
  return [...byAp].flatMap(([apId, own]) => {
    const ap = existing(design, 'accessPoints', apId);
    const radios = ap.radios.map((radio) => {
      const found = own.find((setting) => setting.band === radio.band);
      return found === undefined || radio.locked || ap.locked
        ? radio
        : { ...radio, on: found.on, channel: found.channel, widthMhz: found.widthMhz, txPowerDbm: found.txPowerDbm };
    });
    return change('accessPoints', apId, ap, { ...ap, radios });
  });
}

/** Begins a walk: stored before the first turn, so that its samples have something to belong to. */
export const addWalk = (walk: Walk): Change[] => change('walks', walk.id, null, walk);

/** What a project is before anybody says otherwise. */
export const NEW_PROJECT: Omit<Project, 'id' | 'name' | 'units' | 'domain'> = {
  ownDomain: null,
  clientHeightM: 1,
  cellM: 0.5,
  facility: '',
  needs: '',
  clientTypes: [],
  network: UNSAID,
};

/** A design with one floor on a bare grid: what "new project" gives. */
export function newProject(args: {
  name: string;
  units: Project['units'];
  domain: DomainId;
  floorId: string;
  variantId: string;
  widthM: number;
  heightM: number;
}): Change[] {
  const floor: Floor = {
    id: args.floorId,
    name: 'Ground level',
    elevationM: 0,
    ceilingM: 3,
    environment: 'rooms',
    exponent: null,
    slant: false,
    slabMaterialId: 'concrete',
    registeredWorstM: null,
    outline: [
      { xM: 0, yM: 0 },
      { xM: args.widthM, yM: 0 },
      { xM: args.widthM, yM: args.heightM },
      { xM: 0, yM: args.heightM },
    ],
  };
  return [
    ...change('project', PROJECT_ID, null, { ...NEW_PROJECT, id: PROJECT_ID, name: args.name, units: args.units, domain: args.domain }),
    ...USUAL_LEVELS.flatMap((level) => change('serviceLevels', level.id, null, level)),
    ...change('floors', floor.id, null, floor),
    ...change('variants', args.variantId, null, { id: args.variantId, name: 'First design', order: 0, retune: null }),
  ];
}
