import { floorsOf, variantsOf, type Walk } from '@/core/design/design';
import { newWalk } from '@/core/design/kinds/walk';
import type { Heard } from '@/core/survey/heard';
import { DEFAULT_SETTING, type ReceiverSetting } from '@/core/survey/setting';
import { addTurn, endMs, type Leg } from '@/core/survey/walk';
import type { TransferTest } from '@/core/design/surveyCommands';
import { listenOnSite } from '@/engine/listen';
import { transferOnSite } from '@/engine/transfer';
import type { DemoBuilding } from './build';

type Rounds = ReadonlyArray<ReadonlyArray<readonly [number, number]>>;

/** The rounds of the finished survey on the Quay level, room by room; each new line went on from elsewhere and leaves a gap. */
const ROUNDS: Rounds = [
  [
    [28, 36],
    [44, 36],
    [44, 20],
    [28, 20],
    [28, 30],
  ],
  [
    [24, 15],
    [47, 15],
    [47, 11],
    [24, 11],
  ],
  [
    [3, 36],
    [20, 36],
    [20, 21],
    [3, 21],
    [3, 30],
  ],
  [
    [48, 36],
    [48, 26],
    [55, 26],
    [55, 36],
  ],
  [
    [62, 36],
    [70, 36],
    [70, 22],
    [62, 22],
  ],
  [
    [24, 42],
    [60, 42],
  ],
];

/** A round of a room, along its walls and a little off them, from its west, north, east and south. */
const round = ([west, north, east, south]: readonly [number, number, number, number]): ReadonlyArray<readonly [number, number]> => [
  [west + 3, north + 3],
  [east - 3, north + 3],
  [east - 3, south - 3],
  [west + 3, south - 3],
];

/** On the Gallery level and in the Upper room the rooms that one comes to. */
const GALLERY_ROUNDS: Rounds = [
  round([0, 0, 22, 18]),
  round([0, 18, 22, 28]),
  round([26, 18, 40, 38]),
  round([40, 18, 52, 30]),
  round([54, 0, 72, 12]),
];
const UPPER_ROUNDS: Rounds = [
  round([0, 0, 26, 19]),
  round([26, 0, 40, 19]),
  round([0, 19, 22, 38]),
  round([40, 24, 54, 38]),
  round([60, 24, 72, 31]),
];

type Survey = { walk: Walk } & Heard;

/** At lunch through the café and past the kitchen's door. */
const LUNCH_ROUND: Rounds = [
  [
    [58, 22],
    [70, 22],
    [70, 30],
    [60, 30],
    [60, 24],
  ],
];

/** A finished survey of the first variant on a floor as the simulated receiver makes it: the walk's record and its samples. */
function surveyOf(
  { design, sites }: DemoBuilding,
  level: number,
  rounds: Rounds,
  fields: Pick<Walk, 'id' | 'startedAt'> & Partial<Walk>,
  receiver: ReceiverSetting = DEFAULT_SETTING,
): Survey {
  const floor = floorsOf(design)[level]!;
  const variant = variantsOf(design)[0]!;
  let legs: Leg[] = [];
  for (const one of rounds) one.forEach(([xM, yM], i) => (legs = addTurn(legs, { xM, yM }, i === 0)));
  const walk: Walk = newWalk({
    variantId: variant.id,
    floorId: floor.id,
    name: `Survey as found, ${floor.name}`,
    purpose: 'before',
    finished: true,
    legs,
    receiver,
    ...fields,
  });
  const { channels: _channels, ...heard } = listenOnSite(design, sites[floor.id]!, {
    ...walk,
    receiver,
    fromMs: 0,
    toMs: endMs(legs) + 1,
  });
  return { walk, ...heard };
}

/** The finished survey on the Quay level. */
export const asFoundSurvey = (building: DemoBuilding): Survey =>
  surveyOf(building, 0, ROUNDS, { id: 'quill-walk-001', startedAt: '2026-11-02T09:30:00.000Z' });

/** A short walk with the swept receiver, when the kitchen's oven is on. */
const sweptAtLunch = (building: DemoBuilding): Survey =>
  surveyOf(
    building,
    0,
    LUNCH_ROUND,
    { id: 'quill-walk-000', startedAt: '2026-10-30T12:15:00.000Z', name: 'Swept at lunch, café', note: 'With the swept receiver at 2.4 GHz.' },
    { ...DEFAULT_SETTING, bands: ['2.4'], swept: { bands: ['2.4'], fromMs: 12.25 * 3_600_000 } },
  );

/** A walk on each floor, and one with the swept receiver. */
export const asFoundSurveys = (building: DemoBuilding): Survey[] => [
  asFoundSurvey(building),
  surveyOf(building, 1, GALLERY_ROUNDS, { id: 'quill-walk-002', startedAt: '2026-11-02T10:00:00.000Z' }),
  surveyOf(building, 2, UPPER_ROUNDS, { id: 'quill-walk-003', startedAt: '2026-11-02T10:30:00.000Z' }),
  sweptAtLunch(building),
];

/** Where throughput was tested as found: lecture hall, entrance hall, shop and café. */
const TESTED: ReadonlyArray<readonly [number, number]> = [
  [10, 28],
  [36, 28],
  [52, 31],
  [67, 30],
];

/** The building with throughput tests of the first variant at a few spots, as they came out on the simulated site. */
export function withTransferTests(building: DemoBuilding): DemoBuilding {
  const { design, sites } = building;
  const floorId = floorsOf(design)[0]!.id;
  const { id: variantId, name } = variantsOf(design)[0]!;
  const tests = TESTED.flatMap(([xM, yM], i): TransferTest[] => {
    const at = `2026-11-02T11:${String(10 + 5 * i)}:00.000Z`;
    const receiver = { ...DEFAULT_SETTING, bands: [...DEFAULT_SETTING.bands], channels: [] };
    const answer = transferOnSite(design, sites[floorId]!, { floorId, variantId, xM, yM, runs: 5, receiver, clientId: 'laptop', at });
    return answer === null ? [] : [{ id: `quill-transfer-00${i + 1}`, floorId, variantId, name, at, xM, yM, ...answer }];
  });
  return { ...building, design: { ...design, transferTests: Object.fromEntries(tests.map((test) => [test.id, test])) } };
}
