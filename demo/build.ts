import { NEW_PROJECT } from '@/core/design/commands';
import { USUAL_LEVELS } from '@/core/design/levelCommands';
import { applyChanges, type Change } from '@/core/design/step';
import {
  EMPTY_DESIGN,
  PROJECT_ID,
  type AccessPoint,
  type Design,
  type Floor,
  type Opening,
  type Project,
  type Radio,
  type Zone,
} from '@/core/design/design';
import type { SiteParameters } from '@/core/survey/site';
import type { Wall } from '@/core/building/wall';
import { modelOf } from '@/core/radio/catalogue';
import type { DomainId } from '@/core/radio/regulation';
import type { Band, WidthMhz } from '@/core/radio/band';

/** Channel, width and power of one radio; `null` is off. */
export type RadioText = readonly [channel: number, widthMhz: WidthMhz, txPowerDbm: number] | null;

/** A rectangle from its west, north, east and south. */
export const ring = ([west, north, east, south]: readonly [number, number, number, number]) => [
  { xM: west, yM: north },
  { xM: east, yM: north },
  { xM: east, yM: south },
  { xM: west, yM: south },
];

/** A small drafting board: collects a building by names and numbers, and gives the finished design. */
export class Draft {
  private changes: Change[] = [];
  private counts = new Map<string, number>();
  private sites: Record<string, SiteParameters> = {};

  constructor(private readonly prefix: string) {}

  private id(kind: string): string {
    const count = (this.counts.get(kind) ?? 0) + 1;
    this.counts.set(kind, count);
    return `${this.prefix}-${kind}-${String(count).padStart(3, '0')}`;
  }

  private add<T extends Change['table']>(table: T, record: Change['after'] & object): void {
    this.changes.push({ table, id: record.id, before: null, after: record } as Change);
  }

  project(name: string, domain: DomainId, brief: Partial<Project> = {}): void {
    for (const level of USUAL_LEVELS) this.add('serviceLevels', level);
    this.add('project', { ...NEW_PROJECT, ...brief, id: PROJECT_ID, name, units: 'metric', domain });
  }

  floor(floor: Omit<Floor, 'id' | 'slabMaterialId' | 'registeredWorstM' | 'slant' | 'exponent'> & Partial<Floor>): Floor {
    const record: Floor = { id: this.id('floor'), slabMaterialId: 'concrete', registeredWorstM: null, slant: false, exponent: null, ...floor };
    this.add('floors', record);
    return record;
  }

  variant(name: string, order: number): string {
    const id = this.id('variant');
    this.add('variants', { id, name, order, retune: null });
    return id;
  }

  /** Walls along a line of corners, over the floor's full height unless told otherwise. Returns them in order. */
  walls(floor: Floor, materialId: string, corners: ReadonlyArray<readonly [number, number]>, baseM = 0, topM = floor.ceilingM): Wall[] {
    return corners.slice(1).map((to, i) => {
      const from = corners[i]!;
      const wall: Wall = { id: this.id('wall'), floorId: floor.id, axM: from[0], ayM: from[1], bxM: to[0], byM: to[1], baseM, topM, materialId };
      this.add('walls', wall);
      return wall;
    });
  }

  private opening(opening: Omit<Opening, 'id' | 'hinge' | 'swing'>): void {
    this.add('openings', { id: this.id('opening'), hinge: 'a', swing: 'left', ...opening });
  }

  door(wall: Wall, atM: number, widthM = 0.9, materialId = 'wood'): void {
    this.opening({ wallId: wall.id, kind: 'door', atM, widthM, sillM: 0, headM: 2.1, materialId });
  }

  passage(wall: Wall, atM: number, widthM: number, headM = 2.6): void {
    this.opening({ wallId: wall.id, kind: 'passage', atM, widthM, sillM: 0, headM, materialId: 'open' });
  }

  /** Evenly spaced windows along a wall. */
  windows(wall: Wall, atM: readonly number[], widthM = 1.6, sillM = 0.9, headM = 2.6): void {
    for (const at of atM) this.opening({ wallId: wall.id, kind: 'window', atM: at, widthM, sillM, headM, materialId: 'glass' });
  }

  zone(floor: Floor, kind: Zone['kind'], name: string, box: readonly [number, number, number, number], owed: Partial<Zone> = {}): void {
    this.add('zones', {
      id: this.id('zone'),
      floorId: floor.id,
      kind,
      name,
      polygon: ring(box),
      holes: [],
      serviceLevelId: null,
      people: null,
      clutter: null,
      keepsOut: 'access points',
      ...owed,
    });
  }

  /** A rectangular opening in the slab under a floor. */
  slabOpening(floor: Floor, name: string, box: readonly [number, number, number, number]): void {
    this.add('slabOpenings', { id: this.id('slab-opening'), floorId: floor.id, name, polygon: ring(box), holes: [] });
  }

  ap(
    floor: Floor,
    variantId: string,
    name: string,
    modelId: string,
    at: readonly [x: number, y: number, height?: number, azimuth?: number, tilt?: number],
    radios: Partial<Record<Band, RadioText>>,
  ): AccessPoint {
    const model = modelOf(modelId);
    const list: Radio[] = model.radios.map(({ band }) => {
      const set = radios[band];
      const [channel, widthMhz, txPowerDbm] = set ?? [band === '2.4' ? 1 : band === '5' ? 36 : 5, 20 as const, 8];
      return { band, on: set !== null && set !== undefined, channel, widthMhz, txPowerDbm, locked: false, forbidden: [] };
    });
    const record: AccessPoint = {
      id: this.id('ap'),
      variantId,
      floorId: floor.id,
      name,
      modelId,
      xM: at[0],
      yM: at[1],
      heightM: at[2] ?? model.defaultHeightM,
      azimuthDeg: at[3] ?? 0,
      tiltDeg: at[4] ?? 0,
      locked: false,
      withheldSsids: [],
      radios: list,
    };
    this.add('accessPoints', record);
    return record;
  }

  /** What the floor is really like: never part of the design, only the simulated receiver asks. */
  site(floor: Floor, site: SiteParameters): void {
    this.sites[floor.id] = site;
  }

  finish(): DemoBuilding {
    return { design: applyChanges(EMPTY_DESIGN, this.changes), sites: this.sites };
  }
}

/** A made-up building: its design, and by floor what a receiver finds there. */
export type DemoBuilding = Readonly<{ design: Design; sites: Readonly<Record<string, SiteParameters>> }>;
