import { v7 as uuid } from 'uuid';
import type { ServiceLevel } from '@/core/design/design';
import { addLevel } from '@/core/design/levelCommands';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';

/** Opens a service level in the inspector; null goes back to the brief. */
export const openLevel = (id: string | null): void =>
  useSession.getState().set({ selection: id === null ? null : { table: 'serviceLevels', ids: [id] } });

/** Makes a service level like another, and opens it. */
export function newLevel(title: string, like?: ServiceLevel): void {
  const id = uuid();
  if (useDocument.getState().run(title, (design) => addLevel(design, id, like))) openLevel(id);
}
