/**
 * Compiles core/kernels with AssemblyScript: nearly all into core/src/dsp/compiled, and what players of games need into a small module of its own. The results
 * are committed, so that nobody needs the compiler.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import asc from 'assemblyscript/asc';

const modules = {
  'core/src/dsp/compiled/kernels.generated.ts': [
    'interpolate',
    'convert-rate',
    'transform',
    'convolve',
    'oversample',
    'shape',
    'cascade',
    'reverberate',
    'pair-spectrum',
    'turn-spectra',
    'waves',
    'inter-sample',
    'gain-computer',
    'echo',
  ],
  'core/src/conduct/voice-kernel.generated.ts': ['play-voice'],
};

async function compile(target, names) {
  const files = new Map();
  const { error, stderr } = await asc.main(
    [
      ...names.map((name) => `core/kernels/${name}.ts`),
      '--outFile',
      'kernels.wasm',
      '-O3',
      '--noAssert',
      '--runtime',
      'stub',
      '--enable',
      'simd',
      // Not-a-number becomes 0 in place of an error that would stop all sound.
      '--enable',
      'nontrapping-f2i',
      '--importMemory',
      '--initialMemory',
      '1',
    ],
    {
      readFile: (name) => {
        try {
          return readFileSync(name, 'utf8');
        } catch {
          return null;
        }
      },
      writeFile: (name, contents) => files.set(name, contents),
      listFiles: () => [],
    },
  );
  if (error) {
    console.error(error.message, stderr.toString());
    process.exit(1);
  }
  const wasm = Buffer.from(files.get('kernels.wasm'));
  writeFileSync(
    target,
    `/** Made by \`npm run kernels\` out of core/kernels; ${wasm.length} bytes of WebAssembly. */\nexport const kernelsBase64 =\n  '${wasm.toString('base64')}';\n`,
  );
  console.log(`${target}: ${wasm.length} bytes`);
}

for (const [target, names] of Object.entries(modules)) await compile(target, names);
