import type { Design } from '@/core/design/design';
import type { ErrorCode } from '@/core/errors';
import type { Sample } from '@/core/survey/sample';
import type { SiteParameters } from '@/core/survey/site';
import type { Stretch } from '@/core/survey/walk';
import type { Grid } from '@/core/geometry/grid';
import type { Kind, LensId } from '@/core/fields/lenses';
import type { Found, FindOptions } from '@/core/finding/findWalls';
import type { Picture } from '@/core/finding/picture';
import type { DxfDrawing } from '@/core/formats/dxf';
import type { Contour } from '@/core/fields/contour';
import type { DifferenceStatistics } from '@/core/fields/difference';
import type { OwedShares, Requirements } from '@/core/fields/owed';
import type { Direction } from '@/core/fields/quality';
import type { FieldStatistics, ServedBy } from '@/core/fields/statistics';
import type { AgainstModel, DesignedRadio } from '@/core/survey/againstModel';
import type { HeardOutside } from '@/core/survey/outside';
import type { PlanRadio, PlanRules } from '@/core/planning/problem';
import type { PositionGroup, Positions } from '@/core/planning/positions/positions';
import type { RetuneProgress, RetuneSheet } from '@/core/planning/retune';
import type { Medium } from '@/core/propagation/medium';
import type { Pose } from '@/core/propagation/ray';
import type { Band, WidthMhz } from '@/core/radio/band';
import type { BandRule } from '@/core/radio/bandRule';
import type { ApModel } from '@/core/radio/catalogue';
import type { Channel } from '@/core/radio/channel';
import type { Receiver } from '@/core/radio/receiver';
import type { Fault } from '@/core/survey/fit/faults';
import type { Held } from '@/core/survey/fit/fit';
import type { FitSummary } from '@/core/survey/fit/summary';
import type { Surveyed } from '@/core/survey/fit/surveyed';

/**
 * Where fields are wanted and through what, as every field call needs it: the medium in the building's z, the cells of one plane at
 * `planeZM`, and what receives there. `key` names the state, `mediumKey` that of the medium alone: workers keep what they derive from them.
 */
export type Scene = Readonly<{ key: string; mediumKey: string; medium: Medium; grid: Grid; planeZM: number; receiver: Receiver }>;

/**
 * A radio that is on, with where it hangs. Without a loss field the call computes it: one message to and fro a frame for the access
 * point being dragged, whose fields nobody needs again.
 */
export type SceneRadio = Readonly<{
  apId: string;
  name: string;
  model: ApModel;
  pose: Pose;
  channel: Channel;
  txPowerDbm: number;
  lossDb: Float32Array | null;
}>;

/** What a lens is asked. */
export type LensQuestion = Readonly<{
  scene: Scene;
  lens: LensId;
  /** Only areas of this kind, or all. */
  onlyKind: string | null;
  rank: 0 | 1 | 2;
  /** For lenses that ask for a channel width. */
  widthMhz: WidthMhz;
  /** For lenses that ask for a direction. */
  direction: Direction;
  /** Zones where service is owed, and what; null where nobody has said. */
  zones: ReadonlyArray<Readonly<{ id: string; mask: Uint8Array; level: Requirements | null }>>;
  /** Of one band, or, where there is a rule, of all that the client knows, band by band from the lowest. */
  radios: readonly SceneRadio[];
  /** How the client takes a band; null where the map is of one. */
  bandRule: BandRule | null;
  ignoreBelowDbm: number;
}>;

export type LensResult = Readonly<{
  values: Float32Array;
  /** Index of the strongest radio per cell, -1 where none is heard. */
  serving: Int16Array;
  /** Of what was measured, where it shows samples. */
  statistics: FieldStatistics;
  /** The area where service is owed, measured or not. */
  wholeM2: number;
  share: number;
  /** Share of area that meets each level of the lens' curve. */
  curve: readonly number[];
  /** For lenses that tell kinds apart: each kind with its tint and area; empty for others. */
  kinds: ReadonlyArray<Kind & Readonly<{ tint: number; areaM2: number }>>;
  served: readonly ServedBy[];
  /** Level of the strongest per cell, for the lens that shows what is left without it; null for others. */
  strongest: Float32Array | null;
  /**
   * For lenses that count sharing radios, per serving radio: their mean over its area, and who they are, each with the share of that area in
   * which it counts, most first. Null for others.
   */
  sharers: ReadonlyArray<Readonly<{ mean: number; who: ReadonlyArray<Readonly<{ radio: number; share: number }>> }>> | null;
  /** Mean over the service area of the lens' values. */
  mean: number;
  /** Per zone: the share of its area that meets the threshold, for lenses that have one; what of its service level is met, for the lens that asks. */
  zones: ReadonlyArray<Readonly<{ zoneId: string; share: number | null; owed: OwedShares | null }>>;
}>;

/** One of two maps that are held against each other. */
export type DifferenceSide = Readonly<{ values: Float32Array; kinds: readonly string[] }>;

/** A radio to plan, with where it hangs and its loss to every cell of the floor. */
export type RetuneRadio = Omit<PlanRadio, 'lossToRadioDb' | 'cellLossDb'> & Readonly<{ pose: Pose }>;

/** What is owed in a zone and where it is met, of one band. `worstAt`: the weakest cell in which something fails; -1 where nothing does. */
export type InspectedZone = Readonly<{ zoneId: string; shares: OwedShares; asked: readonly boolean[]; worstAt: number }>;

/** What a floor's radios of one band do there: for the checks, over the area where service is owed. Radios are told by their place in the question. */
export type Inspected = Readonly<{
  radios: ReadonlyArray<
    Readonly<{
      servedM2: number;
      people: number;
      sharers: number;
      who: ReadonlyArray<Readonly<{ radio: number; share: number }>>;
      overlap: Readonly<{ own: number; half: number; halfMhz: WidthMhz }> | null;
      touching: readonly number[];
    }>
  >;
  heard: Readonly<{ secondShare: number; mean: number; mostAt: number }>;
  zones: readonly InspectedZone[];
}>;

/** A radio at a place, as far as its level goes. */
export type PlacedRadio = Readonly<{ model: ApModel; pose: Pose; txPowerDbm: number }>;

/** What the receiver hears on a stretch of a walk; only the server has the site's truth to ask with. */
export type ListenParams = { design: Design; site: SiteParameters; stretch: Stretch };

/** What a walk is asked: its samples, of the radios of one band as they are designed. Fields are wanted on the scene's cells. */
export type SurveyQuestion = Readonly<{ scene: Scene; radios: readonly DesignedRadio[]; samples: readonly Sample[]; held: Held }>;

/** The measured map of an access point's radio. */
export type SurveyedMap = Surveyed & Readonly<{ apId: string }>;

/** Something that is not as drawn, with the access points that it is about. */
export type FoundFault = Fault & Readonly<{ apIds: readonly string[] }>;

/** Every call of the engine: add a row here first; the compiler finds every place to update. */
export interface WorkerCalls {
  /** The fields of an access point's three bands, walls met at the frequencies of these channels and elsewhere at the bands' middle. */
  lossField: {
    params: { scene: Scene; model: ApModel; pose: Pose; channels: readonly Channel[] };
    progress: never;
    result: { lossDb: Float32Array[] };
  };
  lens: {
    params: LensQuestion &
      Readonly<{
        mask: Uint8Array;
        /** Colours to choose from, and those that kinds had before and keep: while something is dragged nothing changes its colour. */
        palette: readonly string[];
        keptTints: Readonly<Record<string, number>>;
        /** The access point being dragged, whose radio is merged into the others' result; null when nothing moves. */
        movingApId: string | null;
        /** What was measured of each radio, where samples are shown. */
        measured: readonly SurveyedMap[] | null;
        threshold: number;
      }>;
    progress: never;
    result: LensResult;
  };
  /** What the lens shows in the cells of `scene`, with contours and nothing counted: a part of a floor, finer than its own cells. */
  detail: {
    params: LensQuestion & Readonly<{ levels: readonly number[] }>;
    progress: never;
    result: Readonly<{ values: Float32Array; contours: Contour[] }>;
  };
  /** The shares alone, of all and of each zone: what a moved threshold changes. */
  share: {
    params: { lens: LensId; values: Float32Array; mask: Uint8Array; zones: readonly Uint8Array[]; threshold: number };
    progress: never;
    result: Readonly<{ all: number; zones: ReadonlyArray<number | null> }>;
  };
  /** How one map differs from another of the same lens and cells; `kinds` are the names of the kinds that each map's values count. */
  difference: {
    params: {
      lens: LensId;
      now: DifferenceSide;
      then: DifferenceSide;
      mask: Uint8Array;
      threshold: number;
    };
    progress: never;
    result: Readonly<{ values: Float32Array; statistics: DifferenceStatistics }>;
  };
  contours: { params: { grid: Grid; values: Float32Array; levels: readonly number[] }; progress: never; result: Contour[] };
  retune: {
    params: { scene: Scene; mask: Uint8Array; radios: readonly RetuneRadio[]; rules: PlanRules; outside: readonly HeardOutside[]; seed: number };
    progress: RetuneProgress;
    result: RetuneSheet;
  };
  /** The measured map of every radio that was heard, up to `reachM` from a reading of it. */
  surveyed: {
    params: SurveyQuestion & Readonly<{ reachM: number }>;
    progress: never;
    result: Readonly<{ maps: readonly SurveyedMap[]; summary: FitSummary }>;
  };
  /** What the samples say is not as drawn, in the order of evidence. */
  faults: { params: SurveyQuestion; progress: never; result: readonly FoundFault[] };
  /** A walk's samples beside the model, at their own places. */
  againstModel: { params: { scene: Scene; radios: readonly DesignedRadio[]; samples: readonly Sample[] }; progress: never; result: AgainstModel[] };
  inspect: {
    params: {
      scene: Scene;
      mask: Uint8Array;
      zones: ReadonlyArray<Readonly<{ id: string; mask: Uint8Array; level: Requirements }>>;
      /** People expected, spread evenly over the cells of each zone. */
      people: ReadonlyArray<Readonly<{ mask: Uint8Array; count: number }>>;
      radios: readonly SceneRadio[];
    };
    progress: never;
    result: Inspected;
  };
  /** The fewest of some candidates, besides what stands, that meet what is owed on a floor in one band. Masks are of the scene's cells. */
  positions: {
    params: {
      scene: Scene;
      band: Band;
      candidates: readonly PlacedRadio[];
      standing: readonly PlacedRadio[];
      groups: readonly PositionGroup[];
      seed: number;
      /** Rounds without anything better after which it ends. */
      idleRounds: number;
    };
    /** The share of levels computed, then the best so far. */
    progress: Readonly<{ done: number; best: Positions | null }>;
    result: Positions;
  };
  findWalls: { params: { picture: Picture; options: FindOptions }; progress: number; result: Found };
  readDxf: { params: { text: string }; progress: never; result: DxfDrawing };
  listen: { params: ListenParams; progress: never; result: { samples: Sample[]; channels: number } };
}

export type CallName = keyof WorkerCalls;
export type Params<K extends CallName> = WorkerCalls[K]['params'];
export type Result<K extends CallName> = WorkerCalls[K]['result'];
export type Progress<K extends CallName> = WorkerCalls[K]['progress'];

export type ToWorker =
  { type: 'start'; jobId: number; call: CallName; params: unknown } | { type: 'cancel'; jobId: number } | { type: 'stop'; jobId: number };
export type FromWorker =
  | { type: 'progress'; jobId: number; progress: unknown }
  | { type: 'done'; jobId: number; result: unknown }
  | { type: 'failed'; jobId: number; code: ErrorCode; details: Record<string, unknown> };
