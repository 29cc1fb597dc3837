import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { assetsOfGroup, readGameData } from './game-data';

const one = (id: string, sound: string, from: string, more: object = {}) => ({ id, name: id, play: { kind: 'one', sound, from }, ...more });
const written = {
  format: 'tangled-choir-conduct',
  version: 3,
  sampleRate: 48_000,
  parameters: [],
  buses: [],
  groups: [{ id: 'group-1', name: 'Snow', budget: 1 }],
  behaviours: [
    { id: 'all', name: 'All', play: { kind: 'stack' }, group: 'group-1' },
    one('heel', 'steps', 'family', { parent: 'all' }),
    one('toe', 'toe', 'family', { parent: 'all' }),
    one('beacon', 'beacon', 'original'),
  ],
  takes: {
    steps: {
      family: [
        { asset: 'steps/1', frames: 1 },
        { asset: 'steps/3', frames: 1 },
      ],
    },
    toe: { original: { asset: 'toe/original', frames: 1 }, family: [] },
    beacon: { original: { asset: 'beacon/original', frames: 1 }, family: [] },
  },
  files: {},
};

describe('a conduct.json', () => {
  it('is read, or refused with what is wrong', () => {
    expect(readGameData(JSON.stringify(written), 'conduct.json').behaviours).toHaveLength(4);
    expect(() => readGameData('{"format":"other"}', 'a.json')).toThrow('a.json is no conduct.json: its format is "other".');
    expect(() => readGameData(JSON.stringify({ ...written, version: 1 }), 'a.json')).toThrow('reads up to 3');
    // Those of before compressors.
    expect(readGameData(JSON.stringify({ ...written, version: 2 }), 'conduct.json').version).toBe(2);
    expect(() => readGameData(JSON.stringify({ ...written, files: undefined }), 'a.json')).toThrow('has no “files”');
    expect(() => readGameData('null', 'a.json')).toThrow('is no conduct.json');
  });

  it('says what each load group needs', () => {
    const data = readGameData(JSON.stringify(written), 'conduct.json');
    expect(assetsOfGroup(data, 'group-1')).toEqual(['steps/1', 'steps/3', 'toe/original']);
    expect(assetsOfGroup(data, undefined)).toEqual(['beacon/original']);
  });
});

describe('the package', () => {
  const folder = mkdtempSync(join(tmpdir(), 'choir-player-'));
  const published = join(folder, 'node_modules/@tangled-choir/player');
  const root = join(__dirname, '../../..');

  // It fails where anything but the player and what conducts a game would go in.
  beforeAll(() => void execFileSync(process.execPath, ['scripts/build-player.mjs', published], { cwd: root }), 120_000);
  afterAll(() => rmSync(folder, { recursive: true }));

  it('has at most 15 kB, gzipped, and needs nothing else', () => {
    const bytes = ['player.js', 'processor.js'].map((file) => gzipSync(readFileSync(join(published, file))).length);
    expect(bytes.reduce((sum, each) => sum + each, 0)).toBeLessThanOrEqual(15_000);
    expect(JSON.parse(readFileSync(join(published, 'package.json'), 'utf8'))).not.toHaveProperty('dependencies');
  });

  it('is written as it is published: a game in strict TypeScript finds its types, and nothing of what is inside', () => {
    const game = (text: string): string => {
      writeFileSync(join(folder, 'game.ts'), text);
      const { stdout } = spawnSync(process.execPath, [join(root, 'node_modules/typescript/bin/tsc'), '-p', folder], { encoding: 'utf8' });
      return stdout;
    };
    writeFileSync(join(folder, 'package.json'), '{"type":"module"}');
    writeFileSync(
      join(folder, 'tsconfig.json'),
      '{"compilerOptions":{"module":"nodenext","target":"es2022","strict":true,"noEmit":true,"types":[],"lib":["es2023","dom"]},"files":["game.ts"]}',
    );
    const start = `import { load } from '@tangled-choir/player';\nconst player = await load('conduct.json', { processor: 'processor.js' });\n`;
    expect(
      game(`${start}player.walk([{ x: 0, y: 0 }, { x: 4, y: 1 }], 1.4, { way: 'round' });\nplayer.onlog = (lines) => lines[0]?.at;`),
    ).toBe('');
    expect(game(`${start}player.trigger(3);`)).toContain("'number' is not assignable");
    expect(game(`${start}player.walk([], 1, { way: 'sideways' });`)).toContain('\'"sideways"\' is not assignable');
  });
});
