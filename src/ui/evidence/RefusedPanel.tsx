'use client';
import Button from '@mui/material/Button';
import type { Conflict } from '@/core/design/merge';
import { isTable, kindOf, type Table } from '@/core/design/registry';
import { useDocument } from '../state/documentStore';
import type { Refusal } from '../state/outbox';
import { wordsOf } from '../state/notices';
import { localTime } from '../state/time';

/** Edits that the server did not take, each with both values, until somebody settles it; and stored records that cannot be read. */
export function RefusedPanel() {
  const refused = useDocument((s) => s.refused);
  const unreadable = useDocument((s) => s.unreadable);
  const { applyMine, discard } = useDocument.getState();
  if (refused.length === 0 && unreadable.length === 0) return <p className="empty">Nothing was refused: every edit of this browser stands.</p>;
  return (
    <table className="dense" aria-label="Refused edits">
      <thead>
        <tr>
          {['time', 'edit', 'why', 'yours', 'stands now', ''].map((head, i) => (
            <th key={i} scope="col">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {refused.map((refusal) => (
          <tr key={refusal.id}>
            <td className="mono">{localTime(refusal.at)}</td>
            <td>{refusal.title}</td>
            <td className="wide">{wordsOf({ code: refusal.code })}</td>
            <td className="wide">
              <Values refusal={refusal} side="yours" />
            </td>
            <td className="wide">
              <Values refusal={refusal} side="theirs" />
            </td>
            <td>
              <Button size="small" variant="contained" onClick={() => void applyMine(refusal)} aria-label={`Apply mine: ${refusal.title}`}>
                Apply mine
              </Button>{' '}
              <Button size="small" color="secondary" onClick={() => void discard(refusal)} aria-label={`Discard: ${refusal.title}`}>
                Discard
              </Button>
            </td>
          </tr>
        ))}
        {unreadable.map(({ table, id, problem }) => (
          <tr key={`${table}/${id}`}>
            <td />
            <td>{`${isTable(table) ? kindOf(table).word : table} ${id}`}</td>
            <td className="wide">{wordsOf({ code: 'RECORD_UNREADABLE', details: { problem } })}</td>
            <td />
            <td />
            <td>set aside</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const MAX_SHOWN = 4;

/** One side of what is contested. A whole edit without contested values shows what it set. */
function Values({ refusal, side }: { refusal: Refusal; side: 'yours' | 'theirs' }) {
  const conflicts = refusal.conflicts.length > 0 ? refusal.conflicts : wholeEdit(refusal);
  return (
    <>
      {conflicts.slice(0, MAX_SHOWN).map((conflict) => (
        <div key={`${conflict.table}/${conflict.id}/${conflict.field}`}>
          {`${named(conflict)}: `}
          <span className="mono">{valueText(conflict[side])}</span>
        </div>
      ))}
      {conflicts.length > MAX_SHOWN && <div>{`and ${conflicts.length - MAX_SHOWN} more`}</div>}
    </>
  );
}

const wholeEdit = ({ item }: Refusal): Conflict[] =>
  item.kind !== 'step' ? [] : item.step.changes.map(({ table, id, before, after }) => ({ table, id, field: null, yours: after, theirs: before }));

/** What a contested value belongs to, by the name a person gave it where it has one. */
function named({ table, id, field, yours, theirs }: Conflict): string {
  const { design } = useDocument.getState();
  const records = design[table as Table] as Readonly<Record<string, { name?: string }>>;
  const record = Object.hasOwn(records, id) ? records[id] : ((yours ?? theirs) as { name?: string } | null);
  return [kindOf(table).word, record?.name, field].filter(Boolean).join(' ');
}

function valueText(value: unknown): string {
  if (value === null || value === undefined) return 'deleted';
  if (typeof value === 'object' && !Array.isArray(value)) return (value as { name?: string }).name ?? 'as a whole';
  return JSON.stringify(value).slice(0, 80);
}
