'use client';
import { clientTypesOf, materialsOf, modelsOf } from '@/core/design/design';
import { CLIENT_CATALOGUE, MATERIAL_CATALOGUE, MODEL_CATALOGUE } from '@/core/design/kinds/kind';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { useDeferredValue, useEffect, useMemo, useRef } from 'react';
import { UpperRoomError } from '@/core/errors';
import { actionOf } from '../commands/actions';
import { CommandPalette } from '../commands/CommandPalette';
import { useShortcuts } from '../commands/useShortcuts';
import { Evidence } from '../evidence/Evidence';
import { FindingPanel } from '../checks/FindingPanel';
import { useChecking, useFindings } from '../checks/useFindings';
import { AccessPointForm } from '../inspector/AccessPointForm';
import { FloorForm } from '../inspector/FloorForm';
import { forgetFound } from '../stages/building/finding';
import { FoundPanel } from '../stages/building/FoundPanel';
import { LayPanel } from '../stages/building/LayPanel';
import { RegisterPanel } from '../stages/building/RegisterPanel';
import { ClientTypeForm } from '../equipment/ClientTypeForm';
import { ModelForm } from '../equipment/ModelForm';
import { AreaForm } from '../inspector/AreaForm';
import { MaterialForm } from '../inspector/MaterialForm';
import { DrawingForm } from '../inspector/DrawingForm';
import { OpeningForm } from '../inspector/OpeningForm';
import { WallForm } from '../inspector/WallForm';
import { PLAN_BAR_ID } from '../plan/PlanBar';
import { PlanView } from '../plan/PlanView';
import { ScalePanel } from '../scale/ScalePanel';
import { Section } from '../section/Section';
import { BriefPanel } from '../stages/brief/BriefPanel';
import { LevelForm } from '../stages/brief/LevelForm';
import { PositionsPanel } from '../stages/design/positions/PositionsPanel';
import { RetunePanel } from '../stages/design/RetunePanel';
import { useDroppedDrawings } from '../stages/building/BringIn';
import { forgetIncoming } from '../stages/building/bringIn';
import { AirPanelHere, AirStage } from '../stages/air/AirStage';
import { AirSide } from '../stages/air/AirSide';
import { forgetSignals } from '../stages/air/signals';
import { forgetAir } from '../stages/air/airStore';
import { rememberAir } from '../stages/air/airMemory';
import { rememberBattery } from '../stages/survey/battery';
import { SurveyPanel } from '../stages/survey/SurveyPanel';
import { onFloorWalks } from '../stages/survey/walks';
import { forgetTransfer } from '../stages/survey/transfer';
import { forgetLocated } from '../stages/survey/locate';
import { forgetRoute } from '../stages/survey/route';
import { stopWalker, useWalker } from '../stages/survey/walker';
import { useDocument } from '../state/documentStore';
import { useCounted } from '../state/samplesStore';
import { wordsOf } from '../state/notices';
import { placeOf, bandsOf, usePlace, useStillPlace, useViewDesign, type Place } from '../state/selectors';
import { beginSession, hasMap, rememberSession, useSession, useSessionFields, type Session } from '../state/sessionStore';
import { forgetMaps, type LensInputs } from '../state/useLens';
import { lensOf } from '@/core/fields/lenses';
import { boundsOf } from '@/core/geometry/polygon';
import { CompareBar } from '../compare/CompareBar';
import { useCompared, type Compared } from '../compare/compared';
import { DifferencePane, OtherPane } from '../compare/Panes';
import { useSize } from '../plan/useSize';
import type { Size } from '../plan/view';
import { useMaps } from './useMaps';
import type { Counted } from '@/core/survey/heard';
import { LensBar } from './LensBar';
import { Tools } from './Tools';
import { TopBar } from './TopBar';

/** One project, open. */
export function Workbench({ projectId }: { projectId: string }) {
  const loaded = useDocument((s) => s.projectId);
  const loadError = useDocument((s) => s.loadError);
  const place = usePlace();
  useEffect(() => {
    beginSession(projectId);
    void useDocument.getState().open(projectId);
    const stop = rememberSession(projectId);
    const stopAir = rememberAir(projectId);
    const stopBattery = rememberBattery();
    return () => {
      stop();
      stopAir();
      stopBattery();
      stopWalker();
      forgetRoute();
      forgetLocated();
      forgetTransfer();
      forgetMaps();
      forgetIncoming();
      forgetFound();
      forgetAir();
      forgetSignals();
      useDocument.getState().close();
    };
  }, [projectId]);
  if (loadError !== null) return <LoadProblem error={loadError} />;
  if (loaded !== projectId || place === null) {
    return (
      <main className="message" role="status">
        Opening the project …
      </main>
    );
  }
  return <Bench place={place} projectId={projectId} />;
}

function LoadProblem({ error }: { error: UpperRoomError }) {
  return (
    <main className="message">
      <h1 className="serif">This project cannot be opened</h1>
      <p role="alert">{wordsOf(error)}</p>
      <Button href="/" variant="contained">
        To all projects
      </Button>
    </main>
  );
}

function Bench({ place, projectId }: { place: Place; projectId: string }) {
  useShortcuts();
  useDroppedDrawings();
  const design = useViewDesign();
  const session = useSessionFields(...BENCH_FIELDS);
  const walkingId = useWalker((s) => s.walkId);
  const walks = useDocument((s) => s.design.walks);
  // The walk in view: the one chosen, else the newest of this floor and variant.
  const walkId = useMemo(() => {
    if (session.walkId !== null && walks[session.walkId]?.floorId === place.floor.id && walks[session.walkId]?.variantId === place.variant.id)
      return session.walkId;
    return onFloorWalks({ ...design, walks }, place)[0]?.id ?? null;
  }, [session.walkId, walks, place, design]);
  const { set } = session;
  useEffect(() => {
    if (walkId !== session.walkId) set({ walkId });
  }, [walkId, session.walkId, set]);
  const { alsoWalkIds } = session;
  const counted = useMemo(
    () => [
      ...(walkId === null ? [] : [walkId]),
      ...onFloorWalks({ ...design, walks }, place).flatMap(({ id }) => (id !== walkId && alsoWalkIds.includes(id) ? [id] : [])),
    ],
    [walkId, alsoWalkIds, walks, place, design],
  );
  const heard = useCounted(projectId, counted, walkingId, session.walkTime);
  const earlier = useEarlier(projectId, place);

  // What is gone, here or elsewhere, is not selected any more.
  const { selection } = session;
  useEffect(() => {
    if (selection === null) return;
    // What is of the catalogue is no record, and never gone.
    const ids = selection.ids.filter((id) => Object.hasOwn(design[selection.table], id) || CATALOGUES[selection.table]?.has(id));
    if (ids.length < selection.ids.length) set({ selection: ids.length > 0 ? { ...selection, ids } : null });
  }, [selection, design, set]);

  // Nor is drawn with a material, or hung of a model, that is gone.
  const { materialId, modelId } = session;
  useEffect(() => {
    if (!Object.hasOwn(design.materials, materialId) && !MATERIAL_CATALOGUE.ids.has(materialId)) set({ materialId: MATERIAL_CATALOGUE.instead });
    if (!Object.hasOwn(design.apModels, modelId) && !MODEL_CATALOGUE.ids.has(modelId)) set({ modelId: MODEL_CATALOGUE.instead });
  }, [materialId, modelId, design, set]);

  const still = useStillPlace() ?? place;
  // What only a walk can show is shown where walks are.
  const { lens } = session;
  useEffect(() => {
    if (session.stage !== 'survey' && lensOf(lens).measuredOnly) set({ lens: 'signal', source: 'predicted' });
  }, [session.stage, lens, set]);
  const compared = useCompared(place);
  useMaps(place, heard, earlier, compared);
  // In a narrow window the inspector gives its room to the plan until something is to be said in it.
  const { panelOpen, retuneOpen, stage, against } = session;
  const wanted =
    stage === 'survey' ||
    stage === 'air' ||
    stage === 'brief' ||
    session.selection !== null ||
    (stage === 'design' && (retuneOpen || session.proposing));

  return (
    <div className={`bench${panelOpen || wanted ? '' : ' folded'}${compared === null ? '' : ' comparing'}${stage === 'air' ? ' airing' : ''}`}>
      <TopBar place={still} />
      <aside className="side">
        <Section place={still} />
        {stage === 'air' ? <AirSide place={still} /> : <Tools place={still} />}
      </aside>
      <main className="main">
        <h1 className="visually-hidden">{`${place.project.name}, ${place.floor.name}, ${place.variant.name}`}</h1>
        {stage === 'air' ? (
          <AirStage place={still} plan={<PlanView place={place} heard={heard} title={null} />} />
        ) : (
          <>
            {/* The bar keeps its room in every stage, so that the plan stays where it is. */}
            {hasMap(stage) ? (
              <LensBar place={still} looks={heard.looks} />
            ) : (
              <div className="lensbar" id={PLAN_BAR_ID}>
                <span className="resting">
                  {stage === 'brief' ? 'The brief: what is owed, and where' : 'The building: drawings, walls and openings'}
                </span>
              </div>
            )}
            {compared !== null && against !== null && <CompareBar place={place} compared={compared} against={against} />}
            <Centre place={place} heard={heard} compared={compared} scaled={hasMap(stage)} />
            <Evidence place={still} heard={heard} />
          </>
        )}
      </main>
      <aside className="inspector" aria-label="Inspector">
        <Inspector place={place} heard={heard} />
      </aside>
      <CommandPalette />
      <NoticeBar />
    </div>
  );
}

const BENCH_FIELDS = [
  'stage',
  'lens',
  'walkId',
  'alsoWalkIds',
  'walkTime',
  'materialId',
  'modelId',
  'selection',
  'panelOpen',
  'retuneOpen',
  'proposing',
  'against',
] as const;

/** What the earlier walk heard that what was measured is held against, with the variant that it walked; null for none. */
function useEarlier(projectId: string, place: Place): LensInputs['earlier'] {
  const walkId = useSession((s) => s.earlierWalkId);
  const design = useDocument((s) => s.design);
  const walk = walkId !== null && Object.hasOwn(design.walks, walkId) ? design.walks[walkId]! : null;
  const asked = useMemo(() => (walkId !== null && walk?.floorId === place.floor.id ? [walkId] : []), [walkId, walk?.floorId, place.floor.id]);
  const heard = useCounted(projectId, asked, null);
  const variantId = walk?.variantId ?? null;
  return useMemo(() => {
    const there = asked.length === 0 || variantId === null ? null : placeOf(design, place.floor.id, variantId);
    return there === null ? null : { place: there, heard };
  }, [asked, variantId, design, place.floor.id, heard]);
}

/** The plan with its scale; while two designs are compared, their plans and on request the difference, beside or above each other as fits. */
function Centre({ place, heard, compared, scaled }: { place: Place; heard: Counted; compared: Compared | null; scaled: boolean }) {
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const design = useViewDesign();
  const showDifference = useSession((s) => s.showDifference);
  const panes = compared === null ? 1 : showDifference && compared.problem === null ? 3 : 2;
  const outline = boundsOf(place.floor.outline);
  const stacked =
    panes > 1 && size !== null && outline !== null && isStacked(size, panes, outline.eastM - outline.westM, outline.southM - outline.northM);
  return (
    <div
      ref={box}
      className={`centre${scaled ? '' : ' unscaled'}${panes > 1 ? (stacked ? ' stacked' : ' beside') : ''}`}
      style={{ '--panes': panes } as React.CSSProperties}
    >
      {compared !== null && <OtherPane compared={compared} place={place} />}
      <PlanView place={place} heard={heard} title={compared === null ? null : place.variant.name} />
      {panes === 3 && <DifferencePane design={design} place={place} />}
      {scaled && <ScalePanel />}
    </div>
  );
}

/** Whether panes above each other show a floor larger than panes side by side. */
function isStacked({ widthPx, heightPx }: Size, panes: number, floorWidthM: number, floorHeightM: number): boolean {
  const beside = Math.min(widthPx / panes / floorWidthM, heightPx / floorHeightM);
  return Math.min(widthPx / floorWidthM, heightPx / panes / floorHeightM) > beside;
}

/** What is of a catalogue can be looked at as well. */
const CATALOGUES: Readonly<Partial<Record<NonNullable<Session['selection']>['table'], ReadonlySet<string>>>> = {
  materials: MATERIAL_CATALOGUE.ids,
  apModels: MODEL_CATALOGUE.ids,
  clientTypes: CLIENT_CATALOGUE.ids,
};

/** What is selected, or the stage's own panel. */
function Inspector({ place, heard }: { place: Place; heard: Counted }) {
  const { stage, selection, retuneOpen, tool } = useSessionFields('stage', 'selection', 'retuneOpen', 'tool');
  const proposing = useSession((s) => s.proposing);
  const checking = useChecking();
  const { listed } = useFindings(place);
  const chosen = useSession((s) => s.finding);
  const live = useViewDesign();
  // While something is dragged the form follows when there is time: the plan first.
  const behind = useDeferredValue(live);
  const dragging = useSession((s) => s.preview?.kind === 'drag');
  const design = dragging ? behind : live;
  const { accessPoints } = design;
  const aps = useMemo(
    () => (selection?.table === 'accessPoints' ? selection.ids.map((id) => accessPoints[id]).filter((ap) => ap !== undefined) : []),
    [selection, accessPoints],
  );
  if (stage === 'air') return <AirPanelHere place={place} />;
  if (stage === 'survey') return <SurveyPanel place={place} heard={heard} />;
  if (stage === 'design' && retuneOpen)
    return <RetunePanel key={place.project.domain} project={place.project} bands={bandsOf(place.around)} samples={heard.samples} />;
  if (stage === 'design' && proposing) return <PositionsPanel place={place} />;
  const finding = checking ? listed?.find(({ key }) => key === chosen) : undefined;
  // Whoever picks something else wants to see that.
  const picked = selection?.table === 'accessPoints' ? selection.ids.join() : '';
  if (finding !== undefined && (selection === null || picked === finding.apIds.join()))
    return <FindingPanel key={finding.key} finding={finding} place={place} />;
  if (selection?.table === 'apModels' && (stage === 'brief' || stage === 'design')) {
    const id = selection.ids[0] ?? '';
    return <ModelForm key={id} model={modelsOf(design)(id)} project={place.project} />;
  }
  if (selection?.table === 'clientTypes' && stage === 'brief') {
    const id = selection.ids[0] ?? '';
    return <ClientTypeForm key={id} type={clientTypesOf(design)(id)} />;
  }
  if (stage === 'brief') {
    const level = selection?.table === 'serviceLevels' ? design.serviceLevels[selection.ids[0] ?? ''] : undefined;
    if (level !== undefined) return <LevelForm key={level.id} level={level} />;
    const zone = selection?.table === 'zones' ? design.zones[selection.ids[0] ?? ''] : undefined;
    return zone !== undefined ? <AreaForm key={zone.id} table="zones" area={zone} project={place.project} /> : <BriefPanel project={place.project} />;
  }
  if (selection?.table === 'walls') {
    const walls = selection.ids.map((id) => design.walls[id]).filter((wall) => wall !== undefined);
    if (walls.length > 0) return <WallForm key={selection.ids.join()} walls={walls} project={place.project} />;
  }
  if (selection?.table === 'openings' && stage === 'building') {
    const openings = selection.ids.map((id) => design.openings[id]).filter((opening) => opening !== undefined);
    if (openings.length > 0) return <OpeningForm key={selection.ids.join()} openings={openings} project={place.project} />;
  }
  if (stage === 'building' && tool === 'register') return <RegisterPanel key={place.floor.id} place={place} />;
  if ((selection?.table === 'zones' || selection?.table === 'slabOpenings') && stage === 'building') {
    const area = design[selection.table][selection.ids[0] ?? ''];
    if (area !== undefined) return <AreaForm key={area.id} table={selection.table} area={area} project={place.project} />;
  }
  if (selection?.table === 'materials' && stage === 'building') {
    const id = selection.ids[0] ?? '';
    return <MaterialForm key={id} material={materialsOf(design)(id)} project={place.project} />;
  }
  if (selection?.table === 'drawings' && stage === 'building') {
    const drawing = design.drawings[selection.ids[0] ?? ''];
    if (drawing !== undefined && tool === 'review' && drawing.floorId === place.floor.id)
      return <FoundPanel drawing={drawing} project={place.project} />;
    if (drawing !== undefined && tool === 'lay') return <LayPanel place={place} drawing={drawing} />;
    if (drawing !== undefined) return <DrawingForm key={drawing.id} drawing={drawing} project={place.project} />;
  }
  if (aps.length > 0 && stage === 'design') return <AccessPointForm key={picked} aps={aps} project={place.project} />;
  return <FloorForm place={place} building={stage === 'building'} />;
}

/** What happened and what to do. Goes by itself; what needs settling stands in the list of refused edits, which does not. */
function NoticeBar() {
  const notice = useDocument((s) => s.notice);
  const refused = useDocument((s) => s.refused.length);
  const setNotice = useDocument((s) => s.setNotice);
  return (
    <Snackbar
      open={notice !== null}
      autoHideDuration={NOTICE_MS}
      onClose={(_event, reason) => reason === 'timeout' && setNotice(null)}
      anchorOrigin={{ vertical: 'top', horizontal: 'center' }}
      className="notice"
    >
      <Alert
        severity="warning"
        variant="outlined"
        onClose={() => setNotice(null)}
        action={
          refused > 0 ? (
            <Button color="inherit" onClick={actionOf('refused').run}>
              {`Show (${refused})`}
            </Button>
          ) : undefined
        }
      >
        {notice !== null && wordsOf(notice)}
      </Alert>
    </Snackbar>
  );
}

/** Long enough to be read twice. */
const NOTICE_MS = 12_000;
