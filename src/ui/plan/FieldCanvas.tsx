'use client';
import { useEffect, useRef } from 'react';
import type { PolygonM } from '@/core/geometry/polygon';
import { lensOf } from '@/core/fields/lenses';
import type { View } from '../state/sessionStore';
import type { MapResult } from '../state/useLens';
import { TOKENS, rampOf, rampTable, tintTable, type RampName } from '../theme/tokens';
import { toScreen, type Size } from './view';

/** The map's bitmap: one pixel a cell, through a table of 256 inks. Cells without value stay clear. */
function bitmapOf(map: MapResult, ramp: RampName, mode: 'light' | 'dark'): ImageData {
  const { grid } = map.scene;
  const image = new ImageData(grid.cols, grid.rows);
  const pixels = new Uint32Array(image.data.buffer);
  const { values } = map;
  const { show, scale: range } = lensOf(map.lens);
  if (show === 'tints') {
    const table = tintTable(mode);
    const tints = Uint32Array.from(map.kinds, ({ tint }) => table[tint]!);
    for (let i = 0; i < values.length; i++) if (values[i]! >= 0) pixels[i] = tints[values[i]!]!;
    return image;
  }
  const { from, to } = range;
  const table = rampTable(rampOf(ramp, lensOf(map.lens)), mode);
  const scale = 255 / (to - from);
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (value !== value) continue;
    const k = (value - from) * scale;
    pixels[i] = table[k < 0 ? 0 : k > 255 ? 255 : k | 0]!;
  }
  return image;
}

/** Ink borders between serving areas, drawn as lines so that they stay thin at every zoom. */
function drawBorders(context: CanvasRenderingContext2D, map: MapResult, view: View): void {
  const { grid } = map.scene;
  const { values } = map;
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

/** The ink wash under everything else on the plan. */
export function FieldCanvas({
  map,
  outline,
  view,
  size,
  ramp,
  mode,
}: {
  map: MapResult | null;
  outline: PolygonM;
  view: View;
  size: Size;
  ramp: RampName;
  mode: 'light' | 'dark';
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const bitmap = useRef<{ map: MapResult; ramp: RampName; mode: string; source: HTMLCanvasElement } | null>(null);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(size.widthPx * ratio);
    element.height = Math.round(size.heightPx * ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, size.widthPx, size.heightPx);
    if (map === null) return;
    // Contours arrive after the values: the bitmap is made again only for new values.
    const known = bitmap.current;
    if (known === null || known.map.values !== map.values || known.ramp !== ramp || known.mode !== mode) {
      const source = document.createElement('canvas');
      source.width = map.scene.grid.cols;
      source.height = map.scene.grid.rows;
      source.getContext('2d')!.putImageData(bitmapOf(map, ramp, mode), 0, 0);
      bitmap.current = { map, ramp, mode, source };
    }
    const { grid } = map.scene;
    const corner = toScreen(view, { xM: grid.originXM - grid.cellM / 2, yM: grid.originYM - grid.cellM / 2 });
    context.save();
    context.beginPath();
    outline.forEach((p, i) => {
      const { x, y } = toScreen(view, p);
      if (i === 0) context.moveTo(x, y);
      else context.lineTo(x, y);
    });
    context.clip();
    context.imageSmoothingEnabled = lensOf(map.lens).show === 'wash';
    context.drawImage(bitmap.current!.source, corner.x, corner.y, grid.cols * grid.cellM * view.pxPerM, grid.rows * grid.cellM * view.pxPerM);
    if (lensOf(map.lens).show === 'tints') {
      context.strokeStyle = TOKENS[mode].ink;
      context.lineWidth = 1.2;
      drawBorders(context, map, view);
    }
    context.restore();
  }, [map, outline, view, size, ramp, mode]);

  return <canvas ref={canvas} aria-hidden="true" data-testid="field" />;
}
