export { addPanes, addRing, begin, raiseMost, writeSums } from './sums';
export { cells } from './cells';
export { addBent, bend, clearBent } from './bent';
export { strongestThree } from './strongest';
export { nearest, shadows, standings } from './shadows';
export { unknown } from './unknown';

/** Where memory begins that nothing of this module lies in. */
export function heapBase(): usize {
  return __heap_base;
}
