// Runs a TypeScript file of the project in Node: `node scripts/run-ts.mjs bench/main.ts`. Bundled with the project's path names, packages left outside.
import { buildSync } from 'esbuild';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const entry = process.argv[2];
if (!entry) {
  console.error('Name the file to run: node scripts/run-ts.mjs bench/main.ts');
  process.exit(1);
}
const outfile = path.join(root, '.setup', `${path.basename(entry, '.ts')}.mjs`);
buildSync({
  entryPoints: [path.join(root, entry)],
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  outfile,
  alias: { '@': path.join(root, 'src'), '@demo': path.join(root, 'demo') },
});
await import(pathToFileURL(outfile).href);
