'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { LIMITS } from '@/core/design/limits';
import { formatLength } from '@/core/units/length';
import { NumberField } from '../../inspector/fields';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { runTransfer, spotOfTest, useTransfer } from './transfer';
import { useWalker } from './walker';

/** A throughput test at the pinned spot, or where the walk stands. */
export function TransferPanel({ place }: { place: Place }) {
  const [runs, setRuns] = useState(5);
  const pinned = useSession((s) => s.pinned);
  const connected = useWalker((s) => s.receiver === 'connected');
  const { busy, problem } = useTransfer();
  const at = spotOfTest(pinned);
  const { units } = place.project;
  return (
    <>
      <h3>Throughput at a spot</h3>
      <NumberField
        label="runs"
        value={runs}
        unit=""
        min={LIMITS.transferRuns.min}
        max={LIMITS.transferRuns.max}
        digits={0}
        onCommit={(value) => setRuns(Math.round(value))}
      />
      <div className="row">
        <Button
          variant="outlined"
          color="secondary"
          disabled={busy || !connected || at === null}
          onClick={() => at !== null && void runTransfer(place, at, runs)}
        >
          {busy ? 'Transferring …' : 'Test throughput'}
        </Button>
      </div>
      {!connected ? (
        <p>Connect the receiver for it.</p>
      ) : at === null ? (
        <p>Pin a spot (P), or begin a walk and stand.</p>
      ) : (
        <p>{`At ${formatLength(at.xM, units, 1)}, ${formatLength(at.yM, units, 1)}, to and from whoever serves there; with the client of the lens bar.`}</p>
      )}
      {problem !== null && <p role="alert">{problem}</p>}
    </>
  );
}
