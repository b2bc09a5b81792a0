'use client';
import { ACTIONS } from '../commands/actions';

/** All actions with their keys. */
export function KeysPanel() {
  return (
    <table className="dense" aria-label="Keys">
      <thead>
        <tr>
          <th scope="col">key</th>
          <th scope="col">does</th>
        </tr>
      </thead>
      <tbody>
        {ACTIONS.filter((action) => action.key !== undefined).map((action) => (
          <tr key={action.id}>
            <td className="mono">{[action.key, ...(action.alsoKeys ?? [])].join(' or ')}</td>
            <td className="wide">{action.title}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
