/** How high a heavy pane reaches: to the ceiling, or lower. 0 is not heavy. */
export const FULL = 1;
export const LOWER = 2;
