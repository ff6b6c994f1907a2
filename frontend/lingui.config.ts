import { defineConfig } from '@lingui/cli';
import { formatter } from '@lingui/format-po';

/** Every text of the page is gathered in src/texts/en.po; a translation is another file beside it. */
export default defineConfig({
  sourceLocale: 'en',
  locales: ['en'],
  catalogs: [{ path: 'src/texts/{locale}', include: ['src'], exclude: ['**/*.test.*'] }],
  format: formatter({ lineNumbers: false }),
});
