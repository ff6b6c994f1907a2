/**
 * How numbers and dates are written beside texts of this language: as in the country that a person
 * reads it in, by what the browser asks for (`wanted`). In another language than the texts', one
 * page would write a thousand in two ways.
 */
export function localeFor(language: string, wanted: readonly string[]): string {
  return wanted.find((tag) => tag === language || tag.startsWith(`${language}-`)) ?? language;
}
