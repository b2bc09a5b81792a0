import type { Grid } from '../geometry/grid';

/** Where a field is wanted: the cells, their height in the building's z, and what receives there. */
export type Plane = Readonly<{ grid: Grid; zM: number; gainDbi: number }>;
