import { v7 as uuid } from 'uuid';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import { cornersOnFloor, drawFittings, drawFound, endsOnFloor, fittingStands, standsAlready } from '@/core/design/foundCommands';
import { guessScale } from '@/core/design/drawingCommands';
import { isMeasured, type Drawing } from '@/core/design/design';
import { rescaled, type DrawStyle, type Found } from '@/core/finding/findWalls';
import { distanceToM } from '@/core/geometry/segment';
import type { PointM } from '@/core/geometry/point';
import { browserPool } from '@/engine/browser';
import { assetUrl } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import { placeNow } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { vectorsOf } from './vectors/kept';
import type { PictureAnswer, PictureAsked } from './picture.worker';

/**
 * Walls that were found in a drawing and wait to be judged: proposals, no part of the design until they are drawn. Their places are pixels of the
 * drawing, so that they lie right whatever becomes of its scale.
 */
export type Finding = Readonly<{
  of: Readonly<{ projectId: string; drawingId: string }> | null;
  phase: 'none' | 'running' | 'found' | 'failed';
  /** Share done while it runs. */
  done: number;
  problem: string | null;
  found: Found | null;
  /** How well a wall must be rated to be in, unless somebody judged it. */
  atLeast: number;
  /** What was judged by hand: in or out, by place in the list. */
  judged: ReadonlyMap<number, boolean>;
  style: DrawStyle | null;
}>;

const AT_LEAST = 0.7;
const NOTHING: Finding = { of: null, phase: 'none', done: 0, problem: null, found: null, atLeast: AT_LEAST, judged: new Map(), style: null };
export const useFinding = create<Finding>()(() => NOTHING);

let running: AbortController | null = null;

/** Gives up what was found, and what is being looked for. */
export function forgetFound(): void {
  running?.abort();
  running = null;
  useFinding.setState(NOTHING);
}

/** Larger pictures are looked at smaller: walls are found as well, and sooner. */
const MOST_PX = 8_000_000;

/** Looks for walls in a drawing; what was found before is forgotten. */
export async function findIn(drawing: Drawing, style: DrawStyle | null): Promise<void> {
  const { projectId, design } = useDocument.getState();
  if (projectId === null) return;
  forgetFound();
  const controller = (running = new AbortController());
  const of = { projectId, drawingId: drawing.id };
  useFinding.setState({ ...NOTHING, of, phase: 'running', style });
  useSession.getState().set({ tool: 'review', stage: 'building', selection: { table: 'drawings', ids: [drawing.id] }, panelOpen: true });
  try {
    const of = drawing.source === null ? assetUrl(projectId, drawing.assetId) : await drawnForWalls(projectId, drawing, drawing.source);
    if (running !== controller) return;
    const { picture, perPx } = await pictureOf({ of, crop: drawing.crop, mostPx: MOST_PX }, controller.signal);
    // What is written on it is nearer the truth than the leaves of doors.
    const known = isMeasured(design, drawing) || drawing.scaleFrom === 'walls' || drawing.scaleFrom === 'words';
    const pxPerM = known ? perPx / Math.sqrt(drawing.mPerPxX * drawing.mPerPxY) : null;
    const found = rescaled(
      await browserPool().call(
        'findWalls',
        { picture, options: { pxPerM, style } },
        { signal: controller.signal, priority: 'long', onProgress: (done) => running === controller && useFinding.setState({ done }) },
      ),
      perPx,
    );
    if (running !== controller) return;
    // A wall that stands already is none to propose.
    const present = useDocument.getState().design;
    const walls = found.walls.filter((wall) => !standsAlready(present, present.drawings[drawing.id] ?? drawing, wall));
    const fittings = found.fittings.filter((fitting) => !fittingStands(present, present.drawings[drawing.id] ?? drawing, fitting));
    useFinding.setState({ phase: 'found', found: { ...found, walls, fittings } });
  } catch (error) {
    if (running !== controller) return;
    if (!(error instanceof UpperRoomError)) throw error;
    useFinding.setState({ phase: 'failed', problem: wordsOf(error) });
  }
}

/** Vectors are drawn without what their file says to be no wall: words and dashed lines. */
async function drawnForWalls(projectId: string, { widthPx, heightPx }: Drawing, source: NonNullable<Drawing['source']>): Promise<ImageBitmap> {
  const vectors = await vectorsOf(projectId, source);
  return createImageBitmap(await vectors.paint({ leftPx: 0, topPx: 0, widthPx, heightPx }, 1, 'walls'));
}

/** The picture of a drawing in grey, read by a worker of its own. @throws UpperRoomError CANCELLED, ASSET_UNKNOWN */
function pictureOf(asked: PictureAsked, signal: AbortSignal): Promise<Extract<PictureAnswer, { picture: unknown }>> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./picture.worker.ts', import.meta.url), { type: 'module' });
    const end = (then: () => void) => {
      worker.terminate();
      then();
    };
    signal.addEventListener('abort', () => end(() => reject(new UpperRoomError('CANCELLED'))), { once: true });
    worker.onmessage = ({ data }: MessageEvent<PictureAnswer>) =>
      end(() => ('problem' in data ? reject(new UpperRoomError('DRAWING_NOT_SHOWN', { problem: data.problem })) : resolve(data)));
    worker.onerror = ({ message }) => end(() => reject(new UpperRoomError('DRAWING_NOT_SHOWN', { problem: message ?? 'the worker stopped' })));
    worker.postMessage(asked, typeof asked.of === 'string' ? [] : [asked.of]);
  });
}

/** Stairs and lifts come after the walls in the list; they are rated alike, for nothing tells them apart. */
const FITTING_RATED = 0.8;

/** Whether what stands at a place in the list is in: as somebody judged, else by how well it is rated. */
export const isIn = ({ found, judged, atLeast }: Finding, index: number): boolean =>
  judged.get(index) ?? (found?.walls[index]?.confidence ?? FITTING_RATED) >= atLeast;

/** The stairs and lifts that are in. */
export const fittingsIn = (finding: Finding) => {
  const first = finding.found?.walls.length ?? 0;
  return (finding.found?.fittings ?? []).filter((_, index) => isIn(finding, first + index));
};

/** The drawing in which the present proposals were found, where it still is. */
export function foundDrawing(finding: Pick<Finding, 'of'>): Drawing | null {
  const { projectId, design } = useDocument.getState();
  if (finding.of === null || finding.of.projectId !== projectId || !Object.hasOwn(design.drawings, finding.of.drawingId)) return null;
  return design.drawings[finding.of.drawingId]!;
}

/** Takes proposals in or out. */
export function judge(indices: readonly number[], into: boolean): void {
  useFinding.setState(({ judged }) => ({ judged: new Map([...judged, ...indices.map((index) => [index, into] as const)]) }));
}

/** What lies in a box is taken out, or in when all of it was out; a box of no size means the nearest proposal within reach. */
export function judgeBox(fromM: PointM, toM: PointM, reachM: number): void {
  const finding = useFinding.getState();
  const drawing = foundDrawing(finding);
  // The box lies on the floor in view.
  if (drawing === null || finding.found === null || drawing.floorId !== placeNow()?.floor.id) return;
  const click = Math.hypot(toM.xM - fromM.xM, toM.yM - fromM.yM) < reachM / 2;
  const inside = ({ xM, yM }: PointM): boolean =>
    xM >= Math.min(fromM.xM, toM.xM) && xM <= Math.max(fromM.xM, toM.xM) && yM >= Math.min(fromM.yM, toM.yM) && yM <= Math.max(fromM.yM, toM.yM);
  const { walls, fittings } = finding.found;
  const shapes = [...walls.map((wall) => Object.values(endsOnFloor(drawing, wall))), ...fittings.map((fitting) => cornersOnFloor(drawing, fitting))];
  let meant: number[];
  if (click) {
    const distances = shapes.map((shape, index) => ({ index, awayM: awayFromM(shape, toM) })).sort((p, q) => p.awayM - q.awayM);
    meant = distances[0] !== undefined && distances[0].awayM <= reachM ? [distances[0].index] : [];
  } else meant = shapes.flatMap((shape, index) => (shape.every(inside) ? [index] : []));
  judge(
    meant,
    meant.every((index) => !isIn(finding, index)),
  );
}

/** How far a spot is from a line of two spots, or from the sides of an area. */
const awayFromM = (shape: readonly PointM[], at: PointM): number =>
  Math.min(
    ...shape
      .slice(shape.length === 2 ? 1 : 0)
      .map((b, i) => distanceToM({ a: shape[(shape.length === 2 ? i : i + shape.length - 1) % shape.length]!, b }, at)),
  );

/** Draws what is in, as one step, and forgets the rest. */
export function drawProposals(): void {
  const finding = useFinding.getState();
  const drawing = foundDrawing(finding);
  if (drawing === null || finding.found === null) return;
  // Somebody else may have drawn some of them meanwhile.
  const { design: present } = useDocument.getState();
  const chosen = finding.found.walls.filter((wall, index) => isIn(finding, index) && !standsAlready(present, drawing, wall));
  const fittings = fittingsIn(finding).filter((fitting) => !fittingStands(present, drawing, fitting));
  const title = `Draw ${chosen.length} found ${chosen.length === 1 ? 'wall' : 'walls'}`;
  if (!useDocument.getState().run(title, (design) => [...drawFound(design, drawing, chosen, uuid), ...drawFittings(design, drawing, fittings, uuid)]))
    return;
  forgetFound();
  useSession.getState().set({ tool: 'select' });
}

/** Gives the drawing the scale that was guessed from what was found. */
export function takeGuess(): void {
  const finding = useFinding.getState();
  const drawing = foundDrawing(finding);
  const pxPerM = finding.found?.scale?.pxPerM;
  if (drawing === null || pxPerM === undefined) return;
  if (useDocument.getState().run('Take the guessed scale', (design) => guessScale(design, drawing.id, pxPerM)))
    useSession.getState().set({ view: null });
}
