export const STAGES = ['building', 'design', 'survey'] as const;
export type Stage = (typeof STAGES)[number];

export type Selection = {
  table: 'accessPoints' | 'walls' | 'openings' | 'zones' | 'slabOpenings' | 'drawings' | 'materials';
  ids: readonly string[];
} | null;

/** The plan's window: pixels per metre and the spot shown at the top left corner. */
export type View = Readonly<{ pxPerM: number; leftM: number; topM: number }>;

/** How an area is drawn: by two corners of a box, corner by corner, or filled from the walls round a click. */
export const AREA_SHAPES = ['rectangle', 'corners', 'fill'] as const;
export type AreaShape = (typeof AREA_SHAPES)[number];
