'use client';
import DarkModeOutlined from '@mui/icons-material/DarkModeOutlined';
import LightModeOutlined from '@mui/icons-material/LightModeOutlined';
import Redo from '@mui/icons-material/Redo';
import Undo from '@mui/icons-material/Undo';
import KeyboardCommandKey from '@mui/icons-material/KeyboardCommandKey';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useColorScheme } from '@mui/material/styles';
import Link from 'next/link';
import { PROJECT_ID, variantsOf } from '@/core/design/design';
import { edit } from '@/core/design/commands';
import { STAGE_LABEL, goToStage } from '../commands/commands';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { STAGES, useSession } from '../state/sessionStore';

const SAVE_TEXT = { saved: 'saved', saving: 'saving …', unsaved: 'not saved yet', deleted: 'deleted elsewhere' } as const;

/** Name, project, variant, stages, undo and redo, save state, units, theme. */
export function TopBar({ place }: { place: Place }) {
  const { stage, set } = useSession();
  const { history, titles, saveState, design, undo, redo, run } = useDocument();
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  // The first step of the log made the project; nobody undoes that.
  const canUndo = history.undo.length > 1;
  const undoTitle = canUndo ? `Undo: ${titles[history.undo.at(-1)!] ?? 'step'}` : 'Nothing to undo';
  const redoTitle = history.redo.length > 0 ? `Redo: ${titles[history.redo.at(-1)!] ?? 'step'}` : 'Nothing to redo';
  return (
    <header className="bar">
      <Link href="/" className="name" aria-label="Upper Room, all projects">
        Upper Room
      </Link>
      <span className="project" title={place.project.name}>
        {place.project.name}
      </span>
      <select
        aria-label="Variant"
        value={place.variant.id}
        onChange={(event) => set({ variantId: event.target.value, selection: null, sheet: null, preview: null })}
        className="serif"
        style={{ fontStyle: 'italic', fontSize: 14, border: 0, background: 'transparent', color: 'var(--ink2)', maxWidth: 130 }}
      >
        {variantsOf(design).map((variant) => (
          <option key={variant.id} value={variant.id}>
            {variant.name}
          </option>
        ))}
      </select>
      <div className="stages" role="tablist" aria-label="Stages">
        {STAGES.map((name) => (
          <button key={name} type="button" role="tab" aria-selected={stage === name} onClick={() => goToStage(name)}>
            {STAGE_LABEL[name]}
          </button>
        ))}
      </div>
      <Tooltip title={undoTitle}>
        <span>
          <IconButton size="small" aria-label="Undo" disabled={!canUndo} onClick={() => void undo()}>
            <Undo fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title={redoTitle}>
        <span>
          <IconButton size="small" aria-label="Redo" disabled={history.redo.length === 0} onClick={() => void redo()}>
            <Redo fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <span
        role="status"
        aria-label="Save state"
        data-testid="save-state"
        style={{
          fontSize: 12,
          color: saveState === 'unsaved' || saveState === 'deleted' ? 'var(--hand)' : 'var(--ink2)',
          minWidth: 52,
          whiteSpace: 'nowrap',
        }}
      >
        {SAVE_TEXT[saveState]}
      </span>
      <button
        type="button"
        aria-label={`m · ft: ${place.project.units === 'metric' ? 'metric' : 'US customary'} units, change`}
        onClick={() => run('Units', edit(design, 'project', PROJECT_ID, { units: place.project.units === 'metric' ? 'us' : 'metric' }))}
        style={{ border: 0, background: 'none', font: 'inherit', fontSize: 12.5, color: 'var(--ink2)', cursor: 'pointer', whiteSpace: 'nowrap' }}
      >
        <span style={{ fontWeight: place.project.units === 'metric' ? 700 : 400 }}>m</span> ·{' '}
        <span style={{ fontWeight: place.project.units === 'us' ? 700 : 400 }}>ft</span>
      </button>
      <Tooltip title="All commands (Ctrl+K)">
        <IconButton size="small" aria-label="Command palette" onClick={() => set({ paletteOpen: true })}>
          <KeyboardCommandKey fontSize="small" />
        </IconButton>
      </Tooltip>
      <Tooltip title={dark ? 'Day theme' : 'Night theme'}>
        <IconButton size="small" aria-label={dark ? 'Day theme' : 'Night theme'} onClick={() => setMode(dark ? 'light' : 'dark')}>
          {dark ? <LightModeOutlined fontSize="small" /> : <DarkModeOutlined fontSize="small" />}
        </IconButton>
      </Tooltip>
    </header>
  );
}
