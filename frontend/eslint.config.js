import js from '@eslint/js';
import { defineConfig } from 'eslint/config';
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript';
import { importX } from 'eslint-plugin-import-x';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

/** What lies above each folder: imports point down, from views to what they are made of. */
const ABOVE = {
  api: ['state', 'commands', 'parts', 'views', 'gallery'],
  texts: ['state', 'commands', 'parts', 'views', 'gallery'],
  state: ['commands', 'parts', 'views', 'gallery'],
  commands: ['parts', 'views', 'gallery'],
  parts: ['views', 'gallery'],
};

export default defineConfig(
  { ignores: ['src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.strictTypeChecked,
  hooks.configs.flat.recommended,
  {
    plugins: { 'import-x': importX },
    settings: { 'import-x/resolver-next': [createTypeScriptImportResolver()] },
    languageOptions: { parserOptions: { project: './tsconfig.json' } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      'import-x/no-restricted-paths': [
        'error',
        {
          zones: Object.entries(ABOVE).map(([below, above]) => ({
            target: `./src/${below}`,
            from: above.map((one) => `./src/${one}`),
            message: 'Imports point down: see CONTRIBUTING.md.',
          })),
        },
      ],
    },
  },
);
