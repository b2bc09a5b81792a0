'use client';
import Button from '@mui/material/Button';
import { useRef } from 'react';

/** A button that asks for one file. `label` names the field for who does not see the button. */
export function FileButton({
  children,
  label,
  accept,
  disabled = false,
  small = true,
  onFile,
}: {
  children: string;
  label: string;
  accept: string;
  disabled?: boolean;
  small?: boolean;
  onFile: (file: File) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...(small ? { size: 'small' } : {})} variant="outlined" color="secondary" disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        className="visually-hidden"
        tabIndex={-1}
        aria-label={label}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file !== undefined) onFile(file);
        }}
      />
    </>
  );
}
