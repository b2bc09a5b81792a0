'use client';
import Button from '@mui/material/Button';
import { errorOf } from '@/core/building/drawing';
import { edit, remove } from '@/core/design/commands';
import { referencesOf, type Drawing, type Project } from '@/core/design/design';
import { measureDrawing } from '@/core/design/drawingCommands';
import { LIMITS } from '@/core/design/limits';
import { actionOf } from '../commands/actions';
import { errorText } from '../plan/ReferencesLayer';
import { useDocument } from '../state/documentStore';
import { useSession } from '../state/sessionStore';
import { CheckField, LengthField, NumberField, TextField, Value } from './fields';

/** References that differ by more than this contradict each other: one was mistyped or drawn over the wrong thing. */
const CONTRADICTION = 0.05;

/** What is added to the scale of a drawing on which nothing was measured. */
const SCALE_FROM: Readonly<Record<Drawing['scaleFrom'], string>> = {
  guess: ', a guess.',
  words: ': a guess, read from the lengths written on it. Measure one of them to be sure.',
  file: ', by the units of the file.',
  walls: ', as the walls it was laid over.',
};

/** A drawing under the floor: its true size, where it lies, and how it is seen. */
export function DrawingForm({ drawing, project }: { drawing: Drawing; project: Project }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const { units } = project;
  const references = referencesOf(design, drawing.id);
  const set = (title: string, fields: Partial<Drawing>) => run(title, (d) => edit(d, 'drawings', drawing.id, fields));
  const crop = (side: keyof Drawing['crop'], px: number) => set('Crop drawing', { crop: { ...drawing.crop, [side]: px } });
  const measured = references.map((reference) => ({ reference, error: errorOf(reference, drawing) }));
  const contradicts = measured.some(({ error }) => Math.abs(error.share) > CONTRADICTION);
  return (
    <div>
      <h2>{drawing.name}</h2>
      <p>{`Drawing of ${drawing.widthPx} × ${drawing.heightPx} px.`}</p>
      <TextField label="name" value={drawing.name} maxLength={LIMITS.nameLength} onCommit={(name) => set('Rename drawing', { name })} />
      <h3>True size</h3>
      <p>
        {references.length > 0 || drawing.scaleFrom !== 'guess'
          ? `1 m is ${(1 / drawing.mPerPxX).toFixed(2)} px${drawing.mPerPxX === drawing.mPerPxY ? '' : ` across and ${(1 / drawing.mPerPxY).toFixed(2)} px down`}${references.length === 0 ? SCALE_FROM[drawing.scaleFrom] : '.'}`
          : 'Not to scale yet: measure something known, the longer the better.'}
      </p>
      {measured.map(({ reference, error }, i) => (
        <div key={reference.id} className="reference">
          <LengthField
            label={`length ${i + 1}`}
            valueM={reference.lengthM}
            units={units}
            minM={LIMITS.wallLengthM.min}
            maxM={LIMITS.coordinateM.max}
            onCommit={(lengthM) =>
              run('Change a reference', (d) =>
                measureDrawing(d, drawing.id, [{ id: reference.id, reference: { ...reference, lengthM } }], { along: true }),
              )
            }
          />
          <Value label="off by">{errorText(error, units)}</Value>
          <div className="row">
            <Button
              size="small"
              color="secondary"
              aria-label={`Delete length ${i + 1}`}
              onClick={() =>
                run('Delete a reference', (d) => measureDrawing(d, drawing.id, [{ id: reference.id, reference: null }], { along: true }))
              }
            >
              Delete
            </Button>
          </div>
        </div>
      ))}
      {contradicts && (
        <p role="alert" className="urgent">
          These lengths contradict each other by more than 5 %. One was mistyped, or drawn over something else: look at the one that is most off.
        </p>
      )}
      {references.length > 1 && (
        <CheckField
          label="x and y apart"
          checked={drawing.apart}
          onCommit={(apart) => run('Scale x and y apart', (d) => measureDrawing(d, drawing.id, [], { apart, along: true }))}
        />
      )}
      <div className="row">
        <Button variant="contained" onClick={actionOf('tool-reference').run}>
          Measure a known length
        </Button>
        <Button variant="outlined" color="secondary" onClick={actionOf('tool-lay').run}>
          Lay it over the walls…
        </Button>
      </div>
      <h3>Walls</h3>
      <p>Lines of the drawing that are walls can be found. They are proposals until you draw them.</p>
      <div className="row">
        <Button variant="outlined" color="secondary" onClick={actionOf('find-walls').run}>
          Find walls
        </Button>
      </div>
      <h3>How it is seen</h3>
      <CheckField label="hidden" checked={drawing.hidden} onCommit={(hidden) => set(hidden ? 'Hide drawing' : 'Show drawing', { hidden })} />
      <NumberField
        label="strength"
        value={Math.round(drawing.opacity * 100)}
        unit="%"
        min={LIMITS.opacity.min * 100}
        max={100}
        digits={0}
        onCommit={(percent) => set('Strength of drawing', { opacity: percent / 100 })}
      />
      <CheckField label="inverted at night" checked={drawing.invertAtNight} onCommit={(invertAtNight) => set('Invert at night', { invertAtNight })} />
      <h3>Where it lies</h3>
      <LengthField
        label="x"
        valueM={drawing.xM}
        units={units}
        minM={LIMITS.coordinateM.min}
        maxM={LIMITS.coordinateM.max}
        onCommit={(xM) => set('Move drawing', { xM })}
      />
      <LengthField
        label="y"
        valueM={drawing.yM}
        units={units}
        minM={LIMITS.coordinateM.min}
        maxM={LIMITS.coordinateM.max}
        onCommit={(yM) => set('Move drawing', { yM })}
      />
      <NumberField
        label="turned"
        value={drawing.turnDeg}
        unit="°"
        min={-180}
        max={180}
        digits={2}
        onCommit={(turnDeg) => set('Turn drawing', { turnDeg })}
      />
      <h3>Cut off, in px</h3>
      {(['leftPx', 'topPx', 'rightPx', 'bottomPx'] as const).map((side) => (
        <NumberField
          key={side}
          label={side.slice(0, -2)}
          value={drawing.crop[side]}
          unit="px"
          min={0}
          max={side === 'leftPx' || side === 'rightPx' ? drawing.widthPx - 1 : drawing.heightPx - 1}
          digits={0}
          onCommit={(px) => crop(side, px)}
        />
      ))}
      <div className="row">
        <Button
          variant="outlined"
          color="secondary"
          onClick={() => {
            run('Delete drawing', (d) => remove(d, 'drawings', [drawing.id]));
            useSession.getState().set({ selection: null });
          }}
        >
          Delete drawing
        </Button>
      </div>
    </div>
  );
}
