'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { LogLine } from '@/contract/http';
import { UpperRoomError } from '@/core/errors';
import { compareWithStep } from '../compare/compared';
import { VirtualBody } from '../kit/VirtualBody';
import { api } from '../state/api';
import { useDocument } from '../state/documentStore';
import { authorName, browserAuthor } from '../state/surroundings';
import { localTime } from '../state/time';

/** Who changed what when, newest first; going back to a step is a step of its own and can be undone. */
export function HistoryPanel() {
  const projectId = useDocument((s) => s.projectId);
  const log = useDocument((s) => s.log);
  const [earlier, setEarlier] = useState<readonly LogLine[]>([]);
  const [asking, setAsking] = useState(false);
  const { goBackTo, setNotice } = useDocument.getState();
  const own = browserAuthor();
  const lines = [...earlier.filter((line) => line.revision < (log[0]?.revision ?? 0)), ...log].reverse();
  const first = lines.at(-1);
  const loadEarlier = async () => {
    if (projectId === null || first === undefined) return;
    setAsking(true);
    try {
      const page = await api.logUpTo(projectId, first.revision - 1);
      setEarlier((known) => [...page, ...known.filter((line) => line.revision >= first.revision)]);
    } catch (error) {
      if (!(error instanceof UpperRoomError)) throw error;
      setNotice({ code: error.code });
    } finally {
      setAsking(false);
    }
  };
  return (
    <>
      <table className="dense" aria-label="History">
        <thead>
          <tr>
            {['time', 'who', 'what', ''].map((head, i) => (
              <th key={i} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <VirtualBody
          items={lines}
          rowPx={27}
          columns={4}
          row={(line, i, measure) => (
            <tr key={line.revision} ref={measure} data-index={i}>
              <td className="mono">{localTime(line.at)}</td>
              <td>{authorName(line.author, own)}</td>
              <td className="wide">{line.title}</td>
              <td>
                {i === 0 ? (
                  'as it is now'
                ) : (
                  <>
                    <button
                      type="button"
                      className="plain"
                      onClick={() => void compareWithStep(line)}
                      aria-label={`Compare with the design after: ${line.title}, ${localTime(line.at)}`}
                    >
                      compare with here
                    </button>
                    {' · '}
                    <button
                      type="button"
                      className="plain"
                      onClick={() => void goBackTo(line)}
                      aria-label={`Go back to: ${line.title}, ${localTime(line.at)}`}
                    >
                      go back to here
                    </button>
                  </>
                )}
              </td>
            </tr>
          )}
        />
      </table>
      {first !== undefined && first.revision > 1 && (
        <Button color="secondary" disabled={asking} onClick={() => void loadEarlier()}>
          Earlier steps
        </Button>
      )}
    </>
  );
}
