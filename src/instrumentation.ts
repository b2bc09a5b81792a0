/** Runs once when the server starts: opens the data folder and loads the demo before anything is served. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const [{ openInstance }, { museum }, { cottage }] = await Promise.all([import('@/server/instance'), import('@demo/museum'), import('@demo/cottage')]);
  const ready = openInstance(() => [
    { id: 'quillhaven', design: museum() },
    { id: 'cottage', design: cottage() },
  ]);
  (globalThis as unknown as Record<symbol, unknown>)[Symbol.for('upper-room.ready')] = ready;
  await ready;
}
