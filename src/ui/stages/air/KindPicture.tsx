'use client';
import { useEffect, useRef } from 'react';
import { piecesOf, SIGNAL_KINDS, type SignalKind } from '@/core/spectrum/signal';
import { leastSweepMs, sweep, type Received, type SweepSetting } from '@/core/spectrum/sweep';
import { useSession } from '../../state/sessionStore';
import { RAMP_STOPS, rampTable } from '../../theme/tokens';
import { useScheme } from '../../theme/useScheme';
import { SIGNAL_WORDS } from '../../state/signalWords';

const COLS = 150;
const ROWS = 56;
/** Lines a second that come on top. */
const EACH_MS = 150;

/** What of the spectrum a kind is shown in. */
function spanOf(kind: SignalKind): Pick<SweepSetting, 'startMhz' | 'stopMhz'> {
  const { usualMhz } = SIGNAL_WORDS[kind];
  const half = {
    oven: 40,
    hopper: 45,
    carrier: 4,
    'analogue-video': 20,
    'digital-video': 15,
    phone: 8,
    sensor: 8,
    advertising: 45,
    noise: 60,
    radar: 5,
  }[kind];
  return { startMhz: usualMhz - half, stopMhz: usualMhz + half };
}

/** A small waterfall of a kind, made line by line by the same receiver that sweeps the site. */
export function KindPicture({ kind }: { kind: SignalKind }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scheme = useScheme();
  const rampName = useSession((s) => s.ramp);
  useEffect(() => {
    const g = canvas.current?.getContext('2d');
    if (g === null || g === undefined) return;
    const ramp = rampTable(RAMP_STOPS[rampName][scheme]);
    const span = spanOf(kind);
    const rbwKhz = Math.min(1000, Math.max(100, ((span.stopMhz - span.startMhz) * 1000) / COLS));
    const setting: SweepSetting = { ...span, bins: COLS, rbwKhz, sweepMs: 0, detector: 'peak' };
    const timed = { ...setting, sweepMs: Math.max(kind === 'radar' ? 40 : 12, Math.ceil(leastSweepMs(setting))) };
    const source = { kind, centreMhz: SIGNAL_WORDS[kind].usualMhz, seed: 7 + SIGNAL_KINDS.indexOf(kind), hours: [] };
    const sources: Received[] = [{ levelDbm: -45, pieces: (from, to) => piecesOf(source, from, to) }];
    let atUs = 4.4e10;
    const line = (y: number) => {
      const pixels = Uint32Array.from(
        sweep(timed, sources, atUs, 1),
        (dbm) => ramp[Math.min(255, Math.max(0, Math.round(((dbm + 105) / 55) * 255)))]!,
      );
      g.putImageData(new ImageData(new Uint8ClampedArray(pixels.buffer), COLS, 1), 0, y);
      atUs += timed.sweepMs * 1000;
    };
    for (let y = ROWS - 1; y >= 0; y--) line(y);
    const timer = setInterval(() => {
      if (document.hidden) return;
      g.drawImage(g.canvas, 0, 1);
      line(0);
    }, EACH_MS);
    return () => clearInterval(timer);
  }, [kind, rampName, scheme]);
  const { startMhz, stopMhz } = spanOf(kind);
  return (
    <figure className="air-kind">
      <canvas ref={canvas} width={COLS} height={ROWS} role="img" aria-label={`Waterfall of a ${SIGNAL_WORDS[kind].label.toLowerCase()}`} />
      <figcaption className="mono">{`${startMhz}–${stopMhz} MHz`}</figcaption>
    </figure>
  );
}
