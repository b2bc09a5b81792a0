import { centreMhz, occupied20, type Channel } from '../radio/channel';
import { hashText, seeded } from '../random';
import type { Frame, Look } from './bursts';
import { framesOf } from './frames';
import { piecesOf, type SignalKind, type SignalSource } from './signal';
import type { Received } from './sweep';

/** What a look sees of one band, as it is used to tell kinds of signal. */
export const LOOK_24: Look = { startMhz: 2400, stopMhz: 2500, stepMhz: 0.5, everyUs: 50, forUs: 1_000_000 };
export const LOOK_5: Look = { startMhz: 5560, stopMhz: 5680, stepMhz: 0.5, everyUs: 50, forUs: 2_600_000 };

/** A scene by chance: one signal of a kind, and beside it a few networks, of whose frames most are decoded. Null: networks alone. */
export function sceneOf(kind: SignalKind | null, seed: number): { look: Look; sources: Received[]; frames: Frame[]; fromUs: number } {
  const uniform = seeded(hashText(`scene/${kind}/${seed}`));
  const five = kind === 'radar';
  const look = five ? LOOK_5 : LOOK_24;
  const fromUs = Math.floor(uniform() * 8.64e10);
  const centre = five
    ? 5600 + uniform() * 40
    : kind === 'sensor'
      ? 2405 + 5 * Math.floor(uniform() * 16)
      : kind === 'noise'
        ? 2450
        : 2415 + uniform() * 55;
  const sources: Received[] = [];
  if (kind !== null) {
    const source: SignalSource = { kind, seed: Math.floor(uniform() * 1e9), centreMhz: centre, hours: [] };
    const levelDbm = -35 - 30 * uniform() + (kind === 'noise' ? 8 : 0);
    sources.push({ levelDbm, pieces: (from, to) => piecesOf(source, from, to) });
  }
  const frames: Frame[] = [];
  for (let i = 0; i < 1 + Math.floor(uniform() * 3); i++) {
    const channel: Channel = five
      ? { band: '5', primary: 100 + 4 * Math.floor(uniform() * 8), widthMhz: 20 }
      : { band: '2.4', primary: [1, 6, 11][Math.floor(uniform() * 3)]!, widthMhz: 20 };
    const levelDbm = -50 - 35 * uniform();
    const sending = { channel, seed: Math.floor(uniform() * 1e9), share: 0.03 + 0.3 * uniform(), beaconUs: 2592, beacons: 1 };
    sources.push({ levelDbm, pieces: (from, to) => framesOf(sending, from, to) });
    const [middle, half] = [centreMhz(channel), 10 * occupied20(channel).length];
    for (const { fromUs: from, toUs } of framesOf(sending, fromUs, fromUs + look.forUs))
      // One in twenty is not decoded.
      if (uniform() > 0.05) frames.push({ fromUs: from, toUs, fromMhz: middle - 3 * half, toMhz: middle + 3 * half });
  }
  return { look, sources, frames, fromUs };
}
