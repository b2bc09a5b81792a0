'use client';
import Button from '@mui/material/Button';
import Link from 'next/link';
import Checkbox from '@mui/material/Checkbox';
import { LENSES, lensOf } from '@/core/fields/lenses';
import type { Counted, PlacedLook } from '@/core/survey/heard';
import { LengthField, SelectField, TextField } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { useSessionFields } from '../../state/sessionStore';
import { ReceiverPanel } from './ReceiverPanel';
import { RoutePanel } from './RoutePanel';
import { SweptPanel } from './SweptPanel';
import { LocatedPanel } from './LocatedPanel';
import { MarksPanel } from './MarksPanel';
import { TransferPanel } from './TransferPanel';
import { FileButton } from '../../kit/FileButton';
import { bringInSamples } from './surveyFiles';
import { WalkInView, WalkUnderWay } from './WalkPanel';
import { onFloorWalks } from './walks';
import { useWalker, walkForCapture } from './walker';

/** The receiver, the walk under way, and the walks there are. */
export function SurveyPanel({ place, heard: { samples, looks } }: { place: Place; heard: Counted }) {
  const walkingId = useWalker((s) => s.walkId);
  const design = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const { walkId, alsoWalkIds, set } = useSessionFields('walkId', 'alsoWalkIds');
  const walks = onFloorWalks(design, place);
  const shown = walkId === null ? undefined : design.walks[walkId];
  const under = walkingId === null ? undefined : design.walks[walkingId];
  return (
    <div>
      <h2>Survey</h2>
      <LocatedPanel place={place} />
      <ReceiverPanel under={under} />
      {under !== undefined && <WalkUnderWay walk={under} units={place.project.units} />}
      {under === undefined && shown !== undefined && <WalkInView walk={shown} units={place.project.units} />}
      {under === undefined && (
        <>
          <h3>Walks on this floor</h3>
          <div className="row">
            <FileButton label="File with samples" accept=".csv,.pcapng,.pcap,.cap" onFile={(file) => void bringInSamples(file, shown)}>
              Bring in samples
            </FileButton>
            <Button size="small" variant="outlined" color="secondary" onClick={walkForCapture}>
              Walk for a capture
            </Button>
          </div>
          {walks.length === 0 && <p>None yet in this variant. Connect the receiver and start one.</p>}
          {walks.length > 1 && <p>{`Ticked ones count together: ${samples.length} samples in map and fit.`}</p>}
          {walks.map((walk) => (
            <div key={walk.id} className="walk-row">
              {walks.length > 1 && (
                <Checkbox
                  size="small"
                  checked={walk.id === walkId || alsoWalkIds.includes(walk.id)}
                  disabled={walk.id === walkId}
                  slotProps={{ input: { 'aria-label': `Count ${walk.name}` } }}
                  onChange={(_, on) => set({ alsoWalkIds: on ? [...alsoWalkIds, walk.id] : alsoWalkIds.filter((id) => id !== walk.id) })}
                />
              )}
              <Button
                fullWidth
                color="secondary"
                variant={walk.id === walkId ? 'contained' : 'text'}
                sx={{ justifyContent: 'flex-start' }}
                onClick={() => set({ walkId: walk.id, alsoWalkIds: alsoWalkIds.filter((id) => id !== walk.id) })}
              >
                {walk.name}
              </Button>
            </div>
          ))}
        </>
      )}
      <MapOfWalks place={place} looks={looks} />
      <SweptPanel place={place} looks={looks} />
      <RoutePanel place={place} under={under} />
      <TransferPanel place={place} />
      <MarksPanel floorId={place.floor.id} units={place.project.units} />
      <h3>Simulated site</h3>
      <p>Whoever sets an exercise describes it on a page of its own; whoever surveys should not look.</p>
      <Button component={Link} size="small" variant="outlined" color="secondary" href={`/projects/${encodeURIComponent(projectId ?? '')}/site`}>
        Training ground
      </Button>
    </div>
  );
}

/** What of the walks the map shows. */
function MapOfWalks({ place, looks }: { place: Place; looks: readonly PlacedLook[] }) {
  const design = useDocument((s) => s.design);
  const { walkId, alsoWalkIds, earlierWalkId, walkTime, reachM, source, lens, set } = useSessionFields(
    'walkId',
    'alsoWalkIds',
    'earlierWalkId',
    'walkTime',
    'reachM',
    'source',
    'lens',
  );
  const others = Object.values(design.walks).filter((walk) => walk.floorId === place.floor.id && walk.id !== walkId);
  const { fromS, toS } = walkTime;
  return (
    <>
      <h3>Map</h3>
      <SelectField
        label="shows"
        value={lensOf(lens).measuredOnly ? lens : source}
        options={[
          { value: 'predicted', label: 'predicted' },
          { value: 'measured', label: 'measured' },
          ...LENSES.filter(({ measuredOnly }) => measuredOnly).map(({ id, label }) => ({ value: id, label })),
        ]}
        onCommit={(value) =>
          set(
            value === 'predicted'
              ? { source: value, lens: lensOf(lens).measuredOnly ? 'signal' : lens }
              : { source: 'measured', lens: value !== 'measured' ? value : lensOf(lens).measured === null ? 'signal' : lens },
          )
        }
      />
      {lensOf(lens).swept !== null && looks.length === 0 && (
        <p role="alert">None of the walks that count carried the swept receiver. Tick it at the receiver before the next walk starts.</p>
      )}
      <LengthField label="reach" valueM={reachM} units={place.project.units} minM={0.5} maxM={50} onCommit={(value) => set({ reachM: value })} />
      <p>
        {lensOf(lens).swept === null
          ? 'Measured maps take each radio’s own readings, its shadows and the walls together; further than the reach from a reading of it nothing is claimed of a radio.'
          : 'A spot goes by the nearest looks of the swept receiver that no wall of 3 dB hides from it; further than the reach from every look nothing is claimed.'}
      </p>
      {others.length > 0 && (
        <SelectField
          label="earlier walk"
          value={others.some(({ id }) => id === earlierWalkId) ? earlierWalkId! : ''}
          options={[
            { value: '', label: 'none' },
            ...others.map(({ id, name, variantId }) => ({ value: id, label: `${name} (${design.variants[variantId]?.name ?? ''})` })),
          ]}
          onCommit={(id) =>
            set(
              id === ''
                ? { earlierWalkId: null }
                : // Ticked with the walk in view it would be held against itself.
                  { earlierWalkId: id, alsoWalkIds: alsoWalkIds.filter((also) => also !== id), source: 'measured', lens: 'since-walk' },
            )
          }
        />
      )}
      {lens === 'since-walk' && earlierWalkId === null && <p>Choose the earlier walk that what was measured is held against.</p>}
      <details className="more">
        <summary>{fromS === null && toS === null ? 'All of the time counts' : `Only ${fromS ?? 0} to ${toS ?? '…'} s of each walk counts`}</summary>
        {(['fromS', 'toS'] as const).map((end) => (
          <TextField
            key={end}
            label={end === 'fromS' ? 'counts from, s' : 'counts to, s'}
            value={walkTime[end] === null ? '' : String(walkTime[end])}
            placeholder={end === 'fromS' ? 'the start' : 'the end'}
            maxLength={9}
            mayBeEmpty
            problem={(text) =>
              text === '' || (Number(text) >= 0 && Number(text) <= 1e6) ? null : 'Seconds since the walk began; leave it empty for all.'
            }
            onCommit={(text) => set({ walkTime: { ...walkTime, [end]: text === '' ? null : Number(text) } })}
          />
        ))}
        <p>Seconds since each walk began.</p>
      </details>
    </>
  );
}
