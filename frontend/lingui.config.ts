import { defineConfig } from '@lingui/cli';
import { formatter } from '@lingui/format-po';

/**
 * Every text of the page is gathered in texts/en/page.po; a translation is another folder beside
 * `en`.
 */
export default defineConfig({
  sourceLocale: 'en',
  locales: ['en', 'de'],
  catalogs: [{ path: '../texts/{locale}/page', include: ['src'], exclude: ['**/*.test.*'] }],
  format: formatter({ lineNumbers: false }),
});
