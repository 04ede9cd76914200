// Links what Angular's packages declare, once for all specs. Unlinked, each spec file would compile their components
// again when it loads them: a sixth of its time.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);
const { version } = JSON.parse(readFileSync(require.resolve('@angular/compiler-cli/package.json'), 'utf8'));

/** Linked with their scopes, since the specs' own components are compiled as they are loaded. */
const OPTIONS = { linkerJitMode: true, sourceMapping: false };

async function linked(source, path) {
  // Only when it is needed: once linked, Jest has it in its cache.
  const [{ transformAsync }, { default: linker }] = await Promise.all([
    import('@babel/core'),
    import('@angular/compiler-cli/linker/babel'),
  ]);
  return transformAsync(source, {
    filename: path,
    plugins: [[linker, OPTIONS]],
    configFile: false,
    babelrc: false,
    compact: false,
  });
}

export default {
  getCacheKey: (source) =>
    createHash('sha256')
      .update(`${version} ${JSON.stringify(OPTIONS)}`)
      .update(source)
      .digest('hex'),
  processAsync: async (source, path) =>
    source.includes('ɵɵngDeclare') ? linked(source, path) : { code: source },
};
