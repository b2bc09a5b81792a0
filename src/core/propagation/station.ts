import type { Antenna } from '../radio/antenna';
import type { Channel } from '../radio/channel';
import type { Pose } from './ray';

/** An access point as rays see it: where it hangs, and its antenna in each band, `null` where it has no radio. Not its channels or powers. */
export type Station = Readonly<{ pose: Pose; antennas: ReadonlyArray<Antenna | null> }>;

/** A radio on the air. */
export type Emitter = Readonly<{ pose: Pose; antenna: Antenna; channel: Channel; txPowerDbm: number }>;
