// Takes the pictures of docs/screenshots from the demo data: `npm run screenshots` (build first). Serves on a free port with its own data folder.
import { buildSync } from 'esbuild';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const outfile = path.join(root, '.setup/screenshots.mjs');
buildSync({
  entryPoints: [path.join(root, 'tests/e2e/screenshots.ts')],
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  outfile,
  alias: { '@': path.join(root, 'src'), '@demo': path.join(root, 'demo') },
});
await import(pathToFileURL(outfile).href);
