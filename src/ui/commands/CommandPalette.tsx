'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Dialog from '@mui/material/Dialog';
import InputBase from '@mui/material/InputBase';
import { useSession } from '../state/sessionStore';
import type { Action } from './action';
import { ACTIONS, isEnabled } from './actions';

/** Every command by name, with its key. Type to narrow, arrows to choose, Enter to run. */
export function CommandPalette() {
  const open = useSession((s) => s.paletteOpen);
  return open ? <OpenPalette /> : null;
}

/** Commands whose title has every word typed. */
function withWords(commands: Action[], { inputValue }: { inputValue: string }): Action[] {
  const words = inputValue.toLowerCase().split(/\s+/).filter(Boolean);
  return commands.filter((command) => words.every((word) => command.title.toLowerCase().includes(word)));
}

function OpenPalette() {
  const set = useSession((s) => s.set);
  const close = () => set({ paletteOpen: false });
  return (
    <Dialog open onClose={close} className="palette" aria-label="Commands">
      <Autocomplete<Action>
        open
        autoHighlight
        disablePortal
        forcePopupIcon={false}
        options={ACTIONS.filter((command) => isEnabled(command) && command.id !== 'palette')}
        filterOptions={withWords}
        getOptionLabel={(command) => command.title}
        noOptionsText="No command has these words."
        onChange={(_event, command) => {
          close();
          command?.run();
        }}
        slotProps={{ listbox: { 'aria-label': 'Commands' }, popper: { className: 'palette-list' } }}
        renderOption={({ key, ...row }, command) => (
          <li key={key} {...row}>
            <span>{command.title}</span>
            <kbd className="mono">{command.key ?? ''}</kbd>
          </li>
        )}
        renderInput={({ slotProps }) => (
          <InputBase
            ref={slotProps.input.ref}
            autoFocus
            fullWidth
            className="palette-entry"
            placeholder="What do you want to do?"
            slotProps={{ input: { ...slotProps.htmlInput, 'aria-label': 'Command' } }}
          />
        )}
      />
    </Dialog>
  );
}
