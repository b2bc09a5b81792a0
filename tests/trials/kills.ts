import { v7 as uuid } from 'uuid';
import type { LogLine, OpenedProject } from '@/contract/http';
import { edit } from '@/core/design/commands';
import { applyChanges, newStep } from '@/core/design/step';
import { startServer } from '../e2e/server';

const KILLS = Number(process.env.KILLS ?? 100);
const WRITERS = 3;
/** Each round is killed somewhere after this many acknowledged steps. */
const STEPS_A_ROUND = 20;

/** kill -9 under load, again and again on one folder: every step that was acknowledged must be there afterwards. */
export async function kills(): Promise<string> {
  let server = await startServer();
  let acknowledged = 0;
  let lost = 0;
  for (let round = 0; round < KILLS; round++) {
    const { design } = (await (await fetch(`${server.url}/api/projects/cottage`)).json()) as OpenedProject;
    const ids: string[] = [];
    let killed = false;
    const write = async (writer: number) => {
      let present = design;
      for (let n = 0; !killed; n++) {
        const id = uuid();
        const changes = edit(present, 'accessPoints', `cottage-ap-00${writer + 1}`, { yM: 1 + ((round * 997 + n) % 7000) / 1000 });
        const body = JSON.stringify({ baseRevision: 0, step: newStep(id, 'Move', `writer-${writer}`, changes) });
        const response = await fetch(`${server.url}/api/projects/cottage/steps`, { method: 'POST', body }).catch(() => null);
        if (response === null) return;
        if (!response.ok) continue;
        present = applyChanges(present, changes);
        // The answer must have come to its end to count as one.
        if ((await response.json().catch(() => null)) !== null) ids.push(id);
      }
    };
    const writing = Array.from({ length: WRITERS }, (_, writer) => write(writer));
    while (ids.length < STEPS_A_ROUND) await new Promise((resolve) => setTimeout(resolve, 1 + Math.random() * 5));
    await server.stop('SIGKILL');
    killed = true;
    await Promise.all(writing);
    acknowledged += ids.length;
    server = await startServer({ folder: server.folder });
    const log = (await (await fetch(`${server.url}/api/projects/cottage/log?upTo=2000000000`)).json()) as LogLine[];
    const there = new Set(log.map(({ id }) => id));
    lost += ids.filter((id) => !there.has(id)).length;
  }
  await server.stop();
  return `${KILLS} kills, ${acknowledged} steps acknowledged, ${lost} lost`;
}
