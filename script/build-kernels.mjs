// Compiles core/kernels/assembly to WebAssembly and writes it as a module, so that workers, Node and tests load it alike.
import asc from 'assemblyscript/asc';
import { readFileSync, writeFileSync } from 'node:fs';

const wasmFile = 'core/kernels/.kernels.wasm';
const { error, stderr } = await asc.main([
  'core/kernels/assembly/index.ts',
  '--config',
  'none',
  '--outFile',
  wasmFile,
  '--runtime',
  'stub',
  '--enable',
  'simd',
  '--optimizeLevel',
  '3',
  '--shrinkLevel',
  '0',
  '--noAssert',
  '--importMemory',
  '--initialMemory',
  '1',
]);
if (error) {
  console.error(stderr.toString());
  process.exit(1);
}
const bytes = readFileSync(wasmFile);
writeFileSync(
  'core/kernels/kernels-wasm.ts',
  `// Made by script/build-kernels.mjs from core/kernels/assembly. Not to be edited.\nexport const KERNELS_BASE64 =\n  '${bytes.toString('base64')}';\n`,
);
console.log(`kernels: ${bytes.length} bytes`);
