// The transform of the unit tests: swc, and the language's own globals bound once in each module.
// Jest runs modules in a context whose globals are looked up through an interceptor at every use, which makes
// loops over pixels some fifty times slower than Node does. A constant of the module is not looked up.
import { createHash } from 'node:crypto';
import { createTransformer } from '@swc/jest';

const bound = [
  'Math',
  'Number',
  'Array',
  'Object',
  'String',
  'Map',
  'Set',
  'ArrayBuffer',
  'DataView',
  'BigInt',
  'NaN',
  'Infinity',
  'isNaN',
  'Error',
  ...['Float32', 'Float64', 'Uint8', 'Uint8Clamped', 'Uint16', 'Uint32', 'Int8', 'Int16', 'Int32'].map(
    (t) => `${t}Array`,
  ),
];
const first = `const { ${bound.join(', ')} } = globalThis;`;

const swc = createTransformer({
  jsc: {
    target: 'es2022',
    parser: { syntax: 'typescript', tsx: true },
    transform: { react: { runtime: 'automatic' } },
  },
});

/** On the first line, so that places in errors stay. */
const withGlobals = ({ code, map }) => ({ code: first + code, map });

export default {
  ...swc,
  process: (...args) => withGlobals(swc.process(...args)),
  processAsync: async (...args) => withGlobals(await swc.processAsync(...args)),
  getCacheKey: (...args) =>
    createHash('sha256')
      .update(swc.getCacheKey(...args))
      .update(first)
      .digest('hex'),
};
