'use client';
import Add from '@mui/icons-material/Add';
import FitScreen from '@mui/icons-material/FitScreen';
import Remove from '@mui/icons-material/Remove';
import IconButton from '@mui/material/IconButton';
import { useSession, type View } from '../state/sessionStore';
import { zoomView, type Size } from './view';

/** Zoom and fit for those without a wheel. */
export function ZoomButtons({ view, size }: { view: View; size: Size }) {
  const set = useSession((s) => s.set);
  const zoom = (factor: number) => set({ view: zoomView(view, factor, size.widthPx / 2, size.heightPx / 2) });
  return (
    <div className="card zoom" role="group" aria-label="Zoom">
      <IconButton size="small" sx={{ p: '3px' }} aria-label="Zoom out" title="Zoom out (−)" onClick={() => zoom(0.8)}>
        <Remove fontSize="small" />
      </IconButton>
      <IconButton size="small" sx={{ p: '3px' }} aria-label="Fit the plan" title="Fit the plan (F)" onClick={() => set({ view: null })}>
        <FitScreen fontSize="small" />
      </IconButton>
      <IconButton size="small" sx={{ p: '3px' }} aria-label="Zoom in" title="Zoom in (+)" onClick={() => zoom(1.25)}>
        <Add fontSize="small" />
      </IconButton>
    </div>
  );
}
