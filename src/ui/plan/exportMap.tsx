'use client';
import { clientTypesOf } from '@/core/design/design';
import { flushSync } from 'react-dom';
import { createRoot } from 'react-dom/client';
import { UpperRoomError } from '@/core/errors';
import { lensOf } from '@/core/fields/lenses';
import { boundsOf } from '@/core/geometry/polygon';
import { formatArea } from '@/core/units/length';
import { COMMON_TYPE } from '@/core/radio/clientTypes';
import { useDocument } from '../state/documentStore';
import { percent } from '../state/format';
import { heardWords } from '../state/heardFrom';
import { placeNow, type Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap, type MapResult } from '../state/useLens';
import { saveFile } from '../kit/saveFile';
import { TOKENS } from '../theme/tokens';
import { bitmapCanvas, drawField } from './FieldCanvas';
import { pictureOf } from './fieldPicture';
import { bandWords } from '../state/bandsAsked';
import { embeddedFonts } from './fonts';
import { MapSheet, SHEET, planSize } from './MapSheet';
import { fitPlan } from './view';

/** Pixels of a picture per pixel of the sheet: sharp in print at the width of a page. */
const PNG_SCALE = 2;

/**
 * Keeps the map in view as a picture with title, legend and scale bar: as SVG, or as PNG. Always drawn by day, on paper. The whole floor, whatever
 * part of it the window shows.
 */
export async function exportMap(kind: 'svg' | 'png'): Promise<void> {
  const place = placeNow();
  const { map } = useMap.getState();
  const { setNotice } = useDocument.getState();
  if (place === null || map === null || map.contours === null) return setNotice({ words: 'The map is on its way. Try again when it is drawn.' });
  try {
    const svg = await sheetText(place, map);
    const content = kind === 'svg' ? new Blob([svg], { type: 'image/svg+xml' }) : await drawn(svg);
    saveFile(`${place.project.name} ${place.floor.name} ${place.variant.name} ${lensOf(map.lens).label} ${bandWords(map)}`, kind, content);
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    setNotice({ code: error.code, details: error.details });
  }
}

/** The sheet as a file of its own: inks instead of the page's variables, its fonts inside. */
async function sheetText(place: Place, map: MapResult): Promise<string> {
  const { ramp, tags, heardFrom, clientId } = useSession.getState();
  const { design } = useDocument.getState();
  const client = clientTypesOf(design)(clientId);
  const size = planSize();
  const view = fitPlan(place.floor.outline, size);
  const canvas = document.createElement('canvas');
  canvas.width = size.widthPx * PNG_SCALE;
  canvas.height = size.heightPx * PNG_SCALE;
  const context = canvas.getContext('2d')!;
  context.scale(PNG_SCALE, PNG_SCALE);
  const picture = pictureOf(map, ramp, 'light');
  if (boundsOf(place.floor.outline) !== null) drawField(context, picture, bitmapCanvas(picture), place.floor.outline, view, TOKENS.light.ink);
  const lens = lensOf(map.lens);
  const { measured } = map;
  const subtitle = [
    `${lens.label}${lens.unit === '' ? '' : `, ${lens.unit}`}`,
    bandWords(map),
    ...[heardWords(heardFrom, design, map.band)].filter((words) => words !== ''),
    measured ? 'measured' : 'predicted',
    ...(map.aside === '' ? [] : [map.aside]),
    ...(measured || (client === COMMON_TYPE && !map.byClient) ? [] : [`for: ${client.name}`]),
    ...(lens.threshold === null
      ? []
      : [
          `${percent(map.share)} of ${measured ? `the ${formatArea(map.statistics.areaM2, place.project.units)} measured` : 'the area'} ${lens.threshold.words(map.threshold)}`,
        ]),
  ].join(' · ');
  const holder = document.createElement('div');
  const root = createRoot(holder);
  flushSync(() =>
    root.render(
      <MapSheet
        design={design}
        place={place}
        map={map}
        view={view}
        ramp={ramp}
        tags={tags}
        field={canvas.toDataURL('image/png')}
        subtitle={subtitle}
        hatchAll={!measured}
      />,
    ),
  );
  const element = holder.querySelector('svg')!;
  element.querySelector('style')!.textContent = await embeddedFonts();
  const text = new XMLSerializer().serializeToString(element);
  root.unmount();
  // Ids that the page's library makes hold signs that other programs stumble over.
  const names = new Map([...text.matchAll(/ id="([^"]+)"/g)].map(([, id], i) => [id!, `part${i}`]));
  const renamed = [...names].reduce((all, [id, name]) => all.replaceAll(`"${id}"`, `"${name}"`).replaceAll(`#${id})`, `#${name})`), text);
  return `<?xml version="1.0" encoding="UTF-8"?>\n${renamed.replace(/var\(--([a-z0-9]+)\)/g, (_, token: string) => inkOf(token))}`;
}

const inkOf = (token: string): string => (TOKENS.light as Readonly<Record<string, string>>)[token] ?? TOKENS.light.ink;

/** The sheet painted. @throws UpperRoomError PICTURE_NOT_DRAWN when the browser cannot */
async function drawn(svg: string): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement('canvas');
    canvas.width = SHEET.widthPx * PNG_SCALE;
    canvas.height = SHEET.heightPx * PNG_SCALE;
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (blob === null) throw new Error('no picture came of the canvas');
    return blob;
  } catch (error) {
    throw new UpperRoomError('PICTURE_NOT_DRAWN', { reason: error instanceof Error ? error.message : String(error) });
  } finally {
    URL.revokeObjectURL(url);
  }
}
