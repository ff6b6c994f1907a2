import { expect, test } from 'vitest';

import { languageFor } from '.';

test.each([
  [['de-AT', 'en'], ['de'], 'de'],
  [['pt-BR'], ['pt', 'pt-BR'], 'pt-BR'],
  [['fr', 'de'], ['de'], 'de'],
  [['en-GB', 'de'], ['de'], 'en'],
  [['fr'], [], 'en'],
])('for %s, of %s besides English, it is %s', (wanted, there, language) => {
  expect(languageFor(wanted, there)).toBe(language);
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
