import { z } from 'zod';
import { create } from 'zustand';
import { idSchema } from '@/core/design/kinds/kind';
import type { PointM } from '@/core/geometry/point';
import { BANDS, type Band } from '@/core/radio/band';
import type { Change } from '@/core/design/step';
import type { RetuneSheet } from '@/core/planning/retune';
import { LENSES, type LensKind } from '@/engine/protocol';
import { RAMPS, type RampName } from '../theme/tokens';

export const STAGES = ['building', 'design', 'survey'] as const;
export type Stage = (typeof STAGES)[number];

export type Tool = 'select' | 'ap' | 'wall' | 'length' | 'walk';

export type Selection = { table: 'accessPoints' | 'walls' | 'openings'; ids: readonly string[] } | null;

/** The plan's window: pixels per metre and the spot shown at the top left corner. */
export type View = Readonly<{ pxPerM: number; leftM: number; topM: number }>;

/**
 * What one window looks at: never part of a step. What would be a nuisance to set again after a reload is remembered in this browser.
 */
export type Session = {
  stage: Stage;
  floorId: string | null;
  variantId: string | null;
  lens: LensKind;
  band: Band;
  rank: 0 | 1 | 2;
  /** Only this access point, or all. */
  heardApId: string | null;
  ignoreBelowDbm: number;
  thresholds: Readonly<Record<LensKind, number>>;
  source: 'predicted' | 'measured';
  reachM: number;
  ramp: RampName;
  tool: Tool;
  modelId: string;
  materialId: string;
  selection: Selection;
  pinned: PointM | null;
  hover: PointM | null;
  preview: { kind: 'drag' | 'retune'; changes: readonly Change[] } | null;
  /** Null: the plan fits its window. */
  view: View | null;
  sheet: RetuneSheet | null;
  evidence: string;
  evidenceOpen: boolean;
  walkId: string | null;
  paletteOpen: boolean;
  retuneOpen: boolean;
};

const START: Session = {
  stage: 'design',
  floorId: null,
  variantId: null,
  lens: 'signal',
  band: '5',
  rank: 0,
  heardApId: null,
  ignoreBelowDbm: -90,
  thresholds: { signal: -67, snr: 25, contention: 1, serving: 0 },
  source: 'predicted',
  reachM: 5,
  ramp: 'tide',
  tool: 'select',
  modelId: 'dunlin-c2',
  materialId: 'plasterboard',
  selection: null,
  pinned: null,
  hover: null,
  preview: null,
  view: null,
  sheet: null,
  evidence: 'radios',
  evidenceOpen: true,
  walkId: null,
  paletteOpen: false,
  retuneOpen: false,
};

/** What is remembered, and what of it a browser's storage is believed. */
const rememberedSchema = z
  .object({
    stage: z.enum(STAGES),
    floorId: idSchema.nullable(),
    variantId: idSchema.nullable(),
    lens: z.enum(LENSES),
    band: z.enum(BANDS),
    rank: z.literal([0, 1, 2]),
    ignoreBelowDbm: z.number().min(-100).max(-40),
    thresholds: z.record(z.enum(LENSES), z.number()),
    reachM: z.number().min(0.5).max(50),
    ramp: z.enum(RAMPS),
    evidence: z.string().max(40),
    evidenceOpen: z.boolean(),
    walkId: idSchema.nullable(),
  })
  .partial();
const REMEMBERED = Object.keys(rememberedSchema.shape) as Array<keyof z.infer<typeof rememberedSchema>>;

export const useSession = create<Session & { set(fields: Partial<Session>): void }>()((set) => ({ ...START, set }));

const keyOf = (projectId: string) => `upper-room.session.${projectId}`;

/** Starts a window on a project: what was remembered, else the beginning. Settings that cannot be read are only settings: they begin anew. */
export function beginSession(projectId: string): void {
  const text = localStorage.getItem(keyOf(projectId));
  const parsed = rememberedSchema.safeParse(text === null ? {} : readJson(text));
  useSession.setState({ ...START, ...(parsed.success ? (parsed.data as Partial<Session>) : {}) });
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
  return useSession.subscribe((session) => {
    localStorage.setItem(keyOf(projectId), JSON.stringify(Object.fromEntries(REMEMBERED.map((key) => [key, session[key]]))));
  });
}
