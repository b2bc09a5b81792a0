import { UpperRoomError } from '../errors';
import type { Antenna } from './antenna';
import type { Band, WidthMhz } from './band';
import type { Generation } from './rates';

/** The radio of a model in one band. Powers are conducted, in dBm. */
export type RadioModel = Readonly<{ band: Band; minPowerDbm: number; maxPowerDbm: number; maxWidthMhz: WidthMhz; streams: number; antenna: Antenna }>;

export type ApModel = Readonly<{
  id: string;
  name: string;
  generation: Generation;
  mount: 'ceiling' | 'wall' | 'pole';
  outdoor: boolean;
  defaultHeightM: number;
  /** What it draws from the cable with all radios on, in W. */
  poeW: number;
  /** Clients associated per radio that its maker promises; far fewer share the air well. */
  clientsPerRadio: number;
  radios: readonly RadioModel[];
}>;

/** Vertical cut of a flat ceiling unit: broad downward, falling toward and above the ceiling. -90 to 90 in steps of 15 degrees. */
const CEILING_CUT_DB = [-3, -2.2, -1.4, -0.6, -0.2, 0, -0.4, -1.6, -3.6, -6.2, -9, -11, -12];
/** Vertical cut of a dipole-like unit: peak at the horizon. */
const UPRIGHT_CUT_DB = [-12, -9, -6.2, -3.6, -1.6, -0.4, 0, -0.4, -1.6, -3.6, -6.2, -9, -12];
/** A patch: half-power width about 70 degrees, 22 dB front to back, by 30 degrees. */
const PATCH_HORIZONTAL_DB = [0, -2.2, -8, -14, -18, -21, -22, -21, -18, -14, -8, -2.2];
const PATCH_VERTICAL_DB = [-20, -17, -13, -8.5, -4.6, -1.3, 0, -1.3, -4.6, -8.5, -13, -17, -20];
/** A wall plate: mild front lobe, the wall behind takes the rest. */
const PLATE_HORIZONTAL_DB = [0, -0.4, -1.5, -3.2, -5.2, -6.6, -7, -6.6, -5.2, -3.2, -1.5, -0.4];

const ceiling = (peakDbi: number): Antenna => ({ peakDbi, horizontalDb: [0], verticalDb: CEILING_CUT_DB });
const upright = (peakDbi: number): Antenna => ({ peakDbi, horizontalDb: [0], verticalDb: UPRIGHT_CUT_DB });
const patch = (peakDbi: number): Antenna => ({ peakDbi, horizontalDb: PATCH_HORIZONTAL_DB, verticalDb: PATCH_VERTICAL_DB });
const plate = (peakDbi: number): Antenna => ({ peakDbi, horizontalDb: PLATE_HORIZONTAL_DB, verticalDb: UPRIGHT_CUT_DB });

/** The made-up catalogue: models named after birds. */
export const AP_MODELS: readonly ApModel[] = [
  {
    id: 'dunlin-c2',
    name: 'Dunlin C2 ceiling',
    generation: 'Wi-Fi 6',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 3,
    poeW: 12.9,
    clientsPerRadio: 128,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 40, streams: 2, antenna: ceiling(3.2) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 21, maxWidthMhz: 80, streams: 2, antenna: ceiling(4.1) },
    ],
  },
  {
    id: 'heron-c4',
    name: 'Heron C4 ceiling',
    generation: 'Wi-Fi 6',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 3,
    poeW: 21,
    clientsPerRadio: 256,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 22, maxWidthMhz: 40, streams: 4, antenna: ceiling(3.8) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 23, maxWidthMhz: 160, streams: 4, antenna: ceiling(4.8) },
    ],
  },
  {
    id: 'kittiwake-t6',
    name: 'Kittiwake T6 tri-band',
    generation: 'Wi-Fi 6E',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 3,
    poeW: 25.5,
    clientsPerRadio: 256,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 40, streams: 2, antenna: ceiling(3.4) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 22, maxWidthMhz: 160, streams: 4, antenna: ceiling(4.4) },
      { band: '6', minPowerDbm: 3, maxPowerDbm: 22, maxWidthMhz: 160, streams: 4, antenna: ceiling(4.9) },
    ],
  },
  {
    id: 'curlew-t7',
    name: 'Curlew T7 tri-band',
    generation: 'Wi-Fi 7',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 3,
    poeW: 40,
    clientsPerRadio: 512,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 21, maxWidthMhz: 40, streams: 4, antenna: ceiling(3.5) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 23, maxWidthMhz: 160, streams: 4, antenna: ceiling(4.6) },
      { band: '6', minPowerDbm: 3, maxPowerDbm: 24, maxWidthMhz: 320, streams: 4, antenna: ceiling(5) },
    ],
  },
  {
    id: 'wren-w2',
    name: 'Wren W2 wall plate',
    generation: 'Wi-Fi 6',
    mount: 'wall',
    outdoor: false,
    defaultHeightM: 1.4,
    poeW: 9.5,
    clientsPerRadio: 64,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 18, maxWidthMhz: 20, streams: 2, antenna: plate(2.6) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 19, maxWidthMhz: 80, streams: 2, antenna: plate(3) },
    ],
  },
  {
    id: 'gannet-d2',
    name: 'Gannet D2 outdoor directional',
    generation: 'Wi-Fi 6',
    mount: 'pole',
    outdoor: true,
    defaultHeightM: 3.5,
    poeW: 18,
    clientsPerRadio: 128,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 22, maxWidthMhz: 20, streams: 2, antenna: patch(8.5) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 22, maxWidthMhz: 80, streams: 2, antenna: patch(9.5) },
    ],
  },
  {
    id: 'plover-n2',
    name: 'Plover N2 (earlier range)',
    generation: 'Wi-Fi 5',
    mount: 'wall',
    outdoor: false,
    defaultHeightM: 2.4,
    poeW: 12,
    clientsPerRadio: 64,
    radios: [
      { band: '2.4', minPowerDbm: 5, maxPowerDbm: 20, maxWidthMhz: 40, streams: 2, antenna: upright(2.2) },
      { band: '5', minPowerDbm: 5, maxPowerDbm: 20, maxWidthMhz: 80, streams: 2, antenna: upright(3.2) },
    ],
  },
  {
    id: 'siskin-c2',
    name: 'Siskin C2 small ceiling',
    generation: 'Wi-Fi 6',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 2.7,
    poeW: 10.5,
    clientsPerRadio: 64,
    radios: [
      { band: '2.4', minPowerDbm: 2, maxPowerDbm: 17, maxWidthMhz: 20, streams: 2, antenna: ceiling(2.8) },
      { band: '5', minPowerDbm: 2, maxPowerDbm: 18, maxWidthMhz: 80, streams: 2, antenna: ceiling(3.6) },
    ],
  },
  {
    id: 'avocet-t7',
    name: 'Avocet T7 tri-band',
    generation: 'Wi-Fi 7',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 3,
    poeW: 24,
    clientsPerRadio: 256,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 20, streams: 2, antenna: ceiling(3.2) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 21, maxWidthMhz: 160, streams: 2, antenna: ceiling(4.2) },
      { band: '6', minPowerDbm: 3, maxPowerDbm: 22, maxWidthMhz: 320, streams: 2, antenna: ceiling(4.6) },
    ],
  },
  {
    id: 'osprey-h4',
    name: 'Osprey H4 dense hall, directional',
    generation: 'Wi-Fi 6E',
    mount: 'ceiling',
    outdoor: false,
    defaultHeightM: 6,
    poeW: 30,
    clientsPerRadio: 512,
    radios: [
      { band: '5', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 80, streams: 4, antenna: patch(7.5) },
      { band: '6', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 160, streams: 4, antenna: patch(8) },
    ],
  },
  {
    id: 'petrel-o4',
    name: 'Petrel O4 outdoor',
    generation: 'Wi-Fi 6',
    mount: 'pole',
    outdoor: true,
    defaultHeightM: 4,
    poeW: 25.5,
    clientsPerRadio: 256,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 24, maxWidthMhz: 20, streams: 4, antenna: upright(4) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 24, maxWidthMhz: 80, streams: 4, antenna: upright(5) },
    ],
  },
  {
    id: 'redshank-w6',
    name: 'Redshank W6 wall plate',
    generation: 'Wi-Fi 6E',
    mount: 'wall',
    outdoor: false,
    defaultHeightM: 1.4,
    poeW: 19,
    clientsPerRadio: 128,
    radios: [
      { band: '2.4', minPowerDbm: 3, maxPowerDbm: 18, maxWidthMhz: 20, streams: 2, antenna: plate(2.6) },
      { band: '5', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 80, streams: 2, antenna: plate(3.2) },
      { band: '6', minPowerDbm: 3, maxPowerDbm: 20, maxWidthMhz: 160, streams: 2, antenna: plate(3.6) },
    ],
  },
];

/** Finds a model by its id: the catalogue's, or a project's with its own. @throws UpperRoomError MODEL_UNKNOWN */
export type ModelLookup = (modelId: string) => ApModel;

/** A model of the catalogue. @throws UpperRoomError MODEL_UNKNOWN */
export function modelOf(modelId: string): ApModel {
  const model = AP_MODELS.find((candidate) => candidate.id === modelId);
  if (model === undefined) throw new UpperRoomError('MODEL_UNKNOWN', { modelId });
  return model;
}

/** The model's radio in a band, or `null` when it has none. */
export const radioModelOf = ({ radios }: ApModel, band: Band): RadioModel | null => radios.find((radio) => radio.band === band) ?? null;

const keys = new WeakMap<ApModel, string>();
const kinds = new Map<string, string>();

/**
 * Short, and equal for models that send and hear alike: what fields are remembered by, of use in this window or worker alone. A model is immutable; one that is
 * edited is another.
 */
export function modelKey(model: ApModel): string {
  const known = keys.get(model);
  if (known !== undefined) return known;
  const content = JSON.stringify([model.id, model.generation, model.radios]);
  const key = kinds.get(content) ?? `${model.id}/${kinds.size}`;
  kinds.set(content, key);
  keys.set(model, key);
  return key;
}
