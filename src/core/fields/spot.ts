import { airtimeLimits, topThree, widthLimits, type LitRadio, type TopThree } from './combine';
import { NO_DISTURBERS, type Disturber } from './disturber';
import { levelAtAp } from './heard';
import type { Lens, LensContext } from './lens';
import type { OwedZone } from './owed';
import { linkOf, snrOf, type Link } from './quality';
import { stepAt, type RateStep } from '../radio/rates';
import { offMiddleDb, pathMhz } from '../radio/channel';
import type { Receiver } from '../radio/receiver';
import type { Medium } from '../propagation/medium';
import type { Spot } from '../propagation/crossing';
import { sightLine } from '../propagation/ray';
import type { Emitter } from '../propagation/station';

/** A radio on the air, and what it is besides for the lenses. */
export type SpotRadio = Emitter & Pick<LitRadio, 'key' | 'name' | 'streams' | 'generation'>;

/** A spot where somebody stands: the radios with a field of one cell, and the strongest three of them. */
export type Stand = Readonly<{ medium: Medium; radios: readonly SpotRadio[]; lit: readonly LitRadio[]; top: TopThree }>;

/** The rays of all radios to a spot, as fields of one cell: the path at the band's middle. */
export function standAt(medium: Medium, radios: readonly SpotRadio[], at: Spot, { gainDbi }: Receiver): Stand {
  const lit = radios.map((radio): LitRadio => {
    const { lossDb } = sightLine(medium, radio.pose, radio.antenna, radio.channel.band, at, gainDbi, pathMhz(radio.channel));
    return { ...radio, lossDb: Float32Array.of(lossDb - offMiddleDb(radio.channel)) };
  });
  return { medium, radios, lit, top: topThree(lit, 1) };
}

/**
 * A lens's value at one spot, from a field of one cell and the lens's own kernel, so that it is what the map would show there. NaN where nothing is
 * claimed; for lenses of kinds the index of the kind.
 */
export function lensAt(
  lens: Lens,
  { medium, radios, lit, top }: Stand,
  owed: ReadonlyArray<OwedZone['level']>,
  asked: Pick<LensContext, 'receiver' | 'ignoreBelowDbm' | 'rank' | 'widthMhz' | 'direction'>,
  disturbers: readonly Disturber[] = NO_DISTURBERS,
): number {
  const server = top.radio[0]!;
  // Only the row of the radio that serves is asked for: of the others nobody wants to know what their antennas hear.
  const levelsAtDbm = () => {
    const levels = new Float32Array(radios.length ** 2).fill(-Infinity);
    if (server >= 0) radios.forEach((radio, j) => j !== server && (levels[server * radios.length + j] = levelAtAp(medium, radio, radios[server]!)));
    return levels;
  };
  const out = new Float32Array(1);
  const mask = Uint8Array.of(1);
  const limits: LensContext['limits'] = (widthMhz) =>
    widthMhz === null ? airtimeLimits(lit, levelsAtDbm()) : widthLimits(lit, levelsAtDbm(), widthMhz);
  lens.kernel({ ...asked, top, radios: lit, limits, levelsAtDbm, owed: owed.map((level) => ({ mask, level })), met: null, mask, disturbers }, out);
  return out[0]!;
}

/** How the best rate at a spot is made up; null where nobody serves or none is reached. */
export function stepAtStand(
  { lit, top }: Stand,
  { receiver, direction, ignoreBelowDbm }: Pick<LensContext, 'receiver' | 'direction' | 'ignoreBelowDbm'>,
): (RateStep & Pick<Link, 'phy' | 'widthMhz'>) | null {
  const server = lit[top.radio[0]!];
  if (server === undefined || !(top.level[0]! >= ignoreBelowDbm)) return null;
  const link = linkOf(server, receiver);
  const step = stepAt(link.steps, snrOf(link, server.txPowerDbm, receiver, top.level[0]!, direction));
  return step === null ? null : { ...step, phy: link.phy, widthMhz: link.widthMhz };
}
