import type { Design } from '@/core/design/design';
import { BANDS } from '@/core/radio/band';
import { interferersFrom } from './interferers';
import { Draft, type DemoBuilding } from './build';
import { galleryLevel, upperRoom } from './museumUpper';

/** As the controller was found: a name for everybody who ever asked for one. The scanners know only 2.4 GHz. */
const SSIDS = ['Quillhaven', 'Quillhaven Staff', 'Wardens', 'Audio guides', 'Lectures', 'Tickets'].map((name, i) => ({
  id: `ssid-${i + 1}`,
  name,
  bands: name === 'Tickets' ? (['2.4'] as const) : BANDS,
}));

/** When ferries call, the kiosk is open and its network on; it shuts for half an hour in the middle of the day. */
const FERRIES = [
  [7, 12.75],
  [13.25, 20],
] as const;

/** Quillhaven Maritime Museum, all made up: a museum in a converted net loft and boat hall on a harbour, three floors. The Quay level, 72 m x 46 m, is drawn here. */
export function museumBuilding(): DemoBuilding {
  const d = new Draft('quill');
  d.project('Quillhaven Maritime Museum', 'UK', {
    facility:
      'A museum in a converted net loft and boat hall on the harbour: three floors of 72 m x 46 m, brick outside, an atrium over the boat hall, steel shelves in the stacks, a terrace on the quay.',
    needs:
      'Voice handsets for the wardens everywhere, also in the stacks. Audio guides for visitors in the galleries. A lecture hall with 180 seats. Ticket scanners that know only 2.4 GHz. Service on the terrace.',
    clientTypes: ['handset', 'phone', 'laptop', 'guide', 'scanner'],
    // Rates of long ago.
    network: { ssids: SSIDS, basicMbps: { '2.4': 1, '5': 6, '6': null }, bandSteering: true, poeW: 30 },
  });
  const asFound = d.variant('As found', 0);
  const proposed = d.variant('Proposed', 1);
  const quay = d.floor({
    name: 'Quay level',
    elevationM: 0,
    ceilingM: 4.2,
    environment: 'rooms',
    outline: [
      { xM: 0, yM: 0 },
      { xM: 72, yM: 0 },
      { xM: 72, yM: 46 },
      { xM: 0, yM: 46 },
    ],
  });

  // Outer walls: half a metre of brick, a glass front to the quay between the lecture hall and the cafe.
  const [north] = d.walls(quay, 'brick-heavy', [
    [0, 0],
    [72, 0],
  ]);
  const [east] = d.walls(quay, 'brick-heavy', [
    [72, 0],
    [72, 38],
  ]);
  const [southLecture] = d.walls(quay, 'brick-heavy', [
    [22, 38],
    [0, 38],
  ]);
  const [west] = d.walls(quay, 'brick-heavy', [
    [0, 38],
    [0, 0],
  ]);
  const [front] = d.walls(quay, 'glass', [
    [22, 38],
    [60, 38],
  ]);
  const [southCafe] = d.walls(quay, 'brick-heavy', [
    [60, 38],
    [72, 38],
  ]);
  d.windows(north!, [3, 7, 13, 17, 25, 30, 35, 40, 45, 50, 57, 66], 1.6, 1.2, 3);
  d.windows(east!, [2, 5, 14, 22, 26, 30, 34]);
  d.windows(west!, [4, 9, 14, 26, 31, 35], 1.8, 1.4, 3);
  d.windows(southLecture!, [4, 10, 16], 1.8, 1.4, 3);
  d.door(front!, 10, 2.4, 'glass');
  d.door(front!, 31, 1.8, 'glass');
  d.passage(southCafe!, 4, 3);

  // North-west: plant room and store behind concrete.
  const [plantSouth] = d.walls(quay, 'concrete', [
    [0, 16],
    [22, 16],
  ]);
  const [plantStore] = d.walls(quay, 'brick', [
    [11, 0],
    [11, 16],
  ]);
  d.door(plantStore!, 12.5, 1.2, 'metal');
  d.door(plantSouth!, 7, 1, 'metal');
  d.door(plantSouth!, 13, 1.8, 'wood');
  // The west wall of the boat hall, and the lecture hall's east wall: brick.
  const [hallWest] = d.walls(quay, 'brick', [
    [22, 0],
    [22, 16],
  ]);
  d.door(hallWest!, 11.2, 1.6);
  const [lectureEast] = d.walls(quay, 'brick', [
    [22, 16],
    [22, 38],
  ]);
  d.door(lectureEast!, 8, 1.8);
  d.door(lectureEast!, 13, 1.8);
  // Projection booth and stage inside the lecture hall.
  const [, booth] = d.walls(quay, 'plasterboard', [
    [0, 19.5],
    [6, 19.5],
    [6, 16],
  ]);
  d.door(booth!, 1, 0.9);

  // The boat hall: a tall room, glass screens to the entrance.
  const [hallSouth] = d.walls(quay, 'glass', [
    [22, 18],
    [54, 18],
  ]);
  d.passage(hallSouth!, 8, 4, 3);
  d.passage(hallSouth!, 22, 3, 3);
  const [hallEast] = d.walls(quay, 'brick', [
    [54, 0],
    [54, 12],
  ]);
  d.door(hallEast!, 8.6, 1.4);
  // Metal display cabinets along the hall, and the hull on its cradle: lower than the ceiling.
  d.walls(
    quay,
    'metal',
    [
      [49.2, 2],
      [49.2, 8],
    ],
    0,
    2.3,
  );
  d.walls(
    quay,
    'wood',
    [
      [28, 4],
      [40, 3],
      [44, 6],
      [40, 9],
      [28, 9],
      [28, 4],
    ],
    0,
    2.6,
  );
  d.walls(
    quay,
    'glass',
    [
      [26, 13],
      [33, 13],
    ],
    0,
    2,
  );
  d.walls(
    quay,
    'glass',
    [
      [36, 13],
      [43, 13],
    ],
    0,
    2,
  );

  // North-east: wardens' room, server cupboard, first stair core, lift.
  const [wardensSouth] = d.walls(quay, 'plasterboard', [
    [54, 8],
    [72, 8],
  ]);
  d.door(wardensSouth!, 3, 0.9);
  d.door(wardensSouth!, 13, 0.9);
  const [officeSplit] = d.walls(quay, 'plasterboard', [
    [66, 0],
    [66, 8],
  ]);
  d.door(officeSplit!, 5, 0.9);
  const [coreNorth, coreEast, , coreWest] = d.walls(quay, 'concrete', [
    [54, 12],
    [60, 12],
    [60, 18],
    [54, 18],
    [54, 12],
  ]);
  d.door(coreEast!, 4.4, 1);
  d.door(coreWest!, 1, 1);
  d.windows(coreNorth!, [1.2], 1, 1.2, 2.1);
  d.walls(quay, 'metal', [
    [55.5, 13],
    [58.5, 13],
    [58.5, 16],
    [55.5, 16],
    [55.5, 13],
  ]);

  // Kitchen and cafe. Tiled brick between them, a serving hatch above the counter.
  const [kitchenNorth] = d.walls(quay, 'brick', [
    [60, 12],
    [72, 12],
  ]);
  d.door(kitchenNorth!, 2, 1);
  const [kitchenWest] = d.walls(quay, 'brick', [
    [60, 18],
    [60, 20],
  ]);
  d.door(kitchenWest!, 0.5, 1);
  const [kitchenSouth] = d.walls(quay, 'brick', [
    [60, 20],
    [72, 20],
  ]);
  d.windows(kitchenSouth!, [4], 3, 1.1, 2);
  d.door(kitchenSouth!, 8.5, 1);
  d.walls(
    quay,
    'metal',
    [
      [69.4, 13],
      [69.4, 18.5],
    ],
    0,
    1.9,
  );
  const [cafeWest] = d.walls(quay, 'plasterboard', [
    [60, 20],
    [60, 38],
  ]);
  d.passage(cafeWest!, 10, 3);

  // Shop, ticket desk, cloakroom, second stair core.
  const [shopNorth] = d.walls(quay, 'plasterboard', [
    [46, 24],
    [60, 24],
  ]);
  d.door(shopNorth!, 6, 2, 'glass');
  const [shopWest] = d.walls(quay, 'glass', [
    [46, 24],
    [46, 38],
  ]);
  d.passage(shopWest!, 3, 2.4);
  d.walls(
    quay,
    'wood',
    [
      [49, 27],
      [49, 35],
    ],
    0,
    1.4,
  );
  d.walls(
    quay,
    'wood',
    [
      [57, 27],
      [57, 35],
    ],
    0,
    1.8,
  );
  d.walls(
    quay,
    'wood',
    [
      [31, 24],
      [37, 24],
      [37, 25.4],
    ],
    0,
    1.15,
  );
  const [, cloakEast] = d.walls(quay, 'plasterboard', [
    [22, 30],
    [26, 30],
    [26, 38],
  ]);
  d.door(cloakEast!, 1, 1.2);
  const [, stairEast] = d.walls(quay, 'concrete', [
    [22, 22],
    [26, 22],
    [26, 28],
    [22, 28],
  ]);
  d.door(stairEast!, 2, 1);
  // The lockers: a metal cabinet that hides an access point.
  d.walls(
    quay,
    'metal',
    [
      [22.7, 31],
      [22.7, 37],
    ],
    0,
    2.1,
  );
  // The terrace's parapet and a bar of timber.
  d.walls(
    quay,
    'brick',
    [
      [0, 46],
      [72, 46],
    ],
    0,
    1,
  );
  d.walls(
    quay,
    'wood',
    [
      [62, 43],
      [68, 43],
    ],
    0,
    1.1,
  );

  const rooms: ReadonlyArray<readonly [string, number, number, number, number]> = [
    ['Plant', 0, 0, 11, 16],
    ['Store', 11, 0, 22, 16],
    ['Boat hall', 22, 0, 54, 18],
    ["Wardens' room", 54, 0, 66, 8],
    ['Server cupboard', 66, 0, 72, 8],
    ['Back passage', 54, 8, 72, 12],
    ['Stair and lift', 54, 12, 60, 18],
    ['Kitchen', 60, 12, 72, 20],
    ['Lecture hall', 0, 16, 22, 38],
    ['Stair', 22, 22, 26, 28],
    ['Cloakroom', 22, 30, 26, 38],
    ['Entrance hall', 26, 18, 46, 38],
    ['Gallery foot', 46, 18, 60, 24],
    ['Shop', 46, 24, 60, 38],
    ['Café', 60, 20, 72, 38],
    ['Terrace', 0, 38, 72, 46],
  ];
  for (const [name, ...box] of rooms) d.zone(quay, 'room', name, box);
  d.zone(quay, 'service', 'Indoors', [0, 0, 72, 38], { serviceLevelId: 'level-voice', people: 320 });
  d.zone(quay, 'service', 'Quay terrace', [22, 38, 72, 46], { serviceLevelId: 'level-data', people: 60 });
  d.zone(quay, 'keep-out', 'Stair and lift', [54, 12, 60, 18]);
  d.zone(quay, 'electronics', 'Kitchen ovens', [69, 12.4, 71.6, 14]);

  // As found: six units of an earlier range on defaults, at full power; one behind the lockers, one on the boatyard's channel.
  const old = 'plover-n2';
  const lecture = d.ap(quay, asFound, 'Old-1', old, [2, 27], { '2.4': [6, 20, 20], '5': [36, 80, 20] });
  d.ap(quay, asFound, 'Old-2', old, [23, 4], { '2.4': [6, 20, 20], '5': [36, 80, 20] });
  d.ap(quay, asFound, 'Old-3', old, [53.4, 5], { '2.4': [1, 20, 20], '5': [36, 80, 20] });
  d.ap(quay, asFound, 'Old-4', old, [22.3, 34, 1.6], { '2.4': [6, 20, 20], '5': [36, 80, 20] });
  d.ap(quay, asFound, 'Old-5', old, [59.6, 22], { '2.4': [6, 40, 20], '5': [36, 80, 20] });
  d.ap(quay, asFound, 'Old-6', old, [71.4, 30], { '2.4': [11, 20, 20], '5': [44, 80, 20] });

  // Proposed, before any planning: good places, channels as they came out of the box. Q-03 is too loud.
  d.ap(quay, proposed, 'Q-01', 'heron-c4', [11, 27, 4], { '2.4': [1, 20, 11], '5': [36, 40, 12] });
  d.ap(quay, proposed, 'Q-02', 'heron-c4', [32, 8, 4], { '2.4': [6, 20, 11], '5': [44, 40, 12] });
  d.ap(quay, proposed, 'Q-03', 'heron-c4', [46, 12.4, 4], { '2.4': [6, 20, 20], '5': [44, 40, 20] });
  const entrance = d.ap(quay, proposed, 'Q-04', 'kittiwake-t6', [36, 28, 3.6], { '2.4': [1, 20, 10], '5': [36, 40, 11], '6': [5, 80, 12] });
  d.ap(quay, proposed, 'Q-05', 'wren-w2', [53, 31, 2.6, 180], { '2.4': [1, 20, 8], '5': [36, 20, 9] });
  d.ap(quay, proposed, 'Q-06', 'kittiwake-t6', [66, 29, 3.4], { '2.4': [11, 20, 10], '5': [36, 40, 11], '6': [5, 80, 12] });
  d.ap(quay, proposed, 'Q-07', 'dunlin-c2', [63, 5, 3], { '2.4': [11, 20, 8], '5': [44, 20, 9] });
  d.ap(quay, proposed, 'Q-08', 'dunlin-c2', [9, 7, 3], { '2.4': [6, 20, 9], '5': [36, 20, 10] });
  d.ap(quay, proposed, 'Q-09', 'gannet-d2', [47, 38.3, 3.5, 180, 8], { '2.4': [6, 20, 9], '5': [100, 20, 11] });
  d.ap(quay, proposed, 'Q-10', 'kittiwake-t6', [57, 21, 3.4], { '2.4': [6, 20, 10], '5': [44, 40, 11], '6': [5, 80, 12] });

  d.site(quay, {
    seed: 41,
    exponentOffset: 0.12,
    wallSigmaDb: 1.8,
    shadowSigmaDb: 3.6,
    correlationM: 5,
    receiverOffsetDb: -2,
    // What a survey may find: one weak by a bad antenna joint, one hung two beams further, and a partition that nobody drew.
    faults: [
      { kind: 'level', apId: lecture.id, offDb: -12 },
      { kind: 'elsewhere', apId: entrance.id, xM: 42, yM: 28 },
      { kind: 'obstacle', axM: 30, ayM: 24.5, bxM: 37, byM: 24.5, materialId: 'concrete' },
    ],
    interferers: interferersFrom(0),
    neighbours: [
      { bssid: '02:77:10:00:00:01', ssid: 'boatyard', xM: -14, yM: 12, heightM: 3, band: '2.4', channel: 6, widthMhz: 20, txPowerDbm: 20 },
      { bssid: '02:77:10:00:00:02', ssid: 'boatyard', xM: -14, yM: 12, heightM: 3, band: '5', channel: 36, widthMhz: 80, txPowerDbm: 22 },
      {
        bssid: '02:77:20:00:00:01',
        ssid: 'ferry-kiosk',
        xM: 40,
        yM: 58,
        heightM: 2.5,
        band: '2.4',
        channel: 11,
        widthMhz: 20,
        txPowerDbm: 18,
        hours: FERRIES,
      },
      {
        bssid: '02:77:20:00:00:02',
        ssid: 'ferry-kiosk',
        xM: 40,
        yM: 58,
        heightM: 2.5,
        band: '5',
        channel: 44,
        widthMhz: 40,
        txPowerDbm: 20,
        hours: FERRIES,
      },
      { bssid: '02:77:30:00:00:01', ssid: 'chandlery-flat', xM: 78, yM: 18, heightM: 6, band: '2.4', channel: 3, widthMhz: 20, txPowerDbm: 17 },
    ],
  });
  galleryLevel(d, proposed);
  upperRoom(d, proposed);
  return d.finish();
}

export const museum = (): Design => museumBuilding().design;
