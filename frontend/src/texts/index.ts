/**
 * The page's language. Texts stand in the sources in English; `npm run texts` gathers them in
 * `texts/en/page.po`. A translation is another folder beside `en`, named by its language, and is
 * taken where the browser asks for that.
 */
import { i18n, type Messages } from '@lingui/core';

const CATALOGUES = import.meta.glob<{ messages: Messages }>('../../../texts/*/page.po');

/**
 * The best language for a person who reads `wanted`, the best first, of those there are besides
 * English.
 */
export function languageFor(wanted: readonly string[], there: readonly string[]): string {
  for (const tag of wanted) {
    const locale = [tag, tag.split('-')[0]!].find(
      (language) => language === 'en' || there.includes(language),
    );
    if (locale) return locale;
  }
  return 'en';
}

/**
 * To be awaited before anything else of the page is loaded: many texts are made when their module
 * is.
 */
export async function speak(wanted: readonly string[]): Promise<void> {
  const there = Object.keys(CATALOGUES).map((path) => path.split('/').at(-2)!);
  const language = languageFor(wanted, there);
  const { messages } = await CATALOGUES[`../../../texts/${language}/page.po`]!();
  i18n.loadAndActivate({ locale: language, messages });
  document.documentElement.lang = language;
}
