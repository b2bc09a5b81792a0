'use client';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Slider from '@mui/material/Slider';
import type { Drawing, Project } from '@/core/design/design';
import { isMeasured } from '@/core/design/design';
import { LEAF_M } from '@/core/finding/doors';
import { DRAW_STYLES, type DrawStyle, type Found } from '@/core/finding/findWalls';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { SelectField, Value } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';
import { drawProposals, findIn, fittingsIn, forgetFound, isIn, takeGuess, useFinding } from './finding';

const STYLE_LABEL: Readonly<Record<DrawStyle, string>> = {
  band: 'two lines',
  solid: 'filled with ink',
  mixed: 'both of these',
  single: 'one thin line',
};

/** Walls found in a drawing, under review: how many, how well rated, by which scale; drawn when the engineer says so. */
export function FoundPanel({ drawing, project }: { drawing: Drawing; project: Project }) {
  const finding = useFinding();
  const design = useDocument((s) => s.design);
  const leave = () => {
    forgetFound();
    useSession.getState().set({ tool: 'select' });
  };
  const { phase, found, atLeast } = finding;
  const chosen = found?.walls.filter((_, index) => isIn(finding, index)) ?? [];
  const fittings = fittingsIn(finding);
  const countFittings = (kind: 'stairs' | 'lift') => fittings.filter((one) => one.kind === kind).length;
  const count = (kind: 'door' | 'window') => chosen.reduce((sum, { openings }) => sum + openings.filter((one) => one.kind === kind).length, 0);
  return (
    <div role="region" aria-label="Found walls">
      <h2>{`Walls in “${drawing.name}”`}</h2>
      {phase === 'running' && (
        <>
          <p role="status">Looking for walls …</p>
          <LinearProgress variant="determinate" value={finding.done * 100} aria-label="Share done" />
        </>
      )}
      {phase === 'failed' && <p role="alert">{finding.problem}</p>}
      {phase === 'found' && found !== null && found.walls.length === 0 && (
        <p role="status">No wall was found that does not stand already. Try another way of drawing below, or cut off what is not the plan.</p>
      )}
      {phase === 'found' && found !== null && found.walls.length > 0 && (
        <>
          <p role="status">{`${many(chosen.length, 'wall')} of ${found.walls.length} in, with ${many(count('door'), 'door')} and ${many(count('window'), 'window')}.`}</p>
          {found.fittings.length > 0 && (
            <p>{`Stairs and lifts are guessed by how they are drawn: ${many(countFittings('stairs'), 'flight')} of stairs and ${many(countFittings('lift'), 'lift')} in. They become rooms of that name.`}</p>
          )}
          <p>Click a wall on the plan to take it out or in; draw a box over several. What is out is dotted.</p>
          <p id="at-least">{`in when rated ${Math.round(atLeast * 100)} of 100 or better`}</p>
          <Slider
            aria-labelledby="at-least"
            size="small"
            value={Math.round(atLeast * 100)}
            min={0}
            max={95}
            step={5}
            onChange={(_event, value) => useFinding.setState({ atLeast: value / 100 })}
          />
          <ScaleFound found={found} drawing={drawing} measured={isMeasured(design, drawing)} units={project.units} />
          <p>Materials are taken by thickness, and heights are the floor’s: look at them after drawing.</p>
          <div className="row">
            <Button variant="contained" disabled={chosen.length === 0} onClick={drawProposals}>
              {`Draw ${many(chosen.length, 'wall')}`}
            </Button>
            <Button color="secondary" onClick={leave}>
              Discard
            </Button>
          </div>
        </>
      )}
      {phase !== 'running' && (
        <SelectField
          label="drawn as"
          value={finding.style ?? 'any'}
          options={[
            { value: 'any', label: found === null ? 'found out' : `found out: ${STYLE_LABEL[found.style]}` },
            ...DRAW_STYLES.map((style) => ({ value: style, label: STYLE_LABEL[style] })),
          ]}
          onCommit={(style) => void findIn(drawing, style === 'any' ? null : style)}
        />
      )}
      {(phase !== 'found' || found?.walls.length === 0) && (
        <div className="row">
          <Button color="secondary" onClick={leave}>
            {phase === 'running' ? 'Cancel' : 'Close'}
          </Button>
        </div>
      )}
    </div>
  );
}

const many = (n: number, word: string): string => `${n} ${n === 1 ? word : `${word}s`}`;

/** What was guessed of the scale, from what, and the way to take it. */
function ScaleFound({ found, drawing, measured, units }: { found: Found; drawing: Drawing; measured: boolean; units: UnitSystem }) {
  const { scale } = found;
  if (scale === null || scale.from === 'known') return null;
  const wideM = drawing.widthPx / scale.pxPerM;
  const taken = Math.abs(drawing.mPerPxX * scale.pxPerM - 1) < 1e-6;
  return (
    <>
      <h3>Scale, a guess</h3>
      <Value label="drawing is wide">{`about ${formatLength(wideM, units, 0)}`}</Value>
      <p>
        {scale.from === 'doors'
          ? `By the leaves of ${scale.count} doors, taken to be ${formatLength(LEAF_M, units)} wide. Other leaves make it wrong by as much.`
          : 'By the commonest thickness of the walls only: hardly to be trusted.'}{' '}
        {!measured && 'Measure a known length to be sure; what is drawn goes along.'}
      </p>
      <div className="row">
        <Button variant="outlined" color="secondary" disabled={taken} onClick={takeGuess}>
          {taken ? 'Taken' : 'Take this scale'}
        </Button>
      </div>
    </>
  );
}
