import { v7 as uuid } from 'uuid';
import { addAccessPoint, duplicateAccessPoints, edit, remove } from '@/core/design/commands';
import { removeWhole } from '@/core/design/equipmentCommands';
import { addWall } from '@/core/design/wallCommands';
import { PROJECT_ID, onFloor, projectOf, variantsOf } from '@/core/design/design';
import { duplicateVariant } from '@/core/design/variantCommands';
import { boundsOf } from '@/core/geometry/polygon';
import { BANDS } from '@/core/radio/band';
import { LENSES } from '@/core/fields/lenses';
import { bandLabel, placeNow } from '../state/selectors';
import { markAt } from '../stages/survey/marks';
import { AIR_TAB_LABEL, AIR_TABS, identifyNow, jumpToHour, setAir, useAir } from '../stages/air/airStore';
import { clickTurn, connect, disconnect, finishWalk, pause, resumeHere, startWalk, undoLastClick, useWalker } from '../stages/survey/walker';
import { useDocument } from '../state/documentStore';
import { STAGES, hasMap, useSession, type Stage } from '../state/sessionStore';
import { toggleCompare } from '../compare/compared';
import { exportMap } from '../plan/exportMap';
import type { Action } from './action';
import { BUILDING_ACTIONS } from './buildingActions';

const session = () => useSession.getState();
const doc = () => useDocument.getState();
const selectedAps = () =>
  session().selection?.table === 'accessPoints' ? session().selection!.ids.filter((id) => id in doc().design.accessPoints) : [];

export const STAGE_LABEL: Readonly<Record<Stage, string>> = { brief: 'Brief', building: 'Building', design: 'Design', survey: 'Survey', air: 'Air' };

/** Changes the stage; what is selected stays selected. */
export function goToStage(stage: Stage): void {
  session().set({ stage, tool: 'select', source: 'predicted', retuneOpen: stage === 'design' && session().retuneOpen });
}

function middle(): { xM: number; yM: number } {
  const place = placeNow();
  const { pinned } = session();
  if (pinned !== null) return pinned;
  const box = place === null ? null : boundsOf(place.floor.outline);
  return box === null ? { xM: 0, yM: 0 } : { xM: (box.westM + box.eastM) / 2, yM: (box.northM + box.southM) / 2 };
}

/** What can be done with the receiver and a walk, each where it can be. */
const inSurvey = (id: string, title: string, run: () => void, enabled: () => boolean): Action => ({
  id,
  title,
  run: () => {
    session().set({ stage: 'survey' });
    run();
  },
  enabled,
});
const walker = () => useWalker.getState();
const walking = () => walker().walkId !== null;
const SURVEY_ACTIONS: readonly Action[] = [
  inSurvey(
    'connect',
    'Receiver: connect',
    () => void connect(),
    () => walker().receiver === 'off',
  ),
  inSurvey('disconnect', 'Receiver: disconnect', disconnect, () => walker().receiver === 'connected'),
  inSurvey('walk-start', 'Start a walk', startWalk, () => walker().receiver === 'connected' && !walking()),
  inSurvey('walk-pause', 'Pause the walk', pause, () => walking() && !walker().paused),
  inSurvey('walk-resume', 'Resume the walk here', resumeHere, () => walking() && walker().paused),
  inSurvey('walk-undo', 'Undo the walk’s last click', undoLastClick, walking),
  inSurvey('walk-finish', 'Finish the walk', finishWalk, walking),
];

/** What can be done with the air. */
const inAir = (id: string, title: string, run: () => void, enabled?: () => boolean): Action => ({
  id,
  title,
  run: () => {
    session().set({ stage: 'air' });
    run();
  },
  ...(enabled === undefined ? {} : { enabled }),
});
const AIR_ACTIONS: readonly Action[] = [
  inAir('air-clock', 'Air: run or pause the clock', () => setAir({ running: !useAir.getState().running })),
  inAir('air-lunch', 'Air: jump to lunch', () => jumpToHour(12.25)),
  inAir(
    'air-look',
    'Air: look what is not Wi-Fi',
    () => {
      setAir({ tab: 'what' });
      void identifyNow();
    },
    () => useAir.getState().busy === null,
  ),
  ...AIR_TABS.map((tab) => inAir(`air-${tab}`, `Air: ${AIR_TAB_LABEL[tab]}`, () => setAir({ tab }))),
];

/** Moves the focus to a mark of the plan, once it is drawn. */
function focusOn(selector: string, tries = 20): void {
  requestAnimationFrame(() => {
    const mark = document.querySelector<SVGElement>(selector);
    if (mark !== null) mark.focus();
    else if (tries > 0) focusOn(selector, tries - 1);
  });
}

/** The one registry of actions. */
export const ACTIONS: readonly Action[] = [
  { id: 'palette', title: 'Commands', key: 'Ctrl+K', run: () => session().set({ paletteOpen: true }) },
  { id: 'undo', title: 'Undo', key: 'Ctrl+Z', run: () => void doc().undo(), enabled: () => doc().history.undo.length > 0 },
  {
    id: 'redo',
    title: 'Redo',
    key: 'Ctrl+Y',
    alsoKeys: ['Ctrl+Shift+Z'],
    run: () => void doc().redo(),
    enabled: () => doc().history.redo.length > 0,
  },
  ...STAGES.map((stage, i): Action => ({
    id: `stage-${stage}`,
    title: `Stage: ${STAGE_LABEL[stage]}`,
    key: `Alt+${i + 1}`,
    run: () => goToStage(stage),
  })),
  ...LENSES.map((lens): Action => ({
    id: `lens-${lens.id}`,
    title: `Lens: ${lens.label}`,
    ...(lens.key === null ? {} : { key: lens.key }),
    run: () =>
      session().set({ lens: lens.id, onlyKind: null, ...(lens.measuredOnly ? { source: 'measured', stage: 'survey' } : { source: 'predicted' }) }),
  })),
  ...BANDS.map((band): Action => ({ id: `band-${band}`, title: `Band: ${bandLabel(band)}`, run: () => session().set({ band }) })),
  { id: 'tool-select', title: 'Tool: Select', key: 'S', run: () => session().set({ tool: 'select' }) },
  { id: 'tool-ap', title: 'Tool: hang access points', key: 'A', run: () => session().set({ tool: 'ap', stage: 'design' }) },
  ...BUILDING_ACTIONS,
  { id: 'tool-length', title: 'Tool: measure a length', key: 'L', run: () => session().set({ tool: 'length' }) },
  {
    id: 'tool-walk',
    title: 'Tool: walk',
    key: 'K',
    run: () => {
      session().set({ stage: 'survey' });
      if (useWalker.getState().walkId !== null) session().set({ tool: 'walk' });
      else doc().setNotice({ words: 'Connect the receiver and start a walk first: then a click on the plan walks there.' });
    },
  },
  { id: 'tool-mark', title: 'Tool: set marks', key: 'N', run: () => session().set({ tool: 'mark', stage: 'survey' }) },
  {
    id: 'mark-here',
    title: 'Mark the pinned spot',
    run: () => markAt(middle()),
    enabled: () => session().pinned !== null,
  },
  { id: 'fit', title: 'Fit the plan', key: 'F', run: () => session().set({ view: null }) },
  {
    id: 'pin',
    title: 'Pin the readout in the middle of the plan',
    key: 'P',
    run: () => {
      session().set({ pinned: middle() });
      focusOn('[data-pinned]');
    },
  },
  {
    id: 'walk-turn',
    title: 'Walk to the pinned spot',
    key: 'T',
    run: () => clickTurn(middle()),
    enabled: () => useWalker.getState().walkId !== null && session().pinned !== null,
  },
  ...SURVEY_ACTIONS,
  ...AIR_ACTIONS,
  { id: 'retune', title: 'Retune…', key: 'R', run: () => session().set({ stage: 'design', retuneOpen: true, proposing: false, tool: 'select' }) },
  {
    id: 'propose',
    title: 'Propose positions…',
    run: () => session().set({ stage: 'design', proposing: true, retuneOpen: false, selection: null, tool: 'select' }),
  },
  { id: 'compare', title: 'Compare with another variant, or end it', key: 'C', run: toggleCompare },
  {
    id: 'compare-difference',
    title: 'Show or hide the difference of what is compared',
    enabled: () => session().against !== null,
    run: () => session().set({ showDifference: !session().showDifference }),
  },
  { id: 'map-png', title: 'Keep the map as PNG', enabled: () => hasMap(session().stage), run: () => void exportMap('png') },
  { id: 'map-svg', title: 'Keep the map as SVG', enabled: () => hasMap(session().stage), run: () => void exportMap('svg') },
  {
    id: 'variant-duplicate',
    title: 'Duplicate the variant',
    run: () => {
      const place = placeNow();
      if (place === null) return;
      let variantId: string | null = null;
      const newId = () => {
        const id = uuid();
        variantId ??= id;
        return id;
      };
      if (doc().run(`Duplicate variant ${place.variant.name}`, (design) => duplicateVariant(design, place.variant.id, newId)))
        session().set({ variantId, selection: null, sheet: null, preview: null });
    },
  },
  {
    id: 'variant-delete',
    title: 'Delete the variant',
    enabled: () => variantsOf(doc().design).length > 1,
    run: () => {
      const place = placeNow();
      if (place === null) return;
      if (doc().run(`Delete variant ${place.variant.name}`, (design) => remove(design, 'variants', [place.variant.id])))
        session().set({ variantId: null, selection: null, sheet: null, preview: null });
    },
  },
  {
    id: 'add-ap',
    title: 'Add an access point at the pinned spot, or in the middle',
    run: () => {
      const place = placeNow();
      if (place === null) return;
      const id = uuid();
      doc().run('Add access point', (design) =>
        addAccessPoint(design, { id, floorId: place.floor.id, variantId: place.variant.id, modelId: session().modelId, ...middle() }),
      );
      session().set({ stage: 'design', selection: { table: 'accessPoints', ids: [id] } });
      focusOn(`[data-ap="${id}"]`);
    },
  },
  {
    id: 'add-wall',
    title: 'Add a wall of 2 m at the pinned spot, or in the middle',
    run: () => {
      const place = placeNow();
      if (place === null) return;
      const id = uuid();
      const { xM, yM } = middle();
      doc().run('Draw wall', (design) =>
        addWall(design, { id, floorId: place.floor.id, axM: xM - 1, ayM: yM, bxM: xM + 1, byM: yM, materialId: session().materialId }),
      );
      session().set({ stage: 'building', selection: { table: 'walls', ids: [id] } });
      focusOn(`[data-wall="${id}"]`);
    },
  },
  {
    id: 'select-all',
    title: 'Select all access points of the floor, or in Building all walls',
    key: 'Ctrl+A',
    run: () => {
      const place = placeNow();
      if (place === null) return;
      const ofWalls = session().stage === 'building';
      const ids = (ofWalls ? onFloor(doc().design, 'walls', place.floor.id) : place.aps).map(({ id }) => id);
      if (ids.length > 0) session().set({ selection: { table: ofWalls ? 'walls' : 'accessPoints', ids } });
    },
  },
  {
    id: 'duplicate',
    title: 'Duplicate the selected access points',
    key: 'Ctrl+D',
    enabled: () => selectedAps().length > 0,
    run: () => {
      const ids = selectedAps();
      const newIds = ids.map(() => uuid());
      doc().run(ids.length === 1 ? 'Duplicate access point' : `Duplicate ${ids.length} access points`, (design) =>
        duplicateAccessPoints(design, ids, newIds),
      );
      session().set({ selection: { table: 'accessPoints', ids: newIds } });
    },
  },
  {
    id: 'delete',
    title: 'Delete what is selected',
    key: 'Delete',
    alsoKeys: ['Backspace'],
    enabled: () => session().selection !== null,
    run: () => {
      const { selection, stage, set } = session();
      if (selection === null) return;
      const ids = selection.ids.filter((id) => Object.hasOwn(doc().design[selection.table], id));
      if (ids.length === 0) return;
      if (selection.table === 'accessPoints' && stage !== 'design') return;
      doc().run(`Delete ${ids.length === 1 ? '1 thing' : `${ids.length} things`}`, (design) => removeWhole(design, selection.table, ids));
      set({ selection: null });
    },
  },
  {
    id: 'units',
    title: 'Units: metric or US customary',
    run: () => {
      const project = projectOf(doc().design);
      if (project) doc().run('Units', (design) => edit(design, 'project', PROJECT_ID, { units: project.units === 'metric' ? 'us' : 'metric' }));
    },
  },
  { id: 'evidence', title: 'Fold or unfold the evidence', key: 'E', run: () => session().set({ evidenceOpen: !session().evidenceOpen }) },
  { id: 'history', title: 'History: who changed what', key: 'H', run: () => session().set({ evidence: 'history', evidenceOpen: true }) },
  {
    id: 'refused',
    title: 'Refused edits',
    run: () => {
      doc().setNotice(null);
      session().set({ evidence: 'refused', evidenceOpen: true });
    },
  },
  { id: 'legend', title: 'Legend: what the marks mean', run: () => session().set({ evidence: 'legend', evidenceOpen: true }) },
  { id: 'keys', title: 'Keys', key: '?', run: () => session().set({ evidence: 'keys', evidenceOpen: true }) },
];

/** An action by its id. */
export function actionOf(id: string): Action {
  const found = ACTIONS.find((action) => action.id === id);
  if (found === undefined) throw new Error(`There is no action ${id}.`);
  return found;
}

export const isEnabled = (action: Action): boolean => action.enabled?.() !== false;

/** The action that a key stands for now; null when none does. */
export function actionFor(keyText: string): Action | null {
  return ACTIONS.find((action) => (action.key === keyText || action.alsoKeys?.includes(keyText)) && isEnabled(action)) ?? null;
}

/** The key text of an event, as actions write it. */
export function keyText(event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey' | 'code'>): string {
  const digit = event.altKey && /^Digit\d$/.test(event.code) ? event.code.slice(5) : null;
  const key = digit ?? (event.key.length === 1 ? event.key.toUpperCase() : event.key);
  return `${event.ctrlKey || event.metaKey ? 'Ctrl+' : ''}${event.altKey ? 'Alt+' : ''}${event.shiftKey && (event.key.length > 1 || event.ctrlKey || event.metaKey) ? 'Shift+' : ''}${key}`;
}
