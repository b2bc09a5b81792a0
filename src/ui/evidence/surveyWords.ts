import { materialsOf, type Design } from '@/core/design/design';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { channelLabel } from '@/core/radio/channel';
import type { Learned } from '@/core/survey/fit/summary';
import type { FoundFault } from '@/engine/protocol';
import { signed } from '../state/format';

/** How strong evidence is, in a word: by how much it lies above what chance gives. */
const strengthOf = (excess: number): string => (excess > 40 ? 'very strong evidence' : excess > 10 ? 'strong evidence' : 'some evidence');

/** Something that is not as drawn, with its numbers and what to look at. */
export function faultWords(fault: FoundFault, design: Design, units: UnitSystem): string {
  const [first, second] = fault.apIds.map((id) => design.accessPoints[id]?.name ?? 'a deleted AP');
  const at = (xM: number, yM: number) => `${formatLength(xM, units, 1)}, ${formatLength(yM, units, 1)}`;
  if (fault.kind === 'channel')
    return `${first} was heard on channel ${channelLabel(fault.heard)}, not on ${channelLabel(fault.designed)} as designed (${fault.times} of its ${fault.of} beacons): set it as designed, or take that into the design; a walk that is older than the design says what was set then.`;
  const strength = strengthOf(fault.excess);
  switch (fault.kind) {
    case 'level':
      return `${first} is ${Math.abs(fault.offDb).toFixed(0)} dB ${fault.offDb < 0 ? 'weaker' : 'louder'} than designed everywhere (±${fault.sdDb.toFixed(0)} dB): look at its power, antenna and cable; ${strength}.`;
    case 'elsewhere':
      return `${first} seems to hang at ${at(fault.xM, fault.yM)}, ${formatLength(fault.awayM, units, 1)} from where it is drawn: look there; ${strength}.`;
    case 'swapped':
      return `${first} and ${second} seem to hang in each other’s place: compare their labels; ${strength}.`;
    case 'wall': {
      const wall = design.walls[fault.wallId];
      const of = materialsOf(design)(fault.materialId).name;
      const what = wall === undefined || wall.materialId === fault.materialId ? `A wall of ${of}` : `What is of ${of} in a wall`;
      return `${what} loses ${Math.abs(fault.offDb).toFixed(0)} dB less than drawn (±${fault.sdDb.toFixed(0)} dB): look whether it is there, and of what; ${strength}.`;
    }
    case 'obstacle':
      return `Something of about ${signed(fault.lossDb, 0)} dB that nobody drew stands between ${at(...fault.fromM)} and ${at(...fault.toM)}; ${fault.rays} readings look through it${fault.unheard > 0 ? `, and at ${fault.unheard} spots nothing was heard through it` : ''}; ${strength}.`;
  }
}

/** Something that was learned, in words. */
export function whatOf(learned: Learned, design: Design): string {
  if (learned.kind === 'offset') return 'receiver';
  if (learned.kind === 'exponent') return 'path loss exponent';
  if (learned.kind === 'radio') return design.accessPoints[learned.apId]?.name ?? 'deleted AP';
  const material = materialsOf(design)(learned.materialId).name;
  return learned.kind === 'material' ? material : `${material}, one wall`;
}
