/** What an import of WebAssembly is in Jest: the bytes of the file, as bundlers put them there. */
const { readFileSync } = require('node:fs');

module.exports = {
  process: (_text, file) => ({
    code: `module.exports = { __esModule: true, default: Uint8Array.from(Buffer.from('${readFileSync(file).toString('base64')}', 'base64')) };`,
  }),
};
