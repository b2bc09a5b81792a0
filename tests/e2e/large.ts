import type { Change } from '@/core/design/step';

/** Two hundred access points of one radio each, on a lattice over 120 m x 80 m: what a large floor is tried with. */
export const twoHundred = (floorId: string, variantId: string): Change[] =>
  Array.from({ length: 200 }, (_, i) => ({
    table: 'accessPoints',
    id: `ap${i}`,
    before: null,
    after: {
      id: `ap${i}`,
      variantId,
      floorId,
      name: `B-${String(i + 1).padStart(3, '0')}`,
      modelId: 'dunlin-c2',
      xM: 3 + (i % 20) * 6,
      yM: 4 + Math.floor(i / 20) * 8,
      heightM: 2.8,
      azimuthDeg: 0,
      tiltDeg: 0,
      locked: false,
      withheldSsids: [],
      radios: [{ band: '5', on: true, channel: [36, 44][i % 2]!, widthMhz: 40, txPowerDbm: 12, locked: false, forbidden: [] }],
    },
  })) as Change[];
