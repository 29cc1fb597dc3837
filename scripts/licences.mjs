/** Lists the licences of everything that ships into THIRD_PARTY_LICENCES.md, and refuses what may not ship. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const allowed = /^(MIT|ISC|0BSD|BSD-[23]-Clause|Apache-2\.0|MPL-2\.0|OFL-1\.1|Unlicense|CC0-1\.0|BlueOak-1\.0\.0)$/;
const workspaces = ['core', 'encoders', 'farm', 'web', 'server', 'cli', 'demo'];
const seen = new Map();

function find(name, from) {
  for (let folder = from; ; folder = join(folder, '..')) {
    const candidate = join(folder, 'node_modules', name);
    if (existsSync(join(candidate, 'package.json'))) return candidate;
    if (folder === '.' || folder === '') return undefined;
  }
}

function visit(name, from) {
  const folder = find(name, from);
  if (!folder || seen.has(folder) || name.startsWith('@tangled-choir/')) return;
  const manifest = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
  const licence = typeof manifest.license === 'string' ? manifest.license : (manifest.license?.type ?? 'unknown');
  seen.set(folder, { name, version: manifest.version, licence });
  for (const dependency of Object.keys(manifest.dependencies ?? {})) visit(dependency, folder);
}

for (const workspace of workspaces) {
  const { dependencies = {} } = JSON.parse(readFileSync(join(workspace, 'package.json'), 'utf8'));
  for (const name of Object.keys(dependencies)) visit(name, workspace);
}

const rows = [...seen.values()].sort((a, b) => a.name.localeCompare(b.name) || a.version.localeCompare(b.version));
const refused = rows.filter(
  ({ licence }) =>
    !licence
      .replace(/[()]/g, '')
      .split(/ OR /i)
      .some((option) => allowed.test(option.trim())),
);
const text = [
  '# Third-party licences',
  '',
  'Packages that the application, its server and its command line are built from. Made by `npm run licences`.',
  '',
  '| package | version | licence |',
  '|---|---|---|',
  ...rows.map(({ name, version, licence }) => `| ${name} | ${version} | ${licence} |`),
  '',
  'Compiled into them: libFLAC (libflacjs), libopus (@evan/opus), libogg and libvorbis (the Ogg part of wasm-media-encoders, the only one that ships), all BSD-3-Clause, Xiph.Org Foundation.',
  '',
].join('\n');
writeFileSync('THIRD_PARTY_LICENCES.md', text);
console.log(`${rows.length} packages`);
if (refused.length > 0) {
  console.error('May not ship:', refused);
  process.exit(1);
}
