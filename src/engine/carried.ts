import { dwell } from '@/core/air/load';
import type { Design } from '@/core/design/design';
import { WORTH_TELLING } from '@/core/spectrum/identify';
import { placesOn } from '@/core/survey/heard';
import type { SiteParameters } from '@/core/survey/site';
import { looksBetween, sweptParts, SWEPT_LOOK_MS, type Swept, type SweptSignal } from '@/core/survey/swept';
import type { Stretch } from '@/core/survey/walk';
import { airOf, identifiedIn, LOOK_STEPS } from './air';
import type { TrueStorey } from './truth';

/** Tenths of a dB: more digits no receiver has. */
const tenth = (value: number): number => Math.round(value * 10) / 10;

/**
 * What a swept receiver finds that is carried on a stretch of a walk: look after look, each where its middle is. A look that is cut off by the end of a leg is none. Deterministic: a stretch
 * asked again, or in parts, gives the same looks.
 */
export function sweptOnSite(design: Design, site: SiteParameters, stretch: Stretch, storey: TrueStorey): Swept[] {
  const { legs, receiver, fromMs, toMs, floorId } = stretch;
  const carried = receiver.swept;
  if (carried === null) return [];
  const parts = sweptParts(carried.bands);
  const placeAt = placesOn(legs);
  const airThere = airOf(design, site, floorId, storey, carried.bands);
  return looksBetween(parts, fromMs, toMs).flatMap(({ part, fromMs: beganMs }): Swept[] => {
    const tMs = beganMs + SWEPT_LOOK_MS / 2;
    const leg = legs.findIndex(({ turns }) => turns.length > 1 && turns[0]!.tMs <= beganMs && turns.at(-1)!.tMs >= beganMs + SWEPT_LOOK_MS);
    const place = leg < 0 ? null : placeAt(leg, tMs);
    if (place === null) return [];
    const spot = airThere({ ...place, zM: storey.zM }, null);
    const atMs = carried.fromMs + beganMs;
    const channels = part.channels.map((channel) => {
      const { energyDbm, noiseDbm } = dwell(spot, part.band, channel, atMs, SWEPT_LOOK_MS);
      return { channel, energyDbm: tenth(energyDbm), noiseDbm: tenth(noiseDbm) };
    });
    const look = { startMhz: part.startMhz, stopMhz: part.stopMhz, ...LOOK_STEPS, forUs: SWEPT_LOOK_MS * 1000 };
    const signals = identifiedIn(spot, look, atMs).flatMap(({ kind, likelihood, levelDbm, centreMhz }): SweptSignal[] =>
      kind === 'not known' || likelihood < WORTH_TELLING
        ? []
        : [{ kind, levelDbm: tenth(levelDbm), centreMhz: tenth(centreMhz), likelihood: Math.round(likelihood * 100) / 100 }],
    );
    return [{ leg, tMs, band: part.band, channels, signals }];
  });
}
