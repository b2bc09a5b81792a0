import { cottage } from '@demo/cottage';
import { edit } from '@/core/design/commands';
import { additionsOf, newStep } from '@/core/design/step';
import { openInMemory } from '@/server/database';
import { closeEvents } from '@/server/services/events';
import { createFrom, listSummaries, openProject } from '@/server/services/projects';
import { postStep } from '@/server/services/steps';

const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
async function timed(times: number, work: (i: number) => Promise<unknown>): Promise<number> {
  const all: number[] = [];
  for (let i = 0; i < times; i++) {
    const started = performance.now();
    await work(i);
    all.push(performance.now() - started);
  }
  return median(all);
}

/** How long a step takes in a small and in a large project, and the home page at 1 000 projects (medians, in memory). */
export async function sizes(): Promise<string> {
  const db = await openInMemory();
  const lines: string[] = [];
  for (const count of [3, 100, 300, 2000]) {
    const design = cottage();
    const first = design.accessPoints['cottage-ap-001']!;
    const accessPoints = Object.fromEntries(Array.from({ length: count }, (_, i) => [`ap-${i}`, { ...first, id: `ap-${i}`, name: `A-${i}` }]));
    const large = { ...design, accessPoints };
    await createFrom(db, `p${count}`, 'Begin', additionsOf(large));
    let present = large.accessPoints['ap-1']!;
    const ms = await timed(41, async (i) => {
      const changes = edit({ ...large, accessPoints: { ...accessPoints, 'ap-1': present } }, 'accessPoints', 'ap-1', { xM: i / 100 });
      const answer = await postStep(db, `p${count}`, { baseRevision: 1, step: newStep(`s-${count}-${i}`, 'Move', 'trial', changes) });
      present = (answer.step.changes[0]?.after as typeof present | undefined) ?? present;
    });
    const open = await timed(5, () => openProject(db, `p${count}`));
    lines.push(`${count} APs: step ${ms.toFixed(1)} ms, open ${open.toFixed(0)} ms`);
  }
  const additions = additionsOf(cottage());
  for (let i = 0; i < 1000; i++) await createFrom(db, `h${i}`, 'Begin', additions);
  const cold = await timed(1, () => listSummaries(db));
  const warm = await timed(11, () => listSummaries(db));
  const found = await timed(11, () => listSummaries(db, { find: 'cottage' }));
  await closeEvents(db);
  await db.close();
  return `${lines.join('; ')}; home at 1 000 projects: first ${cold.toFixed(0)} ms, then ${warm.toFixed(1)} ms, find ${found.toFixed(1)} ms`;
}
