import type { ApModel } from '../radio/catalogue';
import { changeModel, edit, existing, remove } from './commands';
import { clientTypesOf, modelsOf, projectOf, PROJECT_ID, type ClientTypeRecord, type Design, type Table } from './design';
import { MODEL_CATALOGUE } from './kinds/kind';
import { freeName } from './names';
import { applyChanges, change, type Change } from './step';

/** Two commands after each other as one step: the second sees what the first did, and each record changes once. */
function inTurn(design: Design, first: readonly Change[], second: (after: Design) => readonly Change[]): Change[] {
  const later = second(applyChanges(design, first));
  const last = new Map(later.map((one) => [`${one.table}/${one.id}`, one]));
  const merged = first.map((one) => {
    const next = last.get(`${one.table}/${one.id}`);
    last.delete(`${one.table}/${one.id}`);
    return next === undefined ? one : ({ ...one, after: next.after } as Change);
  });
  return [...merged, ...last.values()];
}

/** An access point model of the project's own, like another. */
export function addModel(design: Design, id: string, likeId: string): Change[] {
  const like = modelsOf(design)(likeId);
  return change('apModels', id, null, { ...like, id, name: freeName(`${like.name}, own`, Object.values(design.apModels)) });
}

const hungOf = (design: Design, modelId: string): string[] =>
  Object.values(design.accessPoints)
    .filter((ap) => ap.modelId === modelId)
    .map(({ id }) => id);

/** How many access points, in all variants, are of a model. */
export const usesOfModel = (design: Design, modelId: string): number => hungOf(design, modelId).length;

/** Sets fields of a model. The radios of all access points of it are brought within it: bands that went go, new ones come, powers and widths are limited. */
export const editModel = (design: Design, id: string, fields: Partial<Omit<ApModel, 'id'>>): Change[] =>
  inTurn(design, edit(design, 'apModels', id, fields), (after) =>
    fields.radios === undefined && fields.outdoor === undefined ? [] : changeModel(after, hungOf(after, id), id),
  );

/** Deletes a model of the project's own. Access points of it become what stands in, with their radios within that. */
export const removeModel = (design: Design, id: string): Change[] =>
  inTurn(design, changeModel(design, hungOf(design, id), MODEL_CATALOGUE.instead), (after) => remove(after, 'apModels', [id]));

/** A client type of the project's own, like another, and expected at once. */
export function addClientType(design: Design, id: string, likeId: string): Change[] {
  const { name, bands, bandRule, equipment } = clientTypesOf(design)(likeId);
  const own = { id, name: freeName(`${name}, own`, Object.values(design.clientTypes)), bands: [...bands], bandRule, equipment };
  const project = projectOf(design);
  return [
    ...change('clientTypes', id, null, own),
    ...(project === undefined ? [] : edit(design, 'project', PROJECT_ID, { clientTypes: [...project.clientTypes, id] })),
  ];
}

/** Sets fields of a client type. */
export const editClientType = (design: Design, id: string, fields: Partial<Omit<ClientTypeRecord, 'id'>>): Change[] =>
  edit(design, 'clientTypes', id, fields);

/** Deletes a client type of the project's own; it is not expected any more. */
export function removeClientType(design: Design, id: string): Change[] {
  const { clientTypes } = existing(design, 'project', PROJECT_ID);
  return [
    ...remove(design, 'clientTypes', [id]),
    ...(clientTypes.includes(id) ? edit(design, 'project', PROJECT_ID, { clientTypes: clientTypes.filter((other) => other !== id) }) : []),
  ];
}

/** Deletes records of a table as their own forms do. @throws UpperRoomError RECORD_UNKNOWN, LAST_OF_KIND */
export function removeWhole(design: Design, table: Table, ids: readonly string[]): Change[] {
  const one = table === 'apModels' ? removeModel : table === 'clientTypes' ? removeClientType : null;
  if (one === null) return remove(design, table, ids);
  return ids.reduce<Change[]>((changes, id) => inTurn(design, changes, (after) => one(after, id)), []);
}

/** Equipment as a file holds it. */
export type Equipment = Readonly<{ models: readonly ApModel[]; clientTypes: readonly ClientTypeRecord[] }>;

const alike = (a: { id: string }, b: { id: string }): boolean => JSON.stringify({ ...a, id: '' }) === JSON.stringify({ ...b, id: '' });

/** Takes equipment into the project, under ids of its own. What is there already, alike in everything, is not taken twice. */
export function takeIn(design: Design, { models, clientTypes }: Equipment, newId: () => string): Change[] {
  const { apModels, clientTypes: known } = design;
  const newModels = models.filter((model) => !Object.values(apModels).some((own) => alike(own, model)));
  const newTypes = clientTypes.filter((type) => !Object.values(known).some((own) => alike(own, type)));
  return [
    ...newModels.flatMap((model) => {
      const id = newId();
      return change('apModels', id, null, { ...model, id });
    }),
    ...newTypes.flatMap((type) => {
      const id = newId();
      return change('clientTypes', id, null, { ...type, id });
    }),
  ];
}
