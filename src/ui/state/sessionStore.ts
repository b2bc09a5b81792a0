import { z } from 'zod';
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { idSchema, widthSchema } from '@/core/design/kinds/kind';
import type { Held } from '@/core/survey/fit/solve';
import type { SignalKind } from '@/core/spectrum/signal';
import type { Design } from '@/core/design/registry';
import type { AreaKind } from '@/core/design/areaCommands';
import type { Pair } from '@/core/geometry/similarity';
import type { OpeningKind } from '@/core/building/wall';
import type { PointM } from '@/core/geometry/point';
import { BANDS, type Band, type WidthMhz } from '@/core/radio/band';
import { COMMON_TYPE } from '@/core/radio/clientTypes';
import type { Change } from '@/core/design/step';
import type { RetuneSheet } from '@/core/planning/retune';
import type { PlanRules } from '@/core/planning/problem';
import type { HeardOutside } from '@/core/survey/outside';
import { LENSES, LENS_IDS, lensOf, type LensId } from '@/core/fields/lenses';
import { DIRECTIONS, type Direction } from '@/core/fields/quality';
import type { ToolId } from '../plan/tools/tools';
import { RAMPS, type RampName } from '../theme/tokens';
import type { HeardFrom } from './heardFrom';
import { STAGES, hasMap, type AreaShape, WallShape, type Selection, type Stage, type View, type WalkTime } from './types';

export { STAGES, hasMap, type Selection, type Stage, type View };

/**
 * What one window looks at: never part of a step. What would be a nuisance to set again after a reload is remembered in this browser.
 */
/**
 * A retune's sheet as it is looked at: with the floor whose radios it planned, under which rules and beside which networks of others; which rows are left out, by
 * `rowKey`, and what comes of the rest, null while nothing is left out or it is being worked out.
 */
export type ShownSheet = RetuneSheet &
  Readonly<{
    /** Floors that it is about, and the access points where only some are planned. */
    floorIds: readonly string[];
    only: readonly string[] | null;
    variantId: string;
    rules: PlanRules;
    countPeople: boolean;
    starts: number;
    /** It has been applied: it is there to be read. */
    applied: boolean;
    outside: readonly HeardOutside[];
    /** The floor on which they were heard. */
    outsideFloorId: string;
    left: readonly string[];
    rest: RetuneSheet | null;
  }>;

export type Session = {
  stage: Stage;
  floorId: string | null;
  variantId: string | null;
  lens: LensId;
  /** For lenses that tell kinds of area apart: only this kind, or all. */
  onlyKind: string | null;
  band: Band;
  /** Whether the client takes its band by its own rule, instead of the one that is chosen. */
  byClient: boolean;
  rank: 0 | 1 | 2;
  /** For lenses that ask for a channel width. */
  widthMhz: WidthMhz;
  direction: Direction;
  /** Of whom the map is: of some radios, or of all. */
  heardFrom: HeardFrom | null;
  /** The zone that the coverage curve is of, or all. */
  curveZoneId: string | null;
  /** The kind of client that the map is for. */
  clientId: string;
  ignoreBelowDbm: number;
  thresholds: Readonly<Record<LensId, number>>;
  source: 'predicted' | 'measured';
  reachM: number;
  /** Of what a swept receiver found: the channel, or whichever has most; and the kind of signal, or the one told most often. */
  sweptChannel: number | null;
  signalKind: SignalKind | null;
  /** Whether what was found that is not Wi-Fi counts as noise, in the lenses that can. */
  countEmitters: boolean;
  /** What a walk may not teach: kinds of what is learned that are held to the drawing. */
  held: Held;
  ramp: RampName;
  tool: ToolId;
  modelId: string;
  materialId: string;
  /** What the opening tool puts into walls. */
  openingKind: OpeningKind;
  /** What the area tool draws, and how. */
  areaKind: AreaKind;
  areaShape: AreaShape;
  wallShape: WallShape;
  /** Pairs of common points of a floor and the one below, while it is being laid over it. */
  pairs: Readonly<{ floorId: string; pairs: readonly Pair[] }> | null;
  /** Walls to be pasted, with their openings, and the floor they were copied on. */
  copied: Readonly<{ floorId: string; wallIds: readonly string[] }> | null;
  selection: Selection;
  pinned: PointM | null;
  /** Spots kept beside the pinned one, of whatever floor. */
  kept: readonly KeptSpot[];
  /** The access point whose row of the pinned readout is open; null for the strongest, or the one selected. */
  explainedApId: string | null;
  readoutAll: boolean;
  hover: PointM | null;
  preview: { kind: 'drag' | 'retune'; changes: readonly Change[] } | null;
  /** Null: the plan fits its window. */
  view: View | null;
  /** The finding of the checks that is looked at, by its key. */
  finding: string | null;
  /** The newest retune. */
  sheet: ShownSheet | null;
  evidence: string;
  evidenceOpen: boolean;
  /** Height of the evidence below its tabs. */
  evidencePx: number;
  /** What access points have written beside them. */
  tags: TagsShown;
  /** Whether the inspector is open in a narrow window; a wide one always shows it. */
  panelOpen: boolean;
  walkId: string | null;
  /** Walks whose samples count beside those of the walk in view. */
  alsoWalkIds: readonly string[];
  /** The walk that what was measured is held against. */
  earlierWalkId: string | null;
  /** Part of the time of each walk that alone counts; null for all of it. */
  walkTime: WalkTime;
  paletteOpen: boolean;
  retuneOpen: boolean;
  /** Whether positions are being proposed. */
  proposing: boolean;
  /** What the map is held against; null when nothing is compared. */
  against: Against | null;
  /** Whether the difference is drawn beside the two. */
  showDifference: boolean;
};

/** Another variant; the design without what is being tried out; the design as it stood after a step. */
export type Against =
  | Readonly<{ kind: 'variant'; variantId: string }>
  | Readonly<{ kind: 'saved' }>
  | Readonly<{ kind: 'step'; revision: number; title: string; design: Design }>;

export type KeptSpot = PointM & Readonly<{ floorId: string }>;

export const TAGS = ['zoom', 'full', 'name', 'mark'] as const;
export type TagsShown = (typeof TAGS)[number];

/** Limits of the evidence's height. */
export const EVIDENCE_PX = { min: 80, max: 420 } as const;

const START: Session = {
  stage: 'design',
  floorId: null,
  variantId: null,
  lens: 'signal',
  onlyKind: null,
  band: '5',
  byClient: false,
  rank: 0,
  widthMhz: 80,
  direction: 'down',
  clientId: COMMON_TYPE.id,
  heardFrom: null,
  curveZoneId: null,
  ignoreBelowDbm: -90,
  thresholds: Object.fromEntries(LENSES.map(({ id, threshold }) => [id, threshold?.start ?? 0])) as Record<LensId, number>,
  source: 'predicted',
  reachM: 5,
  sweptChannel: null,
  signalKind: null,
  countEmitters: false,
  held: [],
  ramp: 'tide',
  tool: 'select',
  modelId: 'dunlin-c2',
  materialId: 'plasterboard',
  openingKind: 'door',
  copied: null,
  areaKind: 'room',
  areaShape: 'rectangle',
  wallShape: 'straight',
  pairs: null,
  selection: null,
  pinned: null,
  kept: [],
  explainedApId: null,
  readoutAll: false,
  hover: null,
  preview: null,
  view: null,
  finding: null,
  sheet: null,
  evidence: 'radios',
  evidenceOpen: true,
  evidencePx: 138,
  tags: 'zoom',
  panelOpen: false,
  walkId: null,
  alsoWalkIds: [],
  earlierWalkId: null,
  walkTime: { fromS: null, toS: null },
  paletteOpen: false,
  retuneOpen: false,
  proposing: false,
  against: null,
  showDifference: false,
};

/** What is remembered, and what of it a browser's storage is believed. */
const rememberedSchema = z
  .object({
    stage: z.enum(STAGES),
    floorId: idSchema.nullable(),
    variantId: idSchema.nullable(),
    lens: z.enum(LENS_IDS),
    band: z.enum(BANDS),
    rank: z.literal([0, 1, 2]),
    widthMhz: widthSchema,
    direction: z.enum(DIRECTIONS),
    clientId: idSchema,
    ignoreBelowDbm: z.number().min(-100).max(-40),
    thresholds: z.partialRecord(z.enum(LENS_IDS), z.number()),
    reachM: z.number().min(0.5).max(50),
    ramp: z.enum(RAMPS),
    evidence: z.string().max(40),
    evidenceOpen: z.boolean(),
    evidencePx: z.number().min(EVIDENCE_PX.min).max(EVIDENCE_PX.max),
    tags: z.enum(TAGS),
    walkId: idSchema.nullable(),
    alsoWalkIds: z.array(idSchema).max(500).readonly(),
    earlierWalkId: idSchema.nullable(),
  })
  .partial();
const REMEMBERED = Object.keys(rememberedSchema.shape) as Array<keyof z.infer<typeof rememberedSchema>>;

export const useSession = create<Session & { set(fields: Partial<Session>): void }>()((set) => ({ ...START, set }));

/** Some fields of the session: what uses them is drawn again only when one of them changes, and not on every move of the pointer. */
export function useSessionFields<K extends keyof Session>(...fields: readonly K[]): Pick<Session, K> & { set(fields: Partial<Session>): void } {
  return useSession(
    useShallow((s) => ({ ...(Object.fromEntries(fields.map((field) => [field, s[field]])) as unknown as Pick<Session, K>), set: s.set })),
  );
}

const keyOf = (projectId: string) => `upper-room.session.${projectId}`;

/** Narrower than this is a phone: as the style sheet has it. */
const PHONE_PX = 720;

/** Starts a window on a project: what was remembered, else the beginning. Settings that cannot be read are only settings: they begin anew. */
export function beginSession(projectId: string): void {
  const text = stored(keyOf(projectId));
  const parsed = rememberedSchema.safeParse(text === null ? {} : readJson(text));
  const remembered = parsed.success ? (parsed.data as Partial<Session>) : {};
  // A lens that came since has its threshold from the registry.
  // What only a walk can show was of samples.
  const source = lensOf(remembered.lens ?? START.lens).measuredOnly ? 'measured' : START.source;
  // On a phone the plan has the room: the tables are folded until they are asked for.
  const evidenceOpen = window.innerWidth >= PHONE_PX && (remembered.evidenceOpen ?? START.evidenceOpen);
  useSession.setState({ ...START, ...remembered, evidenceOpen, source, thresholds: { ...START.thresholds, ...remembered.thresholds } });
}

function stored(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    // A browser that refuses its storage remembers nothing: the session begins anew.
    return null;
  }
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** Remembers from now on; returns the way to stop. */
export function rememberSession(projectId: string): () => void {
  // Written when something remembered changed, not on every move of the pointer; a storage that refuses costs only the memory.
  return useSession.subscribe((session, before) => {
    if (REMEMBERED.every((key) => session[key] === before[key])) return;
    try {
      localStorage.setItem(keyOf(projectId), JSON.stringify(Object.fromEntries(REMEMBERED.map((key) => [key, session[key]]))));
    } catch (error) {
      console.warn('The browser refuses its storage; the view is not remembered.', error);
    }
  });
}

/** A pinned spot is explained down to this level, in dBm. */
export const LEAST_EXPLAINED_DBM = -110;

/** Tools that work on a drawing picked on the floor in view. */
const TOOLS_OF_A_DRAWING: readonly ToolId[] = ['review', 'lay'];

/** Shows another floor whole: what was picked on the one before is let go, and so is a tool that worked on it. */
export function showFloor(floorId: string): void {
  const { tool, set } = useSession.getState();
  set({ floorId, view: null, pinned: null, selection: null, ...(TOOLS_OF_A_DRAWING.includes(tool) ? { tool: 'select' } : {}) });
}
