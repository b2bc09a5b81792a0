import { useEffect, useMemo, useState } from 'react';
import { UpperRoomError } from '@/core/errors';
import type { Contour } from '@/core/fields/contour';
import { maskOf, type Grid } from '@/core/geometry/grid';
import type { PolygonM } from '@/core/geometry/polygon';
import { browserPool } from '@/engine/browser';
import type { MapResult } from '../state/useLens';
import type { View } from '../state/types';
import { covers, detailGrid } from './detail';
import type { Size } from './view';

type Detail = Readonly<{ of: Float32Array; grid: Grid; values: Float32Array; contours: readonly Contour[] }>;

/** Moving and zooming come in many small steps; only where they end is looked at closely. */
const STILL_MS = 220;

const hasAll = (detail: Detail, wanted: readonly Contour[]): boolean =>
  wanted.every(({ level }) => detail.contours.some((contour) => contour.level === level));

/**
 * The map as the window shows it: where it is enlarged so far that the floor's cells would show, the same question is asked of finer cells of the
 * part in view, and those are drawn. All figures stay those of the floor's own cells.
 */
export function useDetail(map: MapResult | null, outline: PolygonM, view: View | null, size: Size | null): MapResult | null {
  const [detail, setDetail] = useState<Detail | null>(null);
  useEffect(() => {
    // While something is dragged there are no contours, and nothing is worth looking at closely.
    if (map === null || view === null || size === null || map.contours === null || map.measured) return;
    const { question, scene, values, contours } = map;
    const grid = detailGrid(scene.grid, outline, view, size, question.radios.length);
    if (grid === null) return;
    if (detail?.of === values && detail.grid.cellM <= grid.cellM * 1.01 && covers(detail.grid, outline, view, size) && hasAll(detail, contours))
      return;
    const overtaken = new AbortController();
    const timer = setTimeout(() => {
      const key = [scene.key, grid.originXM, grid.originYM, grid.cellM, grid.cols, grid.rows].join(' ');
      const zones =
        question.lens === 'service'
          ? question.zones.map((zone, i) => ({ ...zone, mask: maskOf(grid, [scene.zones[i]!.zone], scene.zones[i]!.exempt) }))
          : [];
      const radios = question.radios.map((radio) => ({ ...radio, lossDb: null }));
      const params = { ...question, scene: { ...question.scene, key, grid }, zones, radios, levels: contours.map(({ level }) => level) };
      browserPool()
        .call('detail', params, { signal: overtaken.signal })
        .then(
          (result) => !overtaken.signal.aborted && setDetail({ of: values, grid, ...result }),
          (error: unknown) => {
            // The map stands without it, only coarser.
            if (!(error instanceof UpperRoomError && error.code === 'CANCELLED')) console.error(error);
          },
        );
    }, STILL_MS);
    return () => {
      clearTimeout(timer);
      overtaken.abort();
    };
  }, [map, outline, view, size, detail]);
  return useMemo(() => {
    if (map === null || view === null || size === null || detail === null || detail.of !== map.values) return map;
    const enlarged = detailGrid(map.scene.grid, outline, view, size, map.radios.length) !== null;
    if (!enlarged || map.contours === null || !hasAll(detail, map.contours) || !covers(detail.grid, outline, view, size)) return map;
    const contours = map.contours.map(({ level }) => detail.contours.find((contour) => contour.level === level)!);
    return { ...map, scene: { ...map.scene, grid: detail.grid }, values: detail.values, contours };
  }, [map, outline, view, size, detail]);
}
