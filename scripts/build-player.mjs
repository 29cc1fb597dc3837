/** Bundles the player into packages/player/dist or the folder that is named, as it can be published: what a game loads, the worklet that it names, their types. */
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, relative, resolve } from 'node:path';
import { bundlePlayer } from './bundle-player.mjs';

const home = 'packages/player';
const outdir = process.argv[2] ?? `${home}/dist`;
rmSync(outdir, { recursive: true, force: true });

const sources = await bundlePlayer(outdir);
// Of core it takes only how a game is conducted and what that is made of: no document, no schema library.
const foreign = sources.filter((path) => !/^(packages\/player\/src\/|core\/src\/(conduct|dsp|audio|units))/.test(path));
if (foreign.length > 0) throw new Error(`The player must do without ${foreign.join(', ')}.`);
writeTypes(join(outdir, 'types'));
copyFileSync('LICENSE', join(outdir, 'LICENSE'));
copyFileSync(`${home}/README.md`, join(outdir, 'README.md'));
const { name, version, description, license, type, sideEffects } = JSON.parse(readFileSync(`${home}/package.json`, 'utf8'));
const exported = {
  '.': { types: `./types/${home}/src/index.d.ts`, default: './player.js' },
  './processor.js': './processor.js',
};
writeFileSync(
  join(outdir, 'package.json'),
  `${JSON.stringify({ name, version, description, license, type, sideEffects, exports: exported }, undefined, 2)}\n`,
);

/** Declarations of the player, and of what they name in core; nothing else of core. */
function writeTypes(target) {
  const all = mkdtempSync(join(tmpdir(), 'choir-types-'));
  execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', `${home}/tsconfig.types.json`, '--outDir', all], {
    stdio: 'inherit',
  });
  const conduct = join(all, 'core/src/conduct/index.d.ts');
  // Of what decides and plays, a game sees only the data.
  const onlyTypes = readFileSync(conduct, 'utf8')
    .split('\n')
    .filter((line) => !line.startsWith('export {'));
  writeFileSync(conduct, onlyTypes.join('\n'));
  const taken = new Set();
  const take = (file) => {
    if (taken.has(file)) return;
    taken.add(file);
    const inner = relative(dirname(file), conduct).replace(/\.d\.ts$/, '.js');
    const text = readFileSync(file, 'utf8').replaceAll(`'@tangled-choir/core/conduct'`, `'${inner}'`);
    const written = text.replace(/from '(\.[^']*?)(\.js)?'/g, (_, path) => {
      take(resolve(dirname(file), `${path}.d.ts`));
      return `from '${path}.js'`;
    });
    const copy = join(target, relative(all, file));
    mkdirSync(dirname(copy), { recursive: true });
    writeFileSync(copy, written);
  };
  take(join(all, `${home}/src/index.d.ts`));
  rmSync(all, { recursive: true });
}
