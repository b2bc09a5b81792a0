'use client';
import InputBase from '@mui/material/InputBase';
import { useState } from 'react';

const trim = (value: number, digits: number): string => String(Number(value.toFixed(digits)));

export type NumberEntryProps = Readonly<{
  id: string;
  /** What it is, in the message about a wrong entry. */
  label: string;
  /** Null: several things are selected and differ. */
  value: number | null;
  unit: string;
  min: number;
  max: number;
  digits?: number;
  disabled?: boolean;
  /** What stands where there is no value; else `several`. */
  placeholder?: string;
  onCommit: (value: number) => void;
  /** The element that says what is wrong, where there is one beside it. */
  problemId?: string;
  /** Told what is wrong with an entry, and null when all is well again. */
  onProblem?: (problem: string | null) => void;
}>;

/**
 * A number with its unit. Enter or leaving commits; what is out of limits is said and not taken; Escape puts the value back. Its limits are
 * told in words to whoever rests on it.
 */
export function NumberEntry({
  id,
  label,
  value,
  unit,
  min,
  max,
  digits = 2,
  disabled = false,
  placeholder = 'several',
  problemId,
  onCommit,
  onProblem,
}: NumberEntryProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const limits = `${trim(min, digits)} to ${trim(max, digits)} ${unit}`.trim();
  const say = (problem: string | null) => {
    setWrong(problem !== null);
    onProblem?.(problem);
  };
  const commit = () => {
    if (draft === null) return;
    const text = draft.trim().replace(',', '.').replace('−', '-');
    const number = Number(text);
    setDraft(null);
    if (text === '' || !Number.isFinite(number) || number < min || number > max) {
      say(`${label} must be a number from ${limits}; it stays as it was.`);
      return;
    }
    say(null);
    if (value === null || Math.abs(number - value) > 1e-9) onCommit(number);
  };
  return (
    <InputBase
      id={id}
      className="entry mono"
      value={draft ?? (value === null ? '' : trim(value, digits))}
      placeholder={value === null ? placeholder : undefined}
      disabled={disabled}
      error={wrong}
      title={limits.replaceAll('-', '−')}
      slotProps={{ input: { inputMode: 'decimal', 'aria-describedby': wrong ? problemId : undefined } }}
      endAdornment={
        <span className="unit" aria-hidden="true">
          {unit}
        </span>
      }
      onChange={(event) => setDraft(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit();
        if (event.key === 'Escape' && draft !== null) {
          event.preventDefault();
          setDraft(null);
        }
      }}
    />
  );
}
