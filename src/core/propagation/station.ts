import type { Antenna } from '../radio/antenna';
import type { Channel } from '../radio/channel';
import type { Pose } from './crossing';

/**
 * An access point as rays see it: where it hangs, its antenna in each band, `null` where it has no radio, and at which frequency walls are met: that of the channel in each band, or the
 * band's middle where none is said. Not its powers.
 */
export type Station = Readonly<{ pose: Pose; antennas: ReadonlyArray<Antenna | null>; centresMhz?: ReadonlyArray<number | null> }>;

/** A radio on the air. */
export type Emitter = Readonly<{ pose: Pose; antenna: Antenna; channel: Channel; txPowerDbm: number }>;
