'use client';
import { useEffect, useRef } from 'react';
import type { PolygonM } from '@/core/geometry/polygon';
import type { View } from '../state/sessionStore';
import { TOKENS } from '../theme/tokens';
import type { FieldPicture } from './fieldPicture';
import { toScreen, type Size } from './view';

/** The picture's bitmap: one pixel a cell. Cells without value stay clear. */
function bitmapOf({ grid, values, inks, from, to, kinds }: FieldPicture): ImageData {
  const image = new ImageData(grid.cols, grid.rows);
  const pixels = new Uint32Array(image.data.buffer);
  if (kinds) {
    for (let i = 0; i < values.length; i++) if (values[i]! >= 0) pixels[i] = inks[values[i]!]!;
    return image;
  }
  const scale = 255 / (to - from);
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (value !== value) continue;
    const k = (value - from) * scale;
    pixels[i] = inks[k < 0 ? 0 : k > 255 ? 255 : k | 0]!;
  }
  return image;
}

/** Ink borders between serving areas, drawn as lines so that they stay thin at every zoom. */
function drawBorders(context: CanvasRenderingContext2D, { grid, values }: FieldPicture, view: View): void {
  const half = grid.cellM / 2;
  context.beginPath();
  for (let row = 0, i = 0; row < grid.rows; row++) {
    for (let col = 0; col < grid.cols; col++, i++) {
      const own = values[i]!;
      const x = (grid.originXM + col * grid.cellM + half - view.leftM) * view.pxPerM;
      const y = (grid.originYM + row * grid.cellM + half - view.topM) * view.pxPerM;
      const step = grid.cellM * view.pxPerM;
      if (col + 1 < grid.cols && !Object.is(values[i + 1]!, own)) {
        context.moveTo(x, y - step);
        context.lineTo(x, y);
      }
      if (row + 1 < grid.rows && !Object.is(values[i + grid.cols]!, own)) {
        context.moveTo(x - step, y);
        context.lineTo(x, y);
      }
    }
  }
  context.stroke();
}

/** Draws a picture in plan coordinates, clipped to the outline. `source` is its bitmap. */
export function drawField(
  context: CanvasRenderingContext2D,
  picture: FieldPicture,
  source: CanvasImageSource,
  outline: PolygonM,
  view: View,
  ink: string,
): void {
  const { grid } = picture;
  const corner = toScreen(view, { xM: grid.originXM - grid.cellM / 2, yM: grid.originYM - grid.cellM / 2 });
  context.save();
  context.beginPath();
  outline.forEach((p, i) => {
    const { x, y } = toScreen(view, p);
    if (i === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  });
  context.clip();
  context.imageSmoothingEnabled = picture.smooth;
  context.drawImage(source, corner.x, corner.y, grid.cols * grid.cellM * view.pxPerM, grid.rows * grid.cellM * view.pxPerM);
  if (picture.kinds) {
    context.strokeStyle = ink;
    context.lineWidth = 1.2;
    drawBorders(context, picture, view);
  }
  context.restore();
}

/** A picture's cells as a bitmap to draw from. */
export function bitmapCanvas(picture: FieldPicture): HTMLCanvasElement {
  const source = document.createElement('canvas');
  source.width = picture.grid.cols;
  source.height = picture.grid.rows;
  source.getContext('2d')!.putImageData(bitmapOf(picture), 0, 0);
  return source;
}

/** The ink wash under everything else on the plan. */
export function FieldCanvas({
  picture,
  outline,
  view,
  size,
  mode,
}: {
  picture: FieldPicture | null;
  outline: PolygonM;
  view: View;
  size: Size;
  mode: 'light' | 'dark';
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const bitmap = useRef<{ picture: FieldPicture; source: HTMLCanvasElement } | null>(null);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(size.widthPx * ratio);
    element.height = Math.round(size.heightPx * ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, size.widthPx, size.heightPx);
    if (picture === null || picture.grid.cols === 0) return;
    if (bitmap.current?.picture !== picture) bitmap.current = { picture, source: bitmapCanvas(picture) };
    drawField(context, picture, bitmap.current.source, outline, view, TOKENS[mode].ink);
  }, [picture, outline, view, size, mode]);

  return <canvas ref={canvas} aria-hidden="true" data-testid="field" />;
}
