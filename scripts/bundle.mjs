// Bundles a TypeScript file of the project for Node, with the project's path names and packages left outside, and imports it.
import { buildSync } from 'esbuild';
import { rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

/** Bundles a file such as `src/server/edge.ts`; answers where the bundle lies. Each process bundles into a file of its own. */
export function bundle(entry) {
  const outfile = path.join(root, '.setup', `${path.basename(entry, '.ts')}-${process.pid}.mjs`);
  buildSync({
    entryPoints: [path.resolve(root, entry)],
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    outfile,
    alias: { '@': path.join(root, 'src'), '@demo': path.join(root, 'demo') },
  });
  return outfile;
}

/** What a file exports, bundled. */
export async function bundled(entry) {
  const outfile = bundle(entry);
  try {
    return await import(pathToFileURL(outfile).href);
  } finally {
    rmSync(outfile, { force: true });
  }
}
