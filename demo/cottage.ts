import type { Design } from '@/core/design/design';
import { Draft, type DemoBuilding } from './build';

/** Netmakers' Cottage, made up: one floor, 14 m x 9 m, three access points. For a five-minute start and for tests. */
export function cottageBuilding(): DemoBuilding {
  const d = new Draft('cottage');
  d.project("Netmakers' Cottage", 'EU', {
    facility: 'A cottage of one floor, 14 m x 9 m.',
    needs: 'Data in every room.',
    clientTypes: ['phone', 'laptop'],
  });
  const variant = d.variant('First design', 0);
  const ground = d.floor({
    name: 'Ground floor',
    elevationM: 0,
    ceilingM: 2.6,
    environment: 'rooms',
    outline: [
      { xM: 0, yM: 0 },
      { xM: 14, yM: 0 },
      { xM: 14, yM: 9 },
      { xM: 0, yM: 9 },
    ],
  });
  const [north, east, south, west] = d.walls(ground, 'brick', [
    [0, 0],
    [14, 0],
    [14, 9],
    [0, 9],
    [0, 0],
  ]);
  d.windows(north!, [1.5, 5, 10], 1.2);
  d.windows(east!, [3], 1.4);
  d.windows(west!, [3.5], 1.4);
  d.door(south!, 6, 1);
  const [spine] = d.walls(ground, 'plasterboard', [
    [0, 5],
    [14, 5],
  ]);
  d.door(spine!, 3);
  d.door(spine!, 10);
  const [left] = d.walls(ground, 'plasterboard', [
    [6, 0],
    [6, 5],
  ]);
  d.door(left!, 3.6);
  const [right] = d.walls(ground, 'brick', [
    [9, 5],
    [9, 9],
  ]);
  d.door(right!, 1);
  d.walls(
    ground,
    'metal',
    [
      [11, 0.4],
      [13.4, 0.4],
    ],
    0,
    1.8,
  );
  for (const [name, ...box] of [
    ['Net loft', 0, 0, 6, 5],
    ['Kitchen', 6, 0, 14, 5],
    ['Parlour', 0, 5, 9, 9],
    ['Workshop', 9, 5, 14, 9],
  ] as const)
    d.zone(ground, 'room', name, box);
  d.zone(ground, 'service', 'Whole cottage', [0, 0, 14, 9], { serviceLevelId: 'level-data', people: 4 });
  d.ap(ground, variant, 'C-01', 'dunlin-c2', [3, 2.5, 2.4], { '2.4': [1, 20, 12], '5': [36, 40, 14] });
  d.ap(ground, variant, 'C-02', 'kittiwake-t6', [10, 2.5, 2.4], { '2.4': [1, 20, 12], '5': [36, 40, 14], '6': [5, 80, 12] });
  d.ap(ground, variant, 'C-03', 'wren-w2', [8.9, 7, 1.4, 270], { '2.4': [6, 20, 10], '5': [36, 40, 12] });
  d.site(ground, {
    seed: 7,
    exponentOffset: 0.1,
    wallSigmaDb: 1.5,
    shadowSigmaDb: 3,
    correlationM: 4,
    receiverOffsetDb: -1,
    neighbours: [
      { bssid: '02:77:40:00:00:01', ssid: 'net-shed', xM: 22, yM: 4, heightM: 2.5, band: '2.4', channel: 1, widthMhz: 20, txPowerDbm: 17 },
    ],
  });
  return d.finish();
}

export const cottage = (): Design => cottageBuilding().design;
