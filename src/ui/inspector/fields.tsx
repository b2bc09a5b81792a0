'use client';
import Checkbox from '@mui/material/Checkbox';
import InputBase from '@mui/material/InputBase';
import { useId, useState, type ReactNode } from 'react';
import { Choice, type Option } from '../kit/Choice';
import { NumberEntry, type NumberEntryProps } from '../kit/NumberEntry';
import { ftFromM, mFromFt, type UnitSystem } from '@/core/units/length';

/** The one value that all have, or null when they differ. */
export function common<T, V>(items: readonly T[], pick: (item: T) => V): V | null {
  const first = pick(items[0]!);
  return items.every((item) => pick(item) === first) ? first : null;
}

/** A row of a form: label and control. */
export function Field({ label, htmlFor, children }: { label: string; htmlFor?: string; children: ReactNode }) {
  return (
    <div className="field">
      {htmlFor === undefined ? <span className="label">{label}</span> : <label htmlFor={htmlFor}>{label}</label>}
      {children}
    </div>
  );
}

/** A row of a form for a number with its unit; see `NumberEntry`. */
export function NumberField({ label, ...entry }: Omit<NumberEntryProps, 'id' | 'problemId' | 'onProblem'>) {
  const id = useId();
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <NumberEntry {...entry} id={id} label={label} problemId={`${id}-problem`} onProblem={setProblem} />
      {problem !== null && (
        <span className="problem" id={`${id}-problem`} role="alert">
          {problem}
        </span>
      )}
    </div>
  );
}

/** A length entered and shown in the project's units, kept in metres. Limits are in metres. */
export function LengthField({
  label,
  valueM,
  units,
  minM,
  maxM,
  onCommit,
}: {
  label: string;
  valueM: number | null;
  units: UnitSystem;
  minM: number;
  maxM: number;
  onCommit: (valueM: number) => void;
}) {
  if (units === 'metric') return <NumberField label={label} value={valueM} unit="m" min={minM} max={maxM} onCommit={onCommit} />;
  return (
    <NumberField
      label={label}
      value={valueM === null ? null : Number(ftFromM(valueM).toFixed(2))}
      unit="ft"
      min={ftFromM(minM)}
      max={ftFromM(maxM)}
      onCommit={(ft) => onCommit(Math.round(mFromFt(ft) * 1e6) / 1e6)}
    />
  );
}

export function TextField({
  label,
  value,
  maxLength,
  placeholder,
  mayBeEmpty = false,
  lines = 1,
  disabled = false,
  problem,
  onCommit,
}: {
  label: string;
  value: string;
  maxLength: number;
  placeholder?: string;
  mayBeEmpty?: boolean;
  /** Of a longer text: Enter begins a new one, leaving it commits. */
  lines?: number;
  disabled?: boolean;
  /** What is wrong with a text, in words; null for nothing. What is wrong is not committed. */
  problem?: (text: string) => string | null;
  onCommit: (value: string) => void;
}) {
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const text = draft?.trim();
    if (text !== undefined && problem?.(text)) return;
    setDraft(null);
    if (text !== undefined && (text !== '' || mayBeEmpty) && text !== value) onCommit(text);
  };
  const wrong = draft === null ? null : (problem?.(draft.trim()) ?? null);
  return (
    <Field label={label} htmlFor={id}>
      <InputBase
        id={id}
        disabled={disabled}
        className={lines === 1 ? 'entry' : 'entry text'}
        multiline={lines > 1}
        minRows={lines > 1 ? lines : undefined}
        maxRows={lines > 1 ? 3 * lines : undefined}
        value={draft ?? value}
        placeholder={placeholder}
        slotProps={{ input: { maxLength, 'aria-invalid': wrong !== null, 'aria-describedby': wrong === null ? undefined : `${id}-problem` } }}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && lines === 1) commit();
          if (event.key === 'Escape' && wrong !== null) setDraft(null);
        }}
      />
      {wrong !== null && (
        <span className="problem" id={`${id}-problem`} role="alert">
          {wrong}
        </span>
      )}
    </Field>
  );
}

export function SelectField<T extends string | number>({
  label,
  value,
  options,
  disabled = false,
  onCommit,
}: {
  label: string;
  value: T | null;
  options: ReadonlyArray<Option<T>>;
  disabled?: boolean;
  onCommit: (value: T) => void;
}) {
  const id = useId();
  const known = value === null || options.some((option) => option.value === value);
  return (
    <Field label={label} htmlFor={id}>
      <Choice<T | ''>
        id={id}
        className="entry"
        disabled={disabled}
        value={value ?? ''}
        options={[
          ...(value === null ? [{ value: '' as const, label: 'several' }] : []),
          ...(known ? [] : [{ value: value!, label: `${value} (not allowed here)` }]),
          ...options,
        ]}
        onChoose={(chosen) => chosen !== '' && onCommit(chosen as T)}
      />
    </Field>
  );
}

export function CheckField({
  label,
  checked,
  disabled = false,
  onCommit,
}: {
  label: string;
  checked: boolean;
  disabled?: boolean;
  onCommit: (checked: boolean) => void;
}) {
  const id = useId();
  return (
    <Field label={label} htmlFor={id}>
      <span>
        <Checkbox id={id} checked={checked} disabled={disabled} onChange={(event) => onCommit(event.target.checked)} />
      </span>
    </Field>
  );
}

/** A computed value that cannot be edited. */
export function Value({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Field label={label}>
      <span className="mono">{children}</span>
    </Field>
  );
}
