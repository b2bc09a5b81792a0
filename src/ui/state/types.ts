export const STAGES = ['brief', 'building', 'design', 'survey', 'air'] as const;
export type Stage = (typeof STAGES)[number];

/** Stages in which the plan shows a map with its lens and scale; in the others it is a drawing. */
export const hasMap = (stage: Stage): boolean => stage === 'design' || stage === 'survey';

export type Selection = {
  table:
    | 'accessPoints'
    | 'walls'
    | 'openings'
    | 'zones'
    | 'slabOpenings'
    | 'drawings'
    | 'materials'
    | 'serviceLevels'
    | 'apModels'
    | 'clientTypes'
    | 'marks'
    | 'emitters';
  ids: readonly string[];
} | null;

/** The plan's window: pixels per metre and the spot shown at the top left corner. */
export type View = Readonly<{ pxPerM: number; leftM: number; topM: number }>;

/** How a wall is drawn: straight from end to end, or as an arc over a third spot. */
export const WALL_SHAPES = ['straight', 'arc'] as const;
export type WallShape = (typeof WALL_SHAPES)[number];

/** How an area is drawn: by two corners of a box, corner by corner, or filled from the walls round a click. */
export const AREA_SHAPES = ['rectangle', 'corners', 'fill'] as const;
export type AreaShape = (typeof AREA_SHAPES)[number];

/** Part of the time of each walk, in s since it began; null where it is open. */
export type WalkTime = Readonly<{ fromS: number | null; toS: number | null }>;
