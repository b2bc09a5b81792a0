import type { Grid } from '../../geometry/grid';
import type { Medium } from '../../propagation/medium';
import { eachCellSeeing, hiddenWithin } from '../measured';
import { ofRadio, slopesOver } from './estimates';
import { MAP_NEAR, type MapBasis } from './fit';
import { latticeOver, overLattice, placesOfNodes } from './lattice';
import { shadowsAt } from './shadows';
import { correctedMedium } from './trend';
import { unknownAt } from './unknown';

/** What a radio's level is taken to be at every cell, in dBm, and the standard deviation of that, in dB; NaN where nobody measured near enough. */
export type Surveyed = Readonly<{ levelDbm: Float32Array; sdDb: Float32Array }>;

/**
 * Shadows are smooth: they are worked out at nodes and taken straight between. Nodes lie a third of the shadows' reach apart, within these bounds, in m. What walls do is exact in every cell.
 * What is unknown besides changes slower still.
 */
const NODES_PER_REACH = 3;
const NODE_M = { least: 0.5, most: 2 } as const;
const REST_NODE_M = 3;

/** How many cells lie from node to node: whole ones, so that what is said at a node is said in a cell. */
export const nodeCells = ({ scatter: { correlationM } }: Pick<MapBasis, 'scatter'>, { cellM }: Grid): number =>
  Math.max(1, Math.round(Math.max(NODE_M.least, Math.min(NODE_M.most, correlationM / NODES_PER_REACH)) / cellM));
/** How many nodes lie from one at which all is worked out to the next. */
const restNodes = (basis: MapBasis, grid: Grid): number => Math.max(1, Math.round(REST_NODE_M / (nodeCells(basis, grid) * grid.cellM)));

/** Far below what any receiver hears nothing is claimed: nobody asks for it, and shadows cost time. */
const LEAST_DBM = -110;

/** The medium as the readings have it. */
export const learnedMedium = ({ parameters, estimates, medium, radios }: MapBasis): Medium =>
  correctedMedium(medium, radios[0]!.channel.band, parameters, estimates);

/** What of a radio's level is its own and the receiver's, beyond the design, in dB. */
export const ownGainDb = ({ parameters, estimates }: MapBasis, radio: number): number =>
  parameters.reduce((sum, p, i) => sum + (p.kind === 'offset' || (p.kind === 'radio' && p.radio === radio) ? estimates[i]! : 0), 0);

/**
 * The measured map of one radio: what the corrected model says, and the shadows that its readings show.
 * @param lossDb of the radio through `learnedMedium`, with the path as in loss fields, for what receives without gain
 * @param powerDbm what the radio sends, less what its channel's path differs by (`middlePowerDbm`)
 * @param reachM further from its nearest reading, or behind a wall from all that are near enough, nothing is claimed
 */
export function surveyedOf(basis: MapBasis, radio: number, grid: Grid, lossDb: Float32Array, powerDbm: number, reachM: number): Surveyed {
  const cells = grid.cols * grid.rows;
  const levelDbm = new Float32Array(cells).fill(NaN);
  const sdDb = new Float32Array(cells).fill(NaN);
  const gainDb = ownGainDb(basis, radio);
  const own = ofRadio(basis, radio);
  const wanted = new Uint8Array(cells);
  const hiddenFrom = hiddenWithin(basis.medium.panes, basis.radios[radio]!.channel.band, basis.zM, reachM);
  for (const i of own) {
    const reading = { xM: basis.places.xM[i]!, yM: basis.places.yM[i]! };
    // Behind a wall that nobody stood behind nothing is claimed.
    eachCellSeeing(reading, grid, reachM, hiddenFrom(reading), (cell) => (wanted[cell] = 1), wanted);
  }
  for (let i = 0; i < wanted.length; i++) if (powerDbm + gainDb - lossDb[i]! < LEAST_DBM) wanted[i] = 0;
  const lattice = latticeOver(grid, nodeCells(basis, grid), restNodes(basis, grid), wanted);
  const { xM, yM } = placesOfNodes(lattice, grid);
  const shadows = shadowsAt(basis, own, MAP_NEAR, xM, yM, lattice.restCount);
  const { levelDb, varianceDb2 } = shadows;
  for (let i = 0; i < varianceDb2.length; i++) varianceDb2[i]! *= basis.doubt;
  const rows = slopesOver(basis, radio, xM, yM, lattice.restCount);
  const restDb2 = unknownAt(basis, own, rows, shadows);
  overLattice(grid, lattice, { levelDb, varianceDb2, restDb2 }, wanted, levelDbm, sdDb);
  for (let i = 0; i < wanted.length; i++) {
    if (wanted[i] === 0) continue;
    levelDbm[i] = powerDbm + gainDb - lossDb[i]! + levelDbm[i]!;
    sdDb[i] = Math.sqrt(sdDb[i]!);
  }
  return { levelDbm, sdDb };
}
