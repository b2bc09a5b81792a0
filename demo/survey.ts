import { floorsOf, variantsOf, type Walk } from '@/core/design/design';
import { newWalk } from '@/core/design/kinds/walk';
import type { Heard } from '@/core/survey/heard';
import { DEFAULT_SETTING } from '@/core/survey/setting';
import { addTurn, endMs, type Leg } from '@/core/survey/walk';
import type { TransferTest } from '@/core/design/surveyCommands';
import { listenOnSite } from '@/engine/listen';
import { transferOnSite } from '@/engine/transfer';
import type { DemoBuilding } from './build';

/** The rounds of the finished survey, room by room; each new line went on from elsewhere and leaves a gap. */
const ROUNDS: ReadonlyArray<ReadonlyArray<readonly [number, number]>> = [
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

/** A finished survey of the first variant as the simulated receiver makes it: the walk's record and its samples. */
export function asFoundSurvey({ design, sites }: DemoBuilding): { walk: Walk } & Heard {
  const floor = floorsOf(design)[0]!;
  const variant = variantsOf(design)[0]!;
  let legs: Leg[] = [];
  for (const round of ROUNDS) round.forEach(([xM, yM], i) => (legs = addTurn(legs, { xM, yM }, i === 0)));
  const walk: Walk = newWalk({
    id: 'quill-walk-001',
    variantId: variant.id,
    floorId: floor.id,
    name: 'Survey as found, Quay level',
    startedAt: '2026-11-02T09:30:00.000Z',
    purpose: 'before',
    finished: true,
    legs,
    receiver: DEFAULT_SETTING,
  });
  const { samples, scans } = listenOnSite(design, sites[floor.id]!, { ...walk, receiver: DEFAULT_SETTING, fromMs: 0, toMs: endMs(legs) + 1 });
  return { walk, samples, scans };
}

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
