// Bundles a TypeScript file of the project for Node, with the project's path names and packages left outside.
import { buildSync } from 'esbuild';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

/** Bundles of earlier code are kept a while: a server that still runs may need its own again. */
const KEPT_MS = 7 * 24 * 3600_000;
function dropIfOld(file) {
  const { mtimeMs } = statSync(file, { throwIfNoEntry: false }) ?? { mtimeMs: Infinity };
  if (Date.now() - mtimeMs > KEPT_MS) rmSync(file, { force: true });
}

/** Writes the bundle of a file such as `src/server/edge.ts` under a name of its content, so that processes share it; answers where it lies. */
export function bundle(entry) {
  const { outputFiles } = buildSync({
    entryPoints: [path.resolve(root, entry)],
    bundle: true,
    write: false,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    alias: { '@': path.join(root, 'src'), '@demo': path.join(root, 'demo') },
  });
  const { contents } = outputFiles[0];
  const name = `${path.basename(entry, '.ts')}-${createHash('sha256').update(contents).digest('hex').slice(0, 12)}.mjs`;
  const outfile = path.join(root, '.setup', name);
  if (!existsSync(outfile)) {
    // Another process may be writing the same: each writes beside it, and the last rename changes nothing.
    mkdirSync(path.dirname(outfile), { recursive: true });
    for (const old of readdirSync(path.dirname(outfile))) if (/-[0-9a-f]{12}\.mjs$/.test(old)) dropIfOld(path.join(path.dirname(outfile), old));
    const half = `${outfile}.${process.pid}`;
    writeFileSync(half, contents);
    renameSync(half, outfile);
  }
  return outfile;
}

/** What a file exports, bundled. */
export const bundled = (entry) => import(pathToFileURL(bundle(entry)).href);
