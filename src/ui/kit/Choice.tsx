'use client';
import InputBase from '@mui/material/InputBase';
import NativeSelect from '@mui/material/NativeSelect';

/** `group`: options of one group stand together under its name. `off`: it cannot be chosen. */
export type Option<T> = Readonly<{ value: T; label: string; group?: string; off?: boolean }>;

const Entry = <T extends string | number>({ value, label, off }: Option<T>) => (
  <option value={String(value)} disabled={off}>
    {label}
  </option>
);

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
      // A narrow list cuts long names: resting on it tells the whole.
      inputProps={{ id, title: title ?? options.find((option) => option.value === value)?.label, 'aria-label': label }}
      onChange={(event) => {
        const chosen = options.find((option) => String(option.value) === event.target.value);
        if (chosen !== undefined) onChoose(chosen.value);
      }}
    >
      {[...new Set(options.map(({ group }) => group))].map((group) => {
        const entries = options.filter((option) => option.group === group).map((option) => <Entry key={String(option.value)} {...option} />);
        return group === undefined ? (
          entries
        ) : (
          <optgroup key={group} label={group}>
            {entries}
          </optgroup>
        );
      })}
    </NativeSelect>
  );
}
