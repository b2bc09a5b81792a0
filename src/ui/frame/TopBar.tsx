'use client';
import { memo } from 'react';
import DarkModeOutlined from '@mui/icons-material/DarkModeOutlined';
import LightModeOutlined from '@mui/icons-material/LightModeOutlined';
import Redo from '@mui/icons-material/Redo';
import Undo from '@mui/icons-material/Undo';
import Search from '@mui/icons-material/Search';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useColorScheme } from '@mui/material/styles';
import Link from 'next/link';
import { variantsOf } from '@/core/design/design';
import { STAGE_LABEL, actionOf, goToStage, isEnabled } from '../commands/actions';
import { showVariant } from '../compare/compared';
import { Choice } from '../kit/Choice';
import { TabRow } from '../kit/TabRow';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { STAGES, useSessionFields } from '../state/sessionStore';

const SAVE_TEXT = { saved: 'saved', saving: 'saving …', unsaved: 'not saved yet', deleted: 'deleted elsewhere' } as const;

/** Name, project, variant, stages, undo and redo, save state, units, theme. */
export const TopBar = memo(function TopBar({ place }: { place: Place }) {
  const { stage, panelOpen, set } = useSessionFields('stage', 'panelOpen');
  const { history, titles, saveState, kept, refused, design, undo, redo } = useDocument();
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  const canUndo = isEnabled(actionOf('undo'));
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
      <Choice
        label="Variant"
        className="variant serif"
        value={place.variant.id}
        options={variantsOf(design).map(({ id, name }) => ({ value: id, label: name }))}
        onChoose={(variantId) => showVariant(place, variantId)}
      />
      <TabRow label="Stages" className="stages" tabs={STAGES.map((id) => ({ id, label: STAGE_LABEL[id] }))} value={stage} onChoose={goToStage} />
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
        className={saveState === 'unsaved' || saveState === 'deleted' ? 'save-state urgent' : 'save-state'}
      >
        {SAVE_TEXT[saveState]}
      </span>
      {kept === 'window' && (
        <span
          className="save-note"
          role="status"
          title="The browser refuses its disk. Edits are still sent; what is not sent yet is lost when this window closes."
        >
          kept in this window only
        </span>
      )}
      {refused.length > 0 && (
        <button type="button" className="save-note" onClick={actionOf('refused').run}>
          {refused.length} refused
        </button>
      )}
      <button
        type="button"
        aria-label={`m · ft: ${place.project.units === 'metric' ? 'metric' : 'US customary'} units, change`}
        onClick={actionOf('units').run}
        className="quiet-button wide-only"
      >
        <span className={place.project.units === 'metric' ? 'chosen' : undefined}>m</span> ·{' '}
        <span className={place.project.units === 'us' ? 'chosen' : undefined}>ft</span>
      </button>
      <button type="button" className="quiet-button narrow-only" aria-expanded={panelOpen} onClick={() => set({ panelOpen: !panelOpen })}>
        panel
      </button>
      <Tooltip title={`Commands (${actionOf('palette').key})`}>
        <IconButton size="small" aria-label="Commands" onClick={actionOf('palette').run}>
          <Search fontSize="small" />
        </IconButton>
      </Tooltip>
      <Tooltip title={dark ? 'Day theme' : 'Night theme'}>
        <IconButton size="small" aria-label={dark ? 'Day theme' : 'Night theme'} onClick={() => setMode(dark ? 'light' : 'dark')}>
          {dark ? <LightModeOutlined fontSize="small" /> : <DarkModeOutlined fontSize="small" />}
        </IconButton>
      </Tooltip>
    </header>
  );
});
