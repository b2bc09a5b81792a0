import type { Interferer } from '@/core/survey/site';

/** What is on the museum's air that is not Wi-Fi, with heights above the Quay level. */
const INTERFERERS: readonly Interferer[] = [
  // Lunch hours: hardly ever off.
  {
    id: 'quill-oven',
    kind: 'oven',
    xM: 70.3,
    yM: 13.2,
    heightM: 1.2,
    eirpDbm: 20,
    centreMhz: 2458,
    hours: [[11.5, 14]],
    works: { onS: 200, everyS: 240 },
  },
  { id: 'quill-camera', kind: 'analogue-video', xM: 36, yM: 36.5, heightM: 3.5, eirpDbm: 10, centreMhz: 2468, hours: [] },
  { id: 'quill-bridge', kind: 'digital-video', xM: 70, yM: 44.5, heightM: 4, eirpDbm: 20, centreMhz: 5750, hours: [[8, 20]] },
  { id: 'quill-beacon-1', kind: 'advertising', xM: 30, yM: 20, heightM: 6, eirpDbm: 0, centreMhz: 2441, hours: [] },
  { id: 'quill-beacon-2', kind: 'advertising', xM: 50, yM: 20, heightM: 6, eirpDbm: 0, centreMhz: 2441, hours: [] },
  // The harbour's radar stands on the mole; it is on when a ship comes in.
  {
    id: 'quill-radar',
    kind: 'radar',
    xM: 60,
    yM: 190,
    heightM: 18,
    eirpDbm: 60,
    centreMhz: 5500,
    hours: [
      [10.6, 10.75],
      [15.2, 15.35],
    ],
  },
];

/** The same as a floor has them that lies so much higher. */
export const interferersFrom = (elevationM: number): Interferer[] => INTERFERERS.map((one) => ({ ...one, heightM: one.heightM - elevationM }));
