import { useEffect } from 'react';
import { actionFor, keyText } from './actions';

/** Binds the actions' keys to the window, except while somebody types into a field. */
export function useShortcuts(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      const typing = target.matches('input:not([type=checkbox]), select, textarea, [contenteditable]') || target.closest('[role=dialog]') !== null;
      const action = actionFor(keyText(event));
      if (action === null || (typing && action.id !== 'palette')) return;
      event.preventDefault();
      action.run();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
