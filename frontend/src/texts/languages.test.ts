import { expect, test } from 'vitest';

import { languageFor } from '.';
import { localeFor } from './locale';

test.each([
  [['de-AT', 'en'], ['de'], 'de'],
  [['pt-BR'], ['pt', 'pt-BR'], 'pt-BR'],
  [['fr', 'de'], ['de'], 'de'],
  [['en-GB', 'de'], ['de'], 'en'],
  [['fr'], [], 'en'],
])('for %s, of %s besides English, it is %s', (wanted, there, language) => {
  expect(languageFor(wanted, there)).toBe(language);
});

test.each([
  ['en', ['en-GB', 'en'], 'en-GB'],
  ['en', ['de-DE', 'en-US', 'en'], 'en-US'],
  ['en', ['fr'], 'en'],
  ['de', ['en', 'de-AT'], 'de-AT'],
  ['pt-BR', ['pt-PT', 'pt-BR'], 'pt-BR'],
])('beside texts in %s, of %s, numbers are written as in %s', (language, wanted, locale) => {
  expect(localeFor(language, wanted)).toBe(locale);
});

test('what stands in braces is filled', () => {
  // A literal in braces becomes a field of the text that nothing fills: it has to be a value.
  const sources = import.meta.glob<string>('../**/*.{ts,tsx}', {
    query: '?raw',
    import: 'default',
    eager: true,
  });
  expect(Object.keys(sources).length).toBeGreaterThan(50);
  const within = /\{'\{|\bt`[^`]*(?<!\$)\{[a-z]/;
  const literal = Object.keys(sources).filter(
    (path) => !path.endsWith('.test.ts') && within.test(sources[path]!),
  );
  expect(literal).toEqual([]);
});
