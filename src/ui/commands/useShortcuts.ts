import { useEffect } from 'react';
import { COMMANDS, keyText } from './commands';

/** Binds the commands' keys to the window, except while somebody types into a field. */
export function useShortcuts(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      const typing = target.matches('input:not([type=checkbox]), select, textarea, [contenteditable]') || target.closest('[role=dialog]') !== null;
      const text = keyText(event);
      if (typing && text !== 'Ctrl+K') return;
      const command = COMMANDS.find(
        (candidate) =>
          candidate.keys === text || (text === 'Ctrl+Shift+Z' && candidate.id === 'redo') || (text === 'Backspace' && candidate.id === 'delete'),
      );
      if (command === undefined || command.enabled?.() === false) return;
      event.preventDefault();
      command.run();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
