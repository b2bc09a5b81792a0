import type { Draft } from './build';
import { interferersFrom } from './interferers';

const OUTLINE = [
  { xM: 0, yM: 0 },
  { xM: 72, yM: 0 },
  { xM: 72, yM: 38 },
  { xM: 0, yM: 38 },
];

const NEIGHBOUR = { ssid: 'chandlery-flat', xM: 78, yM: 18, heightM: 2, band: '2.4', channel: 3, widthMhz: 20, txPowerDbm: 17 } as const;

/** The two stair cores and the lift shaft, at the same places on every floor. */
function cores(d: Draft, floor: ReturnType<Draft['floor']>): void {
  const [, coreEast, , coreWest] = d.walls(floor, 'concrete', [
    [54, 12],
    [60, 12],
    [60, 18],
    [54, 18],
    [54, 12],
  ]);
  d.door(coreEast!, 4.4, 1);
  d.door(coreWest!, 1, 1);
  d.walls(floor, 'metal', [
    [55.5, 13],
    [58.5, 13],
    [58.5, 16],
    [55.5, 16],
    [55.5, 13],
  ]);
  const [, stairEast] = d.walls(floor, 'concrete', [
    [22, 22],
    [26, 22],
    [26, 28],
    [22, 28],
    [22, 22],
  ]);
  d.door(stairEast!, 2, 1);
  d.slabOpening(floor, 'Lift shaft', [55.5, 13, 58.5, 16]);
  d.slabOpening(floor, 'Stair', [22.5, 22.5, 25.5, 27.5]);
}

function outerWalls(d: Draft, floor: ReturnType<Draft['floor']>, sillM: number, headM: number): void {
  const [north, east, south, west] = d.walls(floor, 'brick-heavy', [
    [0, 0],
    [72, 0],
    [72, 38],
    [0, 38],
    [0, 0],
  ]);
  d.windows(north!, [3, 9, 15, 25, 31, 37, 43, 49, 57, 64], 1.6, sillM, headM);
  d.windows(east!, [3, 9, 14, 22, 28, 34], 1.6, sillM, headM);
  d.windows(south!, [3, 8, 16, 22, 28, 34, 40, 46, 54, 60, 66], 1.6, sillM, headM);
  d.windows(west!, [3, 9, 15, 22, 28, 33], 1.6, sillM, headM);
}

/** The Gallery level: galleries round an atrium over the boat hall, a ship-model hall with glass cases, and one diagonal wing. */
export function galleryLevel(d: Draft, variantId: string): void {
  const floor = d.floor({ name: 'Gallery level', elevationM: 4.2, ceilingM: 4.5, environment: 'rooms', outline: OUTLINE, registeredWorstM: 0 });
  outerWalls(d, floor, 1.2, 3.2);
  cores(d, floor);
  d.slabOpening(floor, 'Atrium over the boat hall', [28, 3, 48, 15]);
  // The balustrade round the atrium: glass to hip height.
  d.walls(
    floor,
    'glass',
    [
      [28, 3],
      [48, 3],
      [48, 15],
      [28, 15],
      [28, 3],
    ],
    0,
    1.1,
  );
  const [galleryWest] = d.walls(floor, 'brick', [
    [22, 0],
    [22, 18],
  ]);
  d.passage(galleryWest!, 6, 2.4);
  d.passage(galleryWest!, 13, 2.4);
  const [gallerySouth] = d.walls(floor, 'brick', [
    [0, 18],
    [54, 18],
  ]);
  d.passage(gallerySouth!, 9, 3);
  d.door(gallerySouth!, 30, 1.8, 'glass');
  d.passage(gallerySouth!, 42, 3);
  const [galleryEast] = d.walls(floor, 'brick', [
    [54, 0],
    [54, 12],
  ]);
  d.passage(galleryEast!, 5, 2.4);
  // West gallery: movable partitions, open at their ends.
  for (const y of [5, 9, 13])
    d.walls(
      floor,
      'plasterboard',
      [
        [2, y],
        [18, y],
      ],
      0,
      2.6,
    );
  // The ship-model hall with its glass cases.
  const [modelsEast] = d.walls(floor, 'plasterboard', [
    [40, 18],
    [40, 38],
  ]);
  d.passage(modelsEast!, 8, 2.4);
  for (const [x, y] of [
    [29, 22],
    [34, 22],
    [29, 30],
    [34, 30],
  ] as const)
    d.walls(
      floor,
      'glass',
      [
        [x, y],
        [x + 2.4, y],
        [x + 2.4, y + 4],
        [x, y + 4],
        [x, y],
      ],
      0.8,
      2.2,
    );
  const [projectionNorth, projectionEast] = d.walls(floor, 'brick', [
    [0, 28],
    [12, 28],
    [12, 38],
  ]);
  d.door(projectionNorth!, 8, 1.8);
  d.door(projectionEast!, 4, 0.9, 'metal');
  // The diagonal wing: the wall runs askew, as the quay does.
  const [wing] = d.walls(floor, 'brick', [
    [54, 18],
    [72, 30],
  ]);
  d.door(wing!, 8, 1.8, 'glass');
  const [wardensWest, wardensNorth] = d.walls(floor, 'plasterboard', [
    [52, 38],
    [52, 30],
    [60, 30],
    [60, 38],
  ]);
  d.door(wardensWest!, 3, 0.9);
  d.door(wardensNorth!, 4, 0.9);
  for (const [name, ...box] of [
    ['West gallery', 0, 0, 22, 18],
    ['Atrium', 28, 3, 48, 15],
    ['Charts and instruments', 0, 18, 22, 28],
    ['Projection room', 0, 28, 12, 38],
    ['Ship models', 26, 18, 40, 38],
    ['Sail loft', 40, 18, 52, 38],
    ["Wardens' office", 52, 30, 60, 38],
    ['East gallery', 54, 0, 72, 12],
  ] as const)
    d.zone(floor, 'room', name, box);
  d.zone(floor, 'service', 'Galleries', [0, 0, 72, 38], { serviceLevelId: 'level-voice', people: 200 });
  d.zone(floor, 'keep-out', 'Atrium', [28, 3, 48, 15]);
  d.ap(floor, variantId, 'G-01', 'heron-c4', [11, 11, 4.2], { '2.4': [1, 20, 10], '5': [36, 40, 12] });
  d.ap(floor, variantId, 'G-02', 'dunlin-c2', [25, 9, 4.2], { '2.4': [6, 20, 10], '5': [44, 20, 11] });
  d.ap(floor, variantId, 'G-03', 'heron-c4', [51, 8, 4.2], { '2.4': [11, 20, 10], '5': [36, 40, 12] });
  d.ap(floor, variantId, 'G-04', 'dunlin-c2', [11, 23, 4.2], { '2.4': [11, 20, 9], '5': [44, 20, 11] });
  d.ap(floor, variantId, 'G-05', 'kittiwake-t6', [33, 28, 4.2], { '2.4': [1, 20, 10], '5': [36, 40, 11], '6': [5, 80, 12] });
  d.ap(floor, variantId, 'G-06', 'kittiwake-t6', [46, 27, 4.2], { '2.4': [6, 20, 10], '5': [36, 40, 11], '6': [5, 80, 12] });
  d.ap(floor, variantId, 'G-07', 'heron-c4', [64, 8, 4.2], { '2.4': [1, 20, 10], '5': [44, 40, 12] });
  d.site(floor, {
    seed: 42,
    exponentOffset: 0.08,
    wallSigmaDb: 1.8,
    shadowSigmaDb: 3.4,
    correlationM: 5,
    receiverOffsetDb: -2,
    interferers: interferersFrom(4.2),
    neighbours: [{ bssid: '02:77:30:00:00:01', ...NEIGHBOUR }],
  });
}

/** The Upper room: reading room, archive stacks of steel, conservation lab with a lead-lined cabinet, offices under a timber roof. */
export function upperRoom(d: Draft, variantId: string): void {
  const floor = d.floor({ name: 'Upper room', elevationM: 8.7, ceilingM: 3.4, environment: 'rooms', outline: OUTLINE, registeredWorstM: 0 });
  outerWalls(d, floor, 0.9, 2.2);
  cores(d, floor);
  const [spine] = d.walls(floor, 'plasterboard', [
    [0, 19],
    [54, 19],
  ]);
  d.door(spine!, 8, 1.8);
  d.door(spine!, 20, 0.9);
  d.door(spine!, 34, 1.8);
  d.door(spine!, 48, 0.9);
  // The stacks: rows of steel shelving, lower than the ceiling.
  const [stacksWest] = d.walls(floor, 'brick', [
    [26, 0],
    [26, 19],
  ]);
  d.door(stacksWest!, 16, 1.2, 'metal');
  const [stacksEast] = d.walls(floor, 'brick', [
    [50, 0],
    [50, 19],
  ]);
  d.door(stacksEast!, 16, 1.2, 'metal');
  for (let x = 28.5; x < 40; x += 2.5)
    d.walls(
      floor,
      'metal',
      [
        [x, 2],
        [x, 15],
      ],
      0,
      2.3,
    );
  // Conservation lab with the X-ray cabinet.
  const [labWest, labNorth] = d.walls(floor, 'brick', [
    [40, 38],
    [40, 24],
    [54, 24],
    [54, 38],
  ]);
  d.door(labWest!, 6, 1.2);
  d.door(labNorth!, 10, 1.2);
  d.walls(
    floor,
    'metal',
    [
      [50, 33],
      [53, 33],
      [53, 36],
      [50, 36],
      [50, 33],
    ],
    0,
    2.2,
  );
  // Offices and the server closet.
  const [officesWest] = d.walls(floor, 'plasterboard', [
    [60, 18],
    [60, 38],
  ]);
  for (const at of [2, 8, 14]) d.door(officesWest!, at, 0.9);
  for (const y of [24, 31])
    d.walls(floor, 'plasterboard', [
      [60, y],
      [72, y],
    ]);
  const [closetWest] = d.walls(floor, 'concrete', [
    [66, 0],
    [66, 6],
    [72, 6],
  ]);
  d.door(closetWest!, 2, 1, 'metal');
  for (const [name, ...box] of [
    ['Reading room', 0, 0, 26, 19],
    ['Archive stacks', 26, 0, 50, 19],
    ['Print room', 0, 19, 22, 38],
    ['Conservation lab', 40, 24, 54, 38],
    ['Office east', 60, 24, 72, 31],
    ['Office south', 60, 31, 72, 38],
    ['Director', 60, 18, 72, 24],
    ['Server closet', 66, 0, 72, 6],
  ] as const)
    d.zone(floor, 'room', name, box);
  // Rolling shelves stand where they were last pushed: no rows to draw.
  d.zone(floor, 'clutter', 'Rolling shelves', [40, 2, 49, 15], { clutter: { topM: 2.3, dbPerM: { '2.4': 1.2, '5': 1.8, '6': 2 } } });
  d.zone(floor, 'service', 'Upper room', [0, 0, 72, 38], { serviceLevelId: 'level-voice', people: 40 });
  d.ap(floor, variantId, 'U-01', 'heron-c4', [12, 10, 3.2], { '2.4': [1, 20, 10], '5': [36, 40, 12] });
  d.ap(floor, variantId, 'U-02', 'dunlin-c2', [33.5, 9, 3.2], { '2.4': [6, 20, 10], '5': [44, 20, 11] });
  d.ap(floor, variantId, 'U-03', 'dunlin-c2', [43.5, 9, 3.2], { '2.4': [11, 20, 10], '5': [36, 20, 11] });
  d.ap(floor, variantId, 'U-04', 'heron-c4', [11, 29, 3.2], { '2.4': [6, 20, 10], '5': [44, 40, 12] });
  d.ap(floor, variantId, 'U-05', 'kittiwake-t6', [32, 28, 3.2], { '2.4': [1, 20, 10], '5': [36, 40, 11], '6': [5, 80, 12] });
  d.ap(floor, variantId, 'U-06', 'dunlin-c2', [47, 31, 3.2], { '2.4': [11, 20, 9], '5': [44, 20, 11] });
  d.ap(floor, variantId, 'U-07', 'dunlin-c2', [64, 27.5, 3.2], { '2.4': [6, 20, 10], '5': [36, 20, 11] });
  d.site(floor, {
    seed: 43,
    exponentOffset: 0.15,
    wallSigmaDb: 1.8,
    shadowSigmaDb: 3.8,
    correlationM: 4,
    receiverOffsetDb: -2,
    interferers: interferersFrom(8.7),
    neighbours: [{ bssid: '02:77:30:00:00:01', ...NEIGHBOUR, heightM: 1 }],
  });
}
