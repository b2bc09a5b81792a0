export const STAGES = ['building', 'design', 'survey'] as const;
export type Stage = (typeof STAGES)[number];

export type Selection = {
  table: 'accessPoints' | 'walls' | 'openings' | 'zones' | 'slabOpenings' | 'drawings' | 'materials';
  ids: readonly string[];
} | null;

/** The plan's window: pixels per metre and the spot shown at the top left corner. */
export type View = Readonly<{ pxPerM: number; leftM: number; topM: number }>;
