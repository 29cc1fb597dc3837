import { gzipSync } from 'node:zlib';
import { build } from 'esbuild';
import { assetsOfGroup, readGameData } from './game-data';

const one = (id: string, sound: string, from: string, more: object = {}) => ({ id, name: id, play: { kind: 'one', sound, from }, ...more });
const written = {
  format: 'tangled-choir-conduct',
  version: 2,
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
    expect(() => readGameData(JSON.stringify({ ...written, version: 1 }), 'a.json')).toThrow('reads version 2');
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
  it('has at most 15 kB, gzipped, and needs nothing else', async () => {
    const { outputFiles, metafile } = await build({
      entryPoints: { player: 'src/index.ts', processor: 'src/conductor.processor.ts' },
      absWorkingDir: `${__dirname}/..`,
      outdir: 'dist',
      write: false,
      bundle: true,
      format: 'esm',
      target: 'es2022',
      minify: true,
      metafile: true,
    });
    const bytes = outputFiles.map(({ contents }) => gzipSync(contents).length);
    expect(bytes.reduce((sum, each) => sum + each, 0)).toBeLessThanOrEqual(15_000);
    // Of core it takes only how a game is conducted and what that is made of: no document, no schema library.
    const foreign = Object.keys(metafile.inputs).filter((path) => !/^src\/|core\/src\/(conduct|dsp|audio|units)/.test(path));
    expect(foreign).toEqual([]);
  });
});
