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
