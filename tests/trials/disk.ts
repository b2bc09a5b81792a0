import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { v7 as uuid } from 'uuid';
import type { OpenedProject } from '@/contract/http';
import { edit } from '@/core/design/commands';
import { newStep } from '@/core/design/step';
import { startServer } from '../e2e/server';

/**
 * A disk that fills up under a running server: edits are refused by name and nothing is changed; when there is room again they are taken. A
 * start on a read-only disk is refused by name. All that was acknowledged is there. Needs the right to mount.
 */
export async function disk(): Promise<string> {
  const mount = await mkdtemp(path.join(os.tmpdir(), 'upper-room-disk-'));
  execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=160m', 'tmpfs', mount]);
  let server = await startServer({ folder: path.join(mount, 'data') });
  try {
    const acknowledged: number[] = [];
    let at = 1;
    const move = async (): Promise<string> => {
      const { design } = (await (await fetch(`${server.url}/api/projects/cottage`)).json()) as OpenedProject;
      at += 0.001;
      const changes = edit(design, 'accessPoints', 'cottage-ap-001', { yM: Math.round(at * 1000) / 1000 });
      const body = JSON.stringify({ baseRevision: 0, step: newStep(uuid(), 'Move', 'trial', changes) });
      const response = await fetch(`${server.url}/api/projects/cottage/steps`, { method: 'POST', body });
      if (response.ok) acknowledged.push(at);
      return response.ok ? 'taken' : ((await response.json()) as { code: string }).code;
    };
    const seen: string[] = [await move()];
    // Fills what is left, down to the last block.
    const filler = path.join(mount, 'filler');
    for (const size of [16e6, 1e6, 64e3, 4096]) {
      for (let n = 0; ; n++) {
        const full = await writeFile(`${filler}-${size}-${n}`, Buffer.alloc(size)).then(
          () => false,
          () => true,
        );
        if (full) break;
      }
    }
    let refusal = 'taken';
    for (let n = 0; n < 400 && refusal === 'taken'; n++) refusal = await move();
    seen.push(refusal);
    execFileSync('sh', ['-c', `rm -f ${filler}-*`]);
    seen.push(await move());
    await server.stop();
    execFileSync('mount', ['-o', 'remount,ro', mount]);
    // A running server holds its files open, and the system refuses this; a start must say what is wrong.
    const start = await startServer({ folder: server.folder }).catch((error: Error) => error.message);
    seen.push(typeof start === 'string' && start.includes('data folder cannot be written') ? 'read-only: start refused and named' : 'NOT NAMED');
    execFileSync('mount', ['-o', 'remount,rw', mount]);
    server = await startServer({ folder: server.folder });
    seen.push(await move());
    const { design } = (await (await fetch(`${server.url}/api/projects/cottage`)).json()) as OpenedProject;
    const stands = Math.abs(design.accessPoints['cottage-ap-001']!.yM - acknowledged.at(-1)!) < 0.0006;
    return `${seen.join(', ')}; the last acknowledged edit ${stands ? 'stands' : 'IS LOST'}`;
  } finally {
    await server.stop();
    execFileSync('umount', ['-l', mount]);
    await rm(mount, { recursive: true, force: true });
  }
}
