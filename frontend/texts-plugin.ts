import { transformAsync } from '@babel/core';
import type { Plugin } from 'vite';

/**
 * Turns the texts in the sources (t`…`, <Trans>…</Trans>, plural) into lookups. English stays in
 * the code, so that a page without any catalogue, like the proof gallery, still speaks.
 */
export function texts(): Plugin {
  return {
    name: 'winnow-texts',
    enforce: 'pre',
    transform: {
      filter: { id: /\/src\/.*\.tsx?$/, code: /@lingui\/(core|react)\/macro/ },
      async handler(code, id) {
        const done = await transformAsync(code, {
          filename: id,
          babelrc: false,
          configFile: false,
          sourceMaps: true,
          parserOpts: { plugins: id.endsWith('x') ? ['typescript', 'jsx'] : ['typescript'] },
          plugins: [['@lingui/babel-plugin-lingui-macro', { stripMessageField: false }]],
        });
        return done?.code ? { code: done.code, map: JSON.stringify(done.map) } : null;
      },
    },
  };
}
