'use client';
import Dialog from '@mui/material/Dialog';
import { useState } from 'react';
import { useSession } from '../state/sessionStore';
import { ACTIONS, isEnabled } from './actions';

/** Every command by name, with its key. Type to narrow, arrows to choose, Enter to run. */
export function CommandPalette() {
  const open = useSession((s) => s.paletteOpen);
  return open ? <OpenPalette /> : null;
}

function OpenPalette() {
  const set = useSession((s) => s.set);
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = ACTIONS.filter(
    (command) => isEnabled(command) && command.id !== 'palette' && words.every((word) => command.title.toLowerCase().includes(word)),
  );
  const chosen = Math.min(at, Math.max(0, found.length - 1));
  const close = () => set({ paletteOpen: false });
  const run = (index: number) => {
    close();
    found[index]?.run();
  };
  return (
    <Dialog
      open
      onClose={close}
      slotProps={{ paper: { sx: { width: 520, maxHeight: 460, m: 0, alignSelf: 'flex-start', mt: '80px', border: '1px solid var(--rule)' } } }}
      aria-label="Commands"
    >
      <input
        autoFocus
        role="combobox"
        aria-label="Command"
        aria-expanded="true"
        aria-controls="palette-list"
        aria-activedescendant={found[chosen] ? `command-${found[chosen].id}` : undefined}
        placeholder="What do you want to do?"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, chosen + 1));
          else if (event.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
          else if (event.key === 'Enter') run(chosen);
          else return;
          event.preventDefault();
        }}
        style={{
          border: 0,
          borderBottom: '1px solid var(--rule)',
          background: 'transparent',
          color: 'inherit',
          font: 'inherit',
          fontSize: 15,
          padding: '12px 16px',
          outlineOffset: -2,
        }}
      />
      <ul id="palette-list" role="listbox" aria-label="Commands" style={{ listStyle: 'none', margin: 0, padding: 4, overflow: 'auto' }}>
        {found.map((command, i) => (
          <li
            key={command.id}
            id={`command-${command.id}`}
            role="option"
            aria-selected={i === chosen}
            ref={(element) => {
              if (i === chosen) element?.scrollIntoView({ block: 'nearest' });
            }}
            onClick={() => run(i)}
            onMouseMove={() => setAt(i)}
            style={{
              display: 'flex',
              justifyContent: 'space-between',
              padding: '6px 12px',
              fontSize: 13.5,
              cursor: 'pointer',
              background: i === chosen ? 'var(--select)' : undefined,
            }}
          >
            <span>{command.title}</span>
            <kbd className="mono">{command.key ?? ''}</kbd>
          </li>
        ))}
        {found.length === 0 && <li style={{ padding: '8px 12px' }}>No command has these words.</li>}
      </ul>
    </Dialog>
  );
}
