import type { Design } from '@/core/design/design';
import type { ErrorCode } from '@/core/errors';
import type { Sample } from '@/core/survey/sample';
import type { SiteParameters } from '@/core/survey/site';
import type { Leg, Stretch } from '@/core/survey/walk';
import type { NextPlace } from '@/core/survey/next';
import type { PlannedRoute, WalkGround } from '@/core/survey/route';
import type { PointM } from '@/core/geometry/point';
import type { Grid } from '@/core/geometry/grid';
import type { Kind, LensId } from '@/core/fields/lenses';
import type { Found, FindOptions } from '@/core/finding/findWalls';
import type { Picture } from '@/core/finding/picture';
import type { DxfDrawing } from '@/core/formats/dxf';
import type { AirSpot } from '@/core/air/radio';
import type { AirAnswer, AirQuestion, AirWhere } from '@/contract/air';
import type { Score, ScoreRequest } from '@/contract/site';
import type { TransferAnswer, TransferRequest } from '@/contract/http';
import type { Counted, HeardOnStretch } from '@/core/survey/heard';
import type { Contour } from '@/core/fields/contour';
import type { DifferenceStatistics } from '@/core/fields/difference';
import type { OwedShares, Requirements } from '@/core/fields/owed';
import type { Direction } from '@/core/fields/quality';
import type { FieldStatistics, ServedBy } from '@/core/fields/statistics';
import type { AgainstModel, DesignedRadio } from '@/core/survey/againstModel';
import type { HeardOutside } from '@/core/survey/outside';
import type { PlanRadio, PlanRules } from '@/core/planning/problem';
import type { GroupShare } from '@/core/planning/positions/positions';
import type { Positions } from '@/core/planning/positions/proposed';
import type { RetuneProgress, RetuneSheet } from '@/core/planning/retune';
import type { Medium } from '@/core/propagation/medium';
import type { Pose } from '@/core/propagation/crossing';
import type { Band, WidthMhz } from '@/core/radio/band';
import type { BandRule } from '@/core/radio/bandRule';
import type { ApModel } from '@/core/radio/catalogue';
import type { Channel } from '@/core/radio/channel';
import type { Receiver } from '@/core/radio/receiver';
import type { Fault } from '@/core/survey/fit/faults';
import type { MapBasis } from '@/core/survey/fit/fit';
import type { OtherChannel } from '@/core/survey/otherChannel';
import type { Held } from '@/core/survey/fit/solve';
import type { Located } from '@/core/survey/fit/locate';
import type { FitSummary } from '@/core/survey/fit/summary';
import type { Surveyed } from '@/core/survey/fit/surveyed';
import type { SignalKind } from '@/core/spectrum/signal';
import type { MeasuredSpot } from '@/core/survey/measured';
import type { PackedHeard } from '@/core/survey/packed';

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

/** Something that was found that sends and is not Wi-Fi: where, of which kind, about which frequency, and how strong while it is on (EIRP). */
export type SceneEmitter = Readonly<{ pose: Pose; signal: SignalKind; centreMhz: number; eirpDbm: number }>;

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
  /** What counts as noise besides, for the lenses that say so. */
  emitters: readonly SceneEmitter[];
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

/** A floor that is planned, with the cells where service is owed and the people expected, zone by zone. */
export type RetuneFloor = Readonly<{
  name: string;
  scene: Scene;
  mask: Uint8Array;
  people: ReadonlyArray<Readonly<{ mask: Uint8Array; count: number }>>;
}>;

/** A radio to plan, with where it hangs and its loss to every cell of each floor. `home`: the place of its own floor among them; -1 where it is of another. */
export type RetuneRadio = Omit<PlanRadio, 'lossToRadioDb' | 'cellLossDb' | 'lossDb'> &
  Readonly<{ pose: Pose; home: number; lossDb: readonly Float32Array[] }>;

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

/** A radio at a place, as far as level and rate go. `scene` is the place of its floor's scene among those asked. */
export type PlacedRadio = Readonly<{ model: ApModel; pose: Pose; txPowerDbm: number; widthMhz: WidthMhz; scene: number }>;

/** Where one may hang: of those at one place one at most; how far the next wall is; and of which kind, for equal radios turned the same way. */
export type Candidate = PlacedRadio & Readonly<{ place: number; clearanceM: number; kind: number }>;

/** A radio that hangs, with its loss to the points of each scene, in dB; null where that is to be computed. */
export type HungRadio = PlacedRadio & Readonly<{ locked: boolean; lossDb: ReadonlyArray<Float32Array | null> }>;

/** What is asked of a spot: a level, an SNR or a rate, from one radio or from two. */
export type Ask = Readonly<{ what: 'level'; dbm: number } | { what: 'snr'; db: number } | { what: 'rate'; mbps: number }>;

/** What is owed in a zone by one requirement, at the points of a mask of one scene. */
export type Demand = Readonly<{ scene: number; zone: string; name: string; mask: Uint8Array; need: 1 | 2; ask: Ask; share: number }>;

/** Floors of which positions are asked, with the points at which what is owed is looked at, and what it is, in one band. */
export type PositionQuestion = Readonly<{ scenes: readonly Scene[]; band: Band; demands: readonly Demand[] }>;

/** What people want of the air: how many at the points of each mask, the Mb/s of each, and the share of its airtime that a radio may spend on it. */
export type CrowdAsked = Readonly<{
  people: ReadonlyArray<Readonly<{ scene: number; mask: Uint8Array; count: number }>>;
  mbpsEach: number;
  airtimeShare: number;
}>;

/** What the receiver hears on a stretch of a walk; only the server has the site's truth to ask with. */
export type ListenParams = { design: Design; site: SiteParameters; stretch: Stretch };

/** What a walk is asked: its samples, of the radios of one band as they are designed. Fields are wanted on the scene's cells. */
export type SurveyQuestion = Readonly<{ scene: Scene; radios: readonly DesignedRadio[]; heard: Counted; held: Held }>;

/** The measured map of an access point's radio. */
export type SurveyedMap = Surveyed & Readonly<{ apId: string }>;

/** Something that is not as drawn, with the access points that it is about. */
export type FoundFault = (Fault | OtherChannel) & Readonly<{ apIds: readonly string[] }>;

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
        /** What was measured of each on the earlier walk, for the lens that asks for it. */
        measuredThen?: readonly SurveyedMap[] | null;
        /** What a swept receiver found, in dBm a cell, for the lenses that show that. */
        swept?: Float32Array | null;
        /** What passes, for the lens that says where that is sure. */
        passDbm?: number;
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
    params: {
      floors: readonly RetuneFloor[];
      radios: readonly RetuneRadio[];
      rules: PlanRules;
      /** Whether a spot counts by the people expected there, or every spot alike. */
      countPeople: boolean;
      outside: readonly HeardOutside[];
      /** The place of the floor on which they were heard. */
      outsideFloor: number;
      seed: number;
    };
    progress: RetuneProgress;
    result: RetuneSheet;
  };
  /** What a walk teaches: what maps are made from, of which radios, by their place among those that were asked for, and what is told of it. */
  learned: {
    params: Omit<SurveyQuestion, 'heard'> & Readonly<{ heard: PackedHeard }>;
    progress: never;
    result: Readonly<{ basis: MapBasis; heard: readonly number[]; summary: FitSummary }>;
  };
  /** The measured maps of some radios, `which` by their place among those of the basis, whose access points `apIds` names; up to `reachM` from a reading of each. */
  measuredMaps: {
    params: Pick<Scene, 'grid' | 'planeZM'> & Readonly<{ basis: MapBasis; apIds: readonly string[]; which: readonly number[]; reachM: number }>;
    progress: never;
    result: readonly SurveyedMap[];
  };
  /** The map of what a swept receiver found on a walk. */
  sweptMap: {
    params: Readonly<{ scene: Scene; band: Band; spots: readonly MeasuredSpot[]; reachM: number }>;
    progress: never;
    result: Float32Array;
  };
  /** What the samples say is not as drawn, in the order of evidence. */
  faults: { params: SurveyQuestion; progress: never; result: readonly FoundFault[] };
  /** Where a transmitter is that was heard on a walk; null where too little was heard of it. `radios`: those of the design in its band, by which the building is learned. */
  locate: {
    params: Readonly<{
      scene: Scene;
      radios: readonly DesignedRadio[];
      heard: Counted;
      bssid: string;
      band: Band;
      heightM: number;
      mask: Uint8Array;
      grid: Grid;
    }>;
    progress: never;
    result: Located | null;
  };
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
  /** The fewest of some candidates, besides what stands, that meet what is owed; told by their places among the candidates. */
  positions: {
    params: PositionQuestion &
      Readonly<{
        candidates: readonly Candidate[];
        standing: readonly PlacedRadio[];
        crowd: CrowdAsked | null;
        seed: number;
        /** Rounds without anything better after which it ends. */
        idleRounds: number;
      }>;
    /** The share of levels computed, then the best so far. */
    progress: Readonly<{ done: number; best: Positions | null }>;
    result: Positions;
  };
  /** What is met with what hangs, and by how much the share of each demand falls without each. */
  met: {
    params: PositionQuestion & Readonly<{ hung: readonly HungRadio[] }>;
    progress: never;
    result: Readonly<{ groups: readonly GroupShare[]; lost: ReadonlyArray<readonly number[]> }>;
  };
  /** Which can go together, and nothing falls below what is owed, or below what it is; and what is met then. */
  thinOut: {
    params: PositionQuestion & Readonly<{ hung: readonly HungRadio[]; seed: number }>;
    progress: never;
    result: Readonly<{ goes: readonly number[]; groups: readonly GroupShare[] }>;
  };
  /** Which go a little aside to serve more: the place among `aside` for each that moves; and what is met then. `of`: which of those that hang. */
  moveAside: {
    params: PositionQuestion & Readonly<{ hung: readonly HungRadio[]; aside: ReadonlyArray<PlacedRadio & Readonly<{ of: number; movedM: number }>> }>;
    progress: Readonly<{ done: number }>;
    result: Readonly<{ moves: readonly number[]; groups: readonly GroupShare[] }>;
  };
  /** A walk past all that is to be seen of a floor. Progress is the share of ways worked out. */
  route: {
    params: { ground: WalkGround; grid: Grid; toSee: Uint8Array; everyM: number; start: PointM | null };
    progress: number;
    result: PlannedRoute;
  };
  /** Places to walk to next, weighed against each other. Progress is the share of ways worked out. */
  nextPlaces: {
    params: { ground: WalkGround; grid: Grid; unsure: Uint8Array; everyM: number; start: PointM | null };
    progress: number;
    result: readonly NextPlace[];
  };
  findWalls: { params: { picture: Picture; options: FindOptions }; progress: number; result: Found };
  /** Walks out of a table of samples. `owners`: access points by address. */
  readSamples: {
    params: Readonly<{ bytes: Uint8Array; owners: ReadonlyMap<string, string> }>;
    progress: never;
    result: ReadonlyArray<Readonly<{ walk: string; legs: readonly Leg[]; samples: readonly Sample[] }>>;
  };
  /** Samples out of a capture: where it says itself where they were heard, else along a walk's clicks. */
  readBeacons: {
    params: Readonly<{ bytes: Uint8Array; owners: ReadonlyMap<string, string>; along: Readonly<{ legs: readonly Leg[]; startUs: number }> | null }>;
    progress: never;
    result:
      | Readonly<{ kind: 'placed'; others: number; startUs: number; legs: readonly Leg[]; samples: readonly Sample[] }>
      | Readonly<{ kind: 'along'; others: number; startUs: number; byClock: boolean; samples: readonly Sample[]; outside: number }>
      | Readonly<{ kind: 'nowhere' }>;
  };
  writeCapture: { params: Readonly<{ samples: readonly Sample[]; startedAtMs: number }>; progress: never; result: Uint8Array<ArrayBuffer> };
  readDxf: { params: { text: string }; progress: never; result: DxfDrawing };
  /** How a survey compares with the simulated site's truth. */
  score: { params: Readonly<{ design: Design; site: SiteParameters; asked: ScoreRequest; heard: Counted }>; progress: never; result: Score };
  /** A throughput test on the simulated site; null where nothing of the design is heard. */
  transfer: { params: { design: Design; site: SiteParameters; asked: TransferRequest }; progress: never; result: TransferAnswer };
  /** What arrives at a spot of the simulated site, whenever it is on. */
  airAt: { params: { design: Design; site: SiteParameters; where: AirWhere }; progress: never; result: AirSpot };
  /** What the instruments measure there. */
  air: { params: { spot: AirSpot; asked: AirQuestion }; progress: never; result: AirAnswer };
  listen: { params: ListenParams; progress: never; result: HeardOnStretch };
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
