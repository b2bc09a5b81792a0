import { materialsOf, type Design } from '@/core/design/design';
import type { SiteFault } from '@/core/survey/site';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { signed } from '../state/format';

/** Kinds of what may be hidden, as they are offered. */
export const FAULT_LABEL: Readonly<Record<SiteFault['kind'], string>> = {
  level: 'sends more or less than set',
  elsewhere: 'hangs elsewhere than drawn',
  height: 'hangs higher or lower than drawn',
  unplugged: 'is not plugged in',
  channel: 'is on another channel than set',
  swapped: 'two in each other’s place',
  obstacle: 'something that nobody drew',
  'no-wall': 'a drawn wall that is not there',
};

/** A hidden fault in words. */
export function hiddenWords(fault: SiteFault, design: Design, units: UnitSystem): string {
  const name = (id: string) => design.accessPoints[id]?.name ?? 'a deleted AP';
  const at = (xM: number, yM: number) => `${formatLength(xM, units, 1)}, ${formatLength(yM, units, 1)}`;
  switch (fault.kind) {
    case 'level':
      return `${name(fault.apId)} sends ${signed(Math.abs(fault.offDb))} dB ${fault.offDb < 0 ? 'less' : 'more'} than it is set to.`;
    case 'elsewhere':
      return `${name(fault.apId)} hangs at ${at(fault.xM, fault.yM)}.`;
    case 'height':
      return `${name(fault.apId)} hangs ${formatLength(Math.abs(fault.offM), units, 1)} ${fault.offM < 0 ? 'lower' : 'higher'} than drawn.`;
    case 'unplugged':
      return `${name(fault.apId)} is not plugged in.`;
    case 'channel':
      return `${name(fault.apId)} is on ${fault.band} GHz channel ${fault.channel}/${fault.widthMhz}, whatever it is set to.`;
    case 'swapped':
      return `${name(fault.apIds[0])} and ${name(fault.apIds[1])} hang in each other’s place.`;
    case 'obstacle':
      return `${materialsOf(design)(fault.materialId).name} that nobody drew, from ${at(fault.axM, fault.ayM)} to ${at(fault.bxM, fault.byM)}.`;
    case 'no-wall': {
      const wall = design.walls[fault.wallId];
      return wall === undefined
        ? 'A wall that was deleted is not there.'
        : `The wall from ${at(wall.axM, wall.ayM)} to ${at(wall.bxM, wall.byM)} is not there.`;
    }
  }
}
