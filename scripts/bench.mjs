// `npm run bench`: medians of the kernels, and ratios to brute force measured in the same run.
import { buildSync } from 'esbuild';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const outfile = path.join(root, '.setup/bench.mjs');
buildSync({
  entryPoints: [path.join(root, 'bench/main.ts')],
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  outfile,
  alias: { '@': path.join(root, 'src'), '@demo': path.join(root, 'demo') },
});
await import(pathToFileURL(outfile).href);
