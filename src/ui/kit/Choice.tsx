'use client';
import InputBase from '@mui/material/InputBase';
import NativeSelect from '@mui/material/NativeSelect';

export type Option<T> = Readonly<{ value: T; label: string }>;

/** A choice of a few: the browser's own list, in the look of the place where it stands. `label` names it where no label element does. */
export function Choice<T extends string | number>({
  id,
  label,
  title,
  value,
  options,
  disabled = false,
  className,
  onChoose,
}: {
  id?: string;
  label?: string;
  title?: string;
  value: T;
  options: ReadonlyArray<Option<T>>;
  disabled?: boolean;
  className?: string;
  onChoose: (value: T) => void;
}) {
  return (
    <NativeSelect
      input={<InputBase />}
      className={className}
      value={String(value)}
      disabled={disabled}
      inputProps={{ id, title, 'aria-label': label }}
      onChange={(event) => {
        const chosen = options.find((option) => String(option.value) === event.target.value);
        if (chosen !== undefined) onChoose(chosen.value);
      }}
    >
      {options.map((option) => (
        <option key={String(option.value)} value={String(option.value)}>
          {option.label}
        </option>
      ))}
    </NativeSelect>
  );
}
