// Compiles `assembly/` to WebAssembly and writes it into the module that the workers load. `--check` compares instead, and says what to do.
import { readFileSync, writeFileSync } from 'node:fs';
import asc from 'assemblyscript/asc';

const MODULE = new URL('../src/core/fields/kernel/bytes.ts', import.meta.url);
const FLAGS = ['-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd', '--enable', 'bulk-memory', '--importMemory'];

let bytes = null;
const { error, stderr } = await asc.main(['assembly/index.ts', '--outFile', 'kernel.wasm', ...FLAGS], {
  writeFile: (name, contents) => name === 'kernel.wasm' && (bytes = contents),
});
if (error !== null || bytes === null) {
  console.error(stderr.toString());
  process.exit(1);
}
const text = `/** The compiled kernels of \`assembly/\`, written by \`npm run kernel\`: not to be edited. */\nexport const KERNEL_BASE64 =\n  '${Buffer.from(bytes).toString('base64')}';\n`;
if (!process.argv.includes('--check')) writeFileSync(MODULE, text);
else if (readFileSync(MODULE, 'utf8') !== text) {
  console.error('What is compiled is not what stands in assembly/: run `npm run kernel` and commit what it writes.');
  process.exit(1);
}
console.log(`${bytes.length} bytes`);
