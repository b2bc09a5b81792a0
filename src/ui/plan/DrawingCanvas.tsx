'use client';
import { useEffect, useRef, useState } from 'react';
import { toDrawing } from '@/core/building/drawing';
import type { Drawing } from '@/core/design/design';
import { assetUrl } from '../state/api';
import type { View } from '../state/sessionStore';
import { vectorsOf } from '../stages/building/vectors/kept';
import type { Part } from '../stages/building/vectors/vectors';
import { toPlan, type Size } from './view';

/** The longer side of the picture that is drawn while the plan moves: more is never seen at once and would only take memory. */
const BASE_PX = 4096;
/** Stillness after which a plan that is looked at closely is drawn from the full picture. */
const STILL_MS = 160;

type Loaded = Readonly<{ blob: Blob; base: ImageBitmap; perPx: number }>;

/** Pictures by address, loaded once. One that could not be had is asked for again next time. */
const loaded = new Map<string, Promise<Loaded>>();
const MOST_LOADED = 8;

async function load(url: string, longerPx: number): Promise<Loaded> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`${url}: ${response.status}`);
  const blob = await response.blob();
  const perPx = Math.min(1, BASE_PX / longerPx);
  const whole = await createImageBitmap(blob);
  if (perPx === 1) return { blob, base: whole, perPx };
  const size = { resizeWidth: Math.round(whole.width * perPx), resizeHeight: Math.round(whole.height * perPx), resizeQuality: 'high' as const };
  const base = await createImageBitmap(whole, size);
  whole.close();
  return { blob, base, perPx };
}

function loadOnce(url: string, longerPx: number): Promise<Loaded> {
  const known = loaded.get(url) ?? load(url, longerPx);
  loaded.delete(url);
  loaded.set(url, known);
  known.catch(() => loaded.delete(url));
  for (const oldest of loaded.keys()) if (loaded.size > MOST_LOADED) loaded.delete(oldest);
  return known;
}

/** A drawing under the walls, as faint as it was asked for. On the map it darkens the wash like print on tinted paper. */
export function DrawingCanvas({
  projectId,
  drawing,
  view,
  size,
  night,
}: {
  projectId: string;
  drawing: Drawing;
  view: View;
  size: Size;
  night: boolean;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { assetId, widthPx, heightPx } = drawing;
  const url = assetUrl(projectId, assetId);
  const [picture, setPicture] = useState<{ url: string; data: Loaded | null } | null>(null);
  const [close, setClose] = useState<{ of: string; at: View; picture: ImageBitmap | HTMLCanvasElement; part: Part } | null>(null);
  useEffect(() => {
    let stale = false;
    loadOnce(url, Math.max(widthPx, heightPx)).then(
      (data) => !stale && setPicture({ url, data }),
      () => !stale && setPicture({ url, data: null }),
    );
    return () => {
      stale = true;
    };
  }, [url, widthPx, heightPx]);
  const data = picture?.url === url ? picture.data : undefined;

  // Looked at closely and at rest: what is in the window is drawn of the vectors, where there are any, else cut out of the full picture.
  const { source } = drawing;
  const closely = drawing.mPerPxX * view.pxPerM * (window.devicePixelRatio || 1);
  const finer = data !== undefined && data !== null && closely > data.perPx && (source !== null || data.perPx < 1);
  useEffect(() => {
    if (!finer || data === null || data === undefined) return;
    let stale = false;
    const timer = setTimeout(() => {
      const part = windowOn(drawing, view, size);
      if (part === null) return;
      const drawn =
        source === null
          ? createImageBitmap(data.blob, part.leftPx, part.topPx, part.widthPx, part.heightPx)
          : vectorsOf(projectId, source).then((vectors) => vectors.paint(part, closely, 'all'));
      drawn.then(
        (picture) => (stale ? letGo(picture) : setClose({ of: url, at: view, picture, part })),
        (error: unknown) => console.warn('The drawing cannot be shown more closely.', error),
      );
    }, STILL_MS);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [finer, data, drawing, source, projectId, closely, view, size, url]);
  useEffect(() => () => letGo(close?.picture), [close]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(size.widthPx * ratio);
    element.height = Math.round(size.heightPx * ratio);
    if (data === undefined || data === null) return;
    const turn = (drawing.turnDeg * Math.PI) / 180;
    const scale = ratio * view.pxPerM;
    context.setTransform(scale, 0, 0, scale, -view.leftM * scale, -view.topM * scale);
    context.translate(drawing.xM, drawing.yM);
    context.rotate(turn);
    context.scale(drawing.mPerPxX, drawing.mPerPxY);
    const { leftPx, topPx, rightPx, bottomPx } = drawing.crop;
    context.beginPath();
    context.rect(leftPx, topPx, widthPx - leftPx - rightPx, heightPx - topPx - bottomPx);
    context.clip();
    context.drawImage(data.base, 0, 0, widthPx, heightPx);
    if (close !== null && close.of === url && close.at === view) {
      // A part of vectors is drawn on paper of its own, so that the coarser picture does not show through.
      const { leftPx: x, topPx: y, widthPx: wide, heightPx: high } = close.part;
      context.drawImage(close.picture, x, y, wide, high);
    }
  }, [data, close, url, drawing, widthPx, heightPx, view, size]);

  const inverted = night && drawing.invertAtNight;
  return (
    <>
      <canvas
        ref={canvas}
        aria-hidden="true"
        data-testid="drawing"
        data-drawn-from={close !== null && close.of === url && close.at === view && source !== null ? 'vectors' : 'picture'}
        data-loaded={data === undefined ? 'no' : data === null ? 'failed' : 'yes'}
        className={inverted ? 'drawing inverted' : 'drawing'}
        style={{ opacity: drawing.opacity }}
      />
      {data === null && (
        <div className="card toast" role="alert">
          {`The picture of “${drawing.name}” cannot be had from the server. It comes back when the page is reloaded and the server answers.`}
        </div>
      )}
    </>
  );
}

function letGo(picture: ImageBitmap | HTMLCanvasElement | undefined): void {
  if (picture instanceof ImageBitmap) picture.close();
}

/** What of a drawing is in the window, in its own pixels, with a little around; null where nothing is. */
function windowOn(drawing: Drawing, view: View, size: Size) {
  const corners = [
    [0, 0],
    [size.widthPx, 0],
    [size.widthPx, size.heightPx],
    [0, size.heightPx],
  ].map(([x, y]) => toDrawing(drawing, toPlan(view, x!, y!)));
  const xs = corners.map(({ x }) => x);
  const ys = corners.map(({ y }) => y);
  const leftPx = Math.max(0, Math.floor(Math.min(...xs)));
  const topPx = Math.max(0, Math.floor(Math.min(...ys)));
  const widthPx = Math.min(drawing.widthPx, Math.ceil(Math.max(...xs))) - leftPx;
  const heightPx = Math.min(drawing.heightPx, Math.ceil(Math.max(...ys))) - topPx;
  return widthPx > 0 && heightPx > 0 ? { leftPx, topPx, widthPx, heightPx } : null;
}
