import { airtimeLimits, topThree, widthLimits, type LitRadio } from './combine';
import { levelAtAp } from './heard';
import type { Lens, LensContext } from './lens';
import type { OwedZone } from './owed';
import { linkOf, snrOf, type Link } from './quality';
import { stepAt, type RateStep } from '../radio/rates';
import type { Medium } from '../propagation/medium';
import { sightLine, type Spot } from '../propagation/ray';
import type { Emitter } from '../propagation/station';

/** A radio on the air, and what it is besides for the lenses. */
export type SpotRadio = Emitter & Pick<LitRadio, 'key' | 'name' | 'streams' | 'generation'>;

/** The radios with a field of one cell. */
const litAt = (medium: Medium, radios: readonly SpotRadio[], at: Spot, gainDbi: number): LitRadio[] =>
  radios.map((radio) => {
    const { lossDb } = sightLine(medium, radio.pose, radio.antenna, radio.channel.band, at, gainDbi);
    return { ...radio, lossDb: Float32Array.of(lossDb) };
  });

/**
 * A lens's value at one spot, from a field of one cell and the lens's own kernel, so that it is what the map would show there. NaN where nothing is
 * claimed; for lenses of kinds the index of the kind.
 */
export function lensAt(
  lens: Lens,
  medium: Medium,
  radios: readonly SpotRadio[],
  at: Spot,
  owed: ReadonlyArray<OwedZone['level']>,
  asked: Pick<LensContext, 'receiver' | 'ignoreBelowDbm' | 'rank' | 'widthMhz' | 'direction'>,
): number {
  const lit = litAt(medium, radios, at, asked.receiver.gainDbi);
  const top = topThree(lit, 1);
  const server = top.radio[0]!;
  // Only the row of the radio that serves is asked for: of the others nobody wants to know what their antennas hear.
  const levelsAtDbm = () => {
    const levels = new Float32Array(radios.length ** 2).fill(-Infinity);
    if (server >= 0) radios.forEach((radio, j) => j !== server && (levels[server * radios.length + j] = levelAtAp(medium, radio, radios[server]!)));
    return levels;
  };
  const out = new Float32Array(1);
  const cell = Uint8Array.of(1);
  lens.kernel(
    {
      ...asked,
      top,
      radios: lit,
      limits: (widthMhz) => (widthMhz === null ? airtimeLimits(lit, levelsAtDbm()) : widthLimits(lit, levelsAtDbm(), widthMhz)),
      levelsAtDbm,
      owed: owed.map((level) => ({ mask: cell, level })),
      met: null,
      mask: cell,
    },
    out,
  );
  return out[0]!;
}

/** How the best rate at a spot is made up; null where nobody serves or none is reached. */
export function stepHere(
  medium: Medium,
  radios: readonly SpotRadio[],
  at: Spot,
  { receiver, direction, ignoreBelowDbm }: Pick<LensContext, 'receiver' | 'direction' | 'ignoreBelowDbm'>,
): (RateStep & Pick<Link, 'phy' | 'widthMhz'>) | null {
  const lit = litAt(medium, radios, at, receiver.gainDbi);
  const top = topThree(lit, 1);
  const server = lit[top.radio[0]!];
  if (server === undefined || !(top.level[0]! >= ignoreBelowDbm)) return null;
  const link = linkOf(server, receiver);
  const step = stepAt(link.steps, snrOf(link, server.txPowerDbm, receiver, top.level[0]!, direction));
  return step === null ? null : { ...step, phy: link.phy, widthMhz: link.widthMhz };
}
