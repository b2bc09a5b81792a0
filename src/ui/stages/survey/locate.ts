import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { addAccessPoint } from '@/core/design/commands';
import { bssidOf } from '@/core/survey/site';
import { linkAddress, linkedAddresses } from '@/core/design/surveyCommands';
import { applyChanges } from '@/core/design/step';
import { UpperRoomError } from '@/core/errors';
import type { Contour } from '@/core/fields/contour';
import type { PointM } from '@/core/geometry/point';
import { gridOver, type Grid } from '@/core/geometry/grid';
import { boundsOf } from '@/core/geometry/polygon';
import type { Band } from '@/core/radio/band';
import type { Counted } from '@/core/survey/heard';
import type { Located } from '@/core/survey/fit/locate';
import { browserPool } from '@/engine/browser';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import type { Place } from '../../state/selectors';
import { fitView } from '../../plan/view';
import { useSession } from '../../state/sessionStore';
import { surveyQuestion } from '../../state/surveyed';

/** A transmitter that was heard and is looked for. */
export type Sought = Readonly<{ projectId: string; floorId: string; bssid: string; band: Band; ssid: string }>;
type LocatedState = Readonly<{ sought: Sought | null; busy: boolean; found: Located | null; rings: Contour | null; problem: string | null }>;
const NOTHING: LocatedState = { sought: null, busy: false, found: null, rings: null, problem: null };
/** Where a transmitter was found to be, and of which project and floor that is. */
export const useLocated = create<LocatedState>()(() => NOTHING);

/** Cells of this size are looked at, in m, so far round the floor: neighbours are outside. */
const CELL_M = 1;
const ROUND_M = 25;
/** Transmitters hang about so high above the floor, in m. */
const HANGS_M = 2.6;

/** The cells in which something that is heard on a floor may be. */
export function cellsAround({ westM, eastM, northM, southM }: NonNullable<ReturnType<typeof boundsOf>>): { grid: Grid; mask: Uint8Array } {
  const [west, east, north, south] = [westM - ROUND_M, eastM + ROUND_M, northM - ROUND_M, southM + ROUND_M];
  const grid = gridOver(
    [
      { xM: west, yM: north },
      { xM: east, yM: north },
      { xM: east, yM: south },
      { xM: west, yM: south },
    ],
    CELL_M,
  );
  return { grid, mask: new Uint8Array(grid.cols * grid.rows).fill(1) };
}

let looking: AbortController | null = null;

export function forgetLocated(): void {
  looking?.abort();
  looking = null;
  useLocated.setState(NOTHING);
}

/** Looks for a transmitter by what was heard of it on the walks that count. */
export async function locateHeard(place: Place, heard: Counted, of: Pick<Sought, 'bssid' | 'band' | 'ssid'>): Promise<void> {
  looking?.abort();
  const own = (looking = new AbortController());
  const { projectId, design } = useDocument.getState();
  const bounds = boundsOf(place.floor.outline);
  if (projectId === null || bounds === null) return;
  useLocated.setState({ ...NOTHING, sought: { projectId, floorId: place.floor.id, ...of }, busy: true });
  const { question } = surveyQuestion(design, place, heard, of.band, []);
  const { grid, mask } = cellsAround(bounds);
  // One of ours hangs as high as it is drawn.
  const owner = ownerOf(of, linkedAddresses(design), place);
  const heightM = question.radios.find(({ apId }) => apId === owner)?.pose.zM ?? place.floor.elevationM + HANGS_M;
  try {
    const { scene, radios } = question;
    const params = { scene, radios, heard, bssid: of.bssid, band: of.band, heightM, grid, mask };
    const found = await browserPool().call('locate', params, { priority: 'long', signal: own.signal });
    if (looking !== own) return;
    if (found === null)
      return useLocated.setState({ busy: false, problem: 'It was heard at too few spots to say where it is: five square metres at least.' });
    const [rings] = await browserPool().call('contours', { grid, values: Float32Array.from(found.region), levels: [0.5] });
    if (looking !== own) return;
    useLocated.setState({ busy: false, found, rings: rings ?? null });
    showToo(bounds, found);
  } catch (error) {
    if (looking !== own) return;
    if (!(error instanceof UpperRoomError)) throw error;
    useLocated.setState(error.code === 'CANCELLED' ? NOTHING : { busy: false, problem: wordsOf(error) });
  }
}

/** Makes the plan so small that a spot beside the floor is seen too. */
function showToo(floor: NonNullable<ReturnType<typeof boundsOf>>, { xM, yM }: PointM): void {
  const { westM, eastM, northM, southM } = floor;
  const box = document.querySelector('.plan svg')?.getBoundingClientRect();
  if (box === undefined || (xM >= westM && xM <= eastM && yM >= northM && yM <= southM)) return;
  const both = { westM: Math.min(westM, xM - 3), eastM: Math.max(eastM, xM + 3), northM: Math.min(northM, yM - 3), southM: Math.max(southM, yM + 3) };
  useSession.getState().set({ view: fitView(both, { widthPx: box.width, heightPx: box.height }) });
}

/** Says that what was located is an access point of the design, or nobody's. */
export function linkTo({ bssid }: Sought, apId: string | null): void {
  useDocument.getState().run(apId === null ? 'Unlink an address' : 'Link an address', (design) => linkAddress(design, uuid(), bssid, apId));
}

/** Hangs an access point where a transmitter was found, and links its address, as one step. */
export function hangThere(place: Place, { bssid }: Sought, { xM, yM }: Located): void {
  const { modelId, set } = useSession.getState();
  const id = uuid();
  useDocument.getState().run('Hang what was located', (design) => {
    const hung = addAccessPoint(design, { id, floorId: place.floor.id, variantId: place.variant.id, modelId, xM, yM });
    return [...hung, ...linkAddress(applyChanges(design, hung), uuid(), bssid, id)];
  });
  set({ selection: null });
}

/** Whose an address is in a design: linked, or the simulated one of an access point. */
export const ownerOf = ({ bssid, band }: Pick<Sought, 'bssid' | 'band'>, linked: ReadonlyMap<string, string>, place: Place): string | null =>
  linked.get(bssid) ?? place.around.find(({ id }) => bssidOf(id, band) === bssid)?.id ?? null;

/** What a sought transmitter is called: as the access point that it is, else by its network. */
export const nameOfSought = (sought: Sought, linked: ReadonlyMap<string, string>, place: Place): string =>
  place.around.find(({ id }) => id === ownerOf(sought, linked, place))?.name ?? (sought.ssid || 'hidden network');
