import { bandIndex, BANDS } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { panesOf } from '@/core/building/panes';
import { accessPointsOf, floorsOf, onFloor, openingsOf, projectOf, variantsOf, type Design, type Walk } from '@/core/design/design';
import { EXPONENT } from '@/core/propagation/pathLoss';
import { samplesBetween, scanListOf, type Sample } from '@/core/survey/receiver';
import { bssidOf, neighbourTransmitters, trueLevel, trueWalls, type Transmitter } from '@/core/survey/site';
import { addTurn, straightsOf, type Leg } from '@/core/survey/walk';

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
export function asFoundSurvey(design: Design): { walk: Walk; samples: Sample[] } {
  const floor = floorsOf(design)[0]!;
  const variant = variantsOf(design)[0]!;
  const site = onFloor(design, 'sites', floor.id)[0]!;
  let legs: Leg[] = [];
  for (const round of ROUNDS) round.forEach(([xM, yM], i) => (legs = addTurn(legs, { xM, yM }, i === 0)));
  const ssid = projectOf(design)!.name.split(' ')[0]!.toLowerCase();
  const transmitters: Transmitter[] = accessPointsOf(design, floor.id, variant.id).flatMap((ap) =>
    ap.radios
      .filter((radio) => radio.on)
      .map((radio) => ({
        bssid: bssidOf(ap.id, radio.band),
        ssid,
        apId: ap.id,
        band: radio.band,
        channel: radio.channel,
        widthMhz: radio.widthMhz,
        txPowerDbm: radio.txPowerDbm,
        pose: { xM: ap.xM, yM: ap.yM, heightM: ap.heightM, azimuthDeg: ap.azimuthDeg, tiltDeg: ap.tiltDeg },
        antenna: radioModelOf(ap.modelId, radio.band)!.antenna,
      })),
  );
  const all = [...transmitters, ...neighbourTransmitters(site.neighbours)].sort((a, b) => bandIndex(a.band) - bandIndex(b.band));
  const level = trueLevel(
    trueWalls(panesOf(onFloor(design, 'walls', floor.id), openingsOf(design, floor.id)), site),
    site,
    EXPONENT[floor.environment],
  );
  const clientHeightM = projectOf(design)!.clientHeightM;
  const samples = straightsOf(legs).flatMap((straight) =>
    samplesBetween(straight, straight.from.tMs, straight.to.tMs, scanListOf(all, BANDS), all, (t, x, y) => level(t, x, y, clientHeightM), {
      seed: site.seed,
      offsetDb: site.receiverOffsetDb,
    }),
  );
  return {
    walk: {
      id: 'quill-walk-001',
      variantId: variant.id,
      floorId: floor.id,
      name: 'Survey as found, Quay level',
      startedAt: '2026-11-02T09:30:00.000Z',
      finished: true,
      legs,
    },
    samples,
  };
}
