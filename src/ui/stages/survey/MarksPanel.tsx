'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { edit } from '@/core/design/commands';
import { LIMITS } from '@/core/design/limits';
import { marksOn, type Mark } from '@/core/design/surveyCommands';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { LengthField, TextField } from '../../inspector/fields';
import { FileButton } from '../../kit/FileButton';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';
import { addPhoto, deleteMark } from './marks';

/** The marks of a floor as a list; the one in hand with its note and photos. */
export function MarksPanel({ floorId, units }: { floorId: string; units: UnitSystem }) {
  const design = useDocument((s) => s.design);
  const selection = useSession((s) => s.selection);
  const set = useSession((s) => s.set);
  const marks = marksOn(design, floorId);
  const chosen = selection?.table === 'marks' ? selection.ids[0] : undefined;
  return (
    <>
      <h3>Marks</h3>
      {marks.length === 0 && <p>None on this floor. With the tool Mark a click sets one; notes and photos go with it.</p>}
      {marks.map((mark, i) => (
        <div key={mark.id}>
          <button
            type="button"
            className="plain mark-line"
            aria-expanded={mark.id === chosen}
            onClick={() => set({ selection: mark.id === chosen ? null : { table: 'marks', ids: [mark.id] } })}
          >
            <b>{i + 1}</b> {mark.note.split('\n')[0] || 'no note'}
            {mark.photos.length > 0 && `, ${mark.photos.length} ${mark.photos.length === 1 ? 'photo' : 'photos'}`}
          </button>
          {mark.id === chosen && <MarkForm mark={mark} units={units} />}
        </div>
      ))}
    </>
  );
}

function MarkForm({ mark, units }: { mark: Mark; units: UnitSystem }) {
  const { id, note, photos, xM, yM } = mark;
  const projectId = useDocument((s) => s.projectId);
  const [shown, show] = useState<string | null>(null);
  const change = (title: string, fields: Partial<Mark>): unknown => useDocument.getState().run(title, (d) => edit(d, 'marks', id, fields));
  const src = (assetId: string) => `/api/projects/${projectId}/assets/${assetId}`;
  const { min, max } = LIMITS.coordinateM;
  return (
    <div className="mark-form">
      <TextField
        label="seen here"
        value={note}
        maxLength={LIMITS.textLength}
        mayBeEmpty
        lines={3}
        onCommit={(text) => change('Note of a mark', { note: text })}
      />
      <LengthField label="x" valueM={xM} units={units} minM={min} maxM={max} onCommit={(value) => change('Move a mark', { xM: value })} />
      <LengthField label="y" valueM={yM} units={units} minM={min} maxM={max} onCommit={(value) => change('Move a mark', { yM: value })} />
      {photos.length > 0 && (
        <div className="photos">
          {photos.map(({ assetId, name }) => (
            <button
              key={assetId}
              type="button"
              aria-expanded={shown === assetId}
              title={name}
              onClick={() => show(shown === assetId ? null : assetId)}
            >
              {/* eslint-disable-next-line @next/next/no-img-element -- a file of the project, as it was stored */}
              <img src={src(assetId)} alt={name} />
            </button>
          ))}
        </div>
      )}
      {shown !== null && photos.some(({ assetId }) => assetId === shown) && (
        <figure>
          {/* eslint-disable-next-line @next/next/no-img-element -- a file of the project, as it was stored */}
          <img src={src(shown)} alt={photos.find(({ assetId }) => assetId === shown)!.name} />
          <figcaption>{photos.find(({ assetId }) => assetId === shown)!.name}</figcaption>
          <Button size="small" onClick={() => change('Take a photo away', { photos: photos.filter(({ assetId }) => assetId !== shown) })}>
            Take this photo away
          </Button>
        </figure>
      )}
      <div className="row">
        <FileButton
          label="Photo of the mark"
          accept="image/png,image/jpeg"
          disabled={photos.length >= LIMITS.photosPerMark}
          onFile={(file) => void addPhoto(id, file)}
        >
          Add photo
        </FileButton>
        <Button size="small" variant="outlined" color="secondary" onClick={() => deleteMark(mark)}>
          Delete mark
        </Button>
      </div>
      <p>{`At ${formatLength(xM, units, 2)}, ${formatLength(yM, units, 2)}.`}</p>
    </div>
  );
}
