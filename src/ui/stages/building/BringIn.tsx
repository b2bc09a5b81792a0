'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useEffect, useState } from 'react';
import { Choice } from '../../kit/Choice';
import { FileButton } from '../../kit/FileButton';
import { useSession } from '../../state/sessionStore';
import { bringIn, forgetIncoming, layChosen, useBringIn } from './bringIn';
import type { Incoming } from './readDrawing';

const ACCEPT = '.png,.jpg,.jpeg,.webp,.svg,.pdf,.dxf,.geojson,.json,image/png,image/jpeg,image/webp,image/svg+xml,application/pdf';

/** The button that brings a drawing in, and what is to be chosen of one that has pages or layers. Files may be dropped or pasted as well. */
export function BringIn() {
  const { busy, incoming } = useBringIn();
  return (
    <>
      <div className="row">
        <FileButton label="Drawing file" accept={ACCEPT} disabled={busy !== null} small={false} onFile={(file) => void bringIn(file)}>
          Bring in a drawing…
        </FileButton>
      </div>
      {busy !== null && <p role="status">{busy}</p>}
      {incoming !== null && incoming.choice !== null && (
        <Choose key={incoming.name} incoming={incoming} choice={incoming.choice} disabled={busy !== null} />
      )}
    </>
  );
}

function Choose({ incoming, choice, disabled }: { incoming: Incoming; choice: NonNullable<Incoming['choice']>; disabled: boolean }) {
  const [chosen, setChosen] = useState<readonly number[]>(choice.several ? choice.options.map((_, i) => i) : [0]);
  const [typed, setTyped] = useState('0');
  return (
    <fieldset>
      <legend>{`${incoming.name}: which ${choice.word}?`}</legend>
      {choice.several ? (
        <div className="choices">
          {choice.options.map((option, i) => (
            <FormControlLabel
              key={option}
              label={option}
              control={
                <Checkbox
                  checked={chosen.includes(i)}
                  onChange={(event) => setChosen(event.target.checked ? [...chosen, i] : chosen.filter((other) => other !== i))}
                />
              }
            />
          ))}
        </div>
      ) : (
        <Choice
          label="Page"
          className="entry"
          value={typed}
          options={choice.options.map((option, i) => ({ value: String(i), label: option }))}
          onChoose={(value) => {
            setTyped(value);
            setChosen([Number(value)]);
          }}
        />
      )}
      <div className="row">
        <Button variant="contained" disabled={disabled || chosen.length === 0} onClick={() => void layChosen(incoming, chosen)}>
          Lay it under the floor
        </Button>
        <Button color="secondary" onClick={forgetIncoming}>
          Cancel
        </Button>
      </div>
    </fieldset>
  );
}

/** Takes files that are dropped on the page or pasted into it, in Building. */
export function useDroppedDrawings(): void {
  const stage = useSession((s) => s.stage);
  useEffect(() => {
    if (stage !== 'building') return;
    const take = (data: DataTransfer | null, event: Event) => {
      const file = data?.files[0];
      if (file === undefined) return;
      event.preventDefault();
      void bringIn(file);
    };
    const onDrop = (event: DragEvent) => take(event.dataTransfer, event);
    const onPaste = (event: ClipboardEvent) => take(event.clipboardData, event);
    const onOver = (event: DragEvent) => event.dataTransfer?.types.includes('Files') === true && event.preventDefault();
    window.addEventListener('drop', onDrop);
    window.addEventListener('dragover', onOver);
    window.addEventListener('paste', onPaste);
    return () => {
      window.removeEventListener('drop', onDrop);
      window.removeEventListener('dragover', onOver);
      window.removeEventListener('paste', onPaste);
    };
  }, [stage]);
}
