// Runs a TypeScript file of the project in Node: `node scripts/run-ts.mjs bench/main.ts`.
import { bundled } from './bundle.mjs';

const entry = process.argv[2];
if (!entry) {
  console.error('Name the file to run: node scripts/run-ts.mjs bench/main.ts');
  process.exit(1);
}
await bundled(entry);
