/**
 * The proof gallery: a page that opens from a folder, without a server, and writes a small file for
 * the photographer.
 */
import { i18n } from '@lingui/core';
import { t } from '@lingui/core/macro';
import { compileMessage } from '@lingui/message-utils/compileMessage';

import {
  asFile,
  commented,
  countInWords,
  fileName,
  flipped,
  restored,
  type Answer,
  type Proof,
} from './answer';
import './gallery.css';

// A gallery has no catalogue: it speaks English, from the texts in its own code.
i18n.setMessagesCompiler(compileMessage);
i18n.loadAndActivate({ locale: 'en', messages: {} });

type Show = 'all' | 'chosen' | 'comments';

const proof = JSON.parse(document.getElementById('proof')!.textContent) as Proof;
const KEPT = `proof-${proof.token}`;
let answer: Answer = restored(remembered(KEPT), proof);
let show: Show = 'all';
let at: number | null = null;

function remembered(name: string): string | null {
  try {
    return localStorage.getItem(name);
  } catch {
    return null; // some browsers keep nothing for files
  }
}

function remember(name: string, value: string): void {
  try {
    localStorage.setItem(name, value);
  } catch {
    // Then the answer lasts as long as the page.
  }
}

function element<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  attributes: Record<string, string> = {},
  ...children: (Node | string)[]
): HTMLElementTagNameMap[K] {
  const made = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  made.append(...children);
  return made;
}

function button(words: string, attributes: Record<string, string>, act: () => void) {
  const made = element('button', { type: 'button', ...attributes }, words);
  made.addEventListener('click', act);
  return made;
}

const picture = (folder: string, number: number) =>
  `${folder}/${String(number).padStart(4, '0')}.jpg`;
const labelOf = (frame: Proof['frames'][number]) =>
  frame.name ? `${frame.number}  ${frame.name}` : String(frame.number);

function change(next: Answer): void {
  answer = next;
  remember(KEPT, JSON.stringify(answer));
  draw();
}

// --- the sheet --------------------------------------------------------------------------------

const count = element('strong', { role: 'status', id: 'count' });
const shows = (['all', 'chosen', 'comments'] as const).map((choice) =>
  button({ all: t`All`, chosen: t`Chosen`, comments: t`With comment` }[choice], {}, () => {
    show = choice;
    draw();
  }),
);
const cells = new Map(
  proof.frames.map((frame) => {
    const ratio = frame.width / frame.height;
    const open = button('', { class: 'open', 'aria-label': t`Open ${labelOf(frame)}` }, () =>
      openAt(frame.number),
    );
    open.append(
      element('img', {
        src: picture('small', frame.number),
        alt: '',
        loading: 'lazy',
        width: String(frame.width),
        height: String(frame.height),
      }),
    );
    const choose = button('', { class: 'choose' }, () => change(flipped(answer, frame.number)));
    const comment = element('p', { class: 'comment' });
    const cell = element(
      'li',
      { style: `--ratio: ${ratio.toFixed(4)}`, 'data-number': String(frame.number) },
      open,
      element('div', { class: 'words' }, element('span', {}, labelOf(frame)), choose),
      comment,
    );
    return [frame.number, { cell, choose, comment }] as const;
  }),
);
const empty = element('p', { class: 'empty' });
const sheet = element(
  'ul',
  { class: 'sheet' },
  ...[...cells.values()].map((cell) => cell.cell),
  element('li', { class: 'rest', 'aria-hidden': 'true' }),
);

function visible(): number[] {
  return proof.frames
    .map((frame) => frame.number)
    .filter(
      (number) =>
        show === 'all' ||
        (show === 'chosen' ? answer.picks.includes(number) : String(number) in answer.comments),
    );
}

function say(choose: HTMLButtonElement, chosen: boolean, name: string): void {
  choose.textContent = chosen ? t`✓ Chosen` : t`Choose`;
  choose.setAttribute('aria-pressed', String(chosen));
  choose.setAttribute('aria-label', `${choose.textContent} ${name}`);
}

function draw(): void {
  count.textContent = countInWords(answer, proof.wanted);
  shows.forEach((choice, n) =>
    choice.setAttribute(
      'aria-pressed',
      String((['all', 'chosen', 'comments'] as const)[n] === show),
    ),
  );
  const shown = new Set(visible());
  for (const frame of proof.frames) {
    const { cell, choose, comment } = cells.get(frame.number)!;
    const chosen = answer.picks.includes(frame.number);
    cell.hidden = !shown.has(frame.number);
    cell.classList.toggle('chosen', chosen);
    say(choose, chosen, labelOf(frame));
    comment.textContent = answer.comments[frame.number] ?? '';
  }
  empty.hidden = shown.size > 0;
  empty.textContent =
    show === 'chosen'
      ? t`Nothing is chosen yet. Open a picture, or press “Choose” under it.`
      : t`There is no comment yet. Open a picture to write one.`;
  drawLarge();
}

// --- one picture, large -----------------------------------------------------------------------

const large = element('img', { alt: '', id: 'large' });
const where = element('span', { id: 'where' });
const chooseLarge = button('', { class: 'choose' }, () => {
  if (at !== null) change(flipped(answer, at));
});
const comment = element('textarea', {
  rows: '2',
  maxlength: '2000',
  placeholder: t`A comment on this picture …`,
  'aria-label': t`Comment`,
});
comment.addEventListener('input', () => {
  if (at !== null) change(commented(answer, at, comment.value));
});
const viewer = element(
  'dialog',
  { id: 'viewer', 'aria-label': t`Picture` },
  element('div', { class: 'stage' }, large),
  element(
    'div',
    { class: 'bar' },
    button('←', { 'aria-label': t`Previous picture` }, () => step(-1)),
    button('→', { 'aria-label': t`Next picture` }, () => step(1)),
    where,
    chooseLarge,
    comment,
    button(t`Close`, {}, () => viewer.close()),
  ),
  element('p', { class: 'keys' }, t`← → move   ·   Space choose   ·   C comment   ·   Esc close`),
);
viewer.addEventListener('close', () => {
  const last = at;
  at = null;
  if (last !== null) cells.get(last)?.cell.querySelector<HTMLElement>('.open')?.focus();
});

function openAt(number: number): void {
  at = number;
  drawLarge();
  if (!viewer.open) viewer.showModal();
  viewer.focus();
}

function step(by: number): void {
  const order = visible();
  const now = at === null ? -1 : order.indexOf(at);
  const next = order[Math.min(order.length - 1, Math.max(0, now + by))];
  if (next !== undefined) openAt(next);
}

function drawLarge(): void {
  if (at === null) return;
  const frame = proof.frames.find((frame) => frame.number === at)!;
  const source = picture('large', at);
  if (large.getAttribute('src') !== source) {
    large.src = source;
    large.alt = labelOf(frame);
    const order = visible();
    const next = order[order.indexOf(at) + 1];
    if (next !== undefined) new Image().src = picture('large', next);
  }
  where.textContent = [t`${frame.number} of ${proof.frames.length}`, frame.name].join('  ');
  say(chooseLarge, answer.picks.includes(at), labelOf(frame));
  const said = answer.comments[at] ?? '';
  if (comment.value !== said) comment.value = said;
}

document.addEventListener('keydown', (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || saving.open) return;
  const typing = event.target instanceof HTMLTextAreaElement;
  if (typing) {
    // Back from the comment to the picture; the next Esc closes that.
    if (event.key === 'Escape') {
      event.preventDefault();
      viewer.focus();
    }
    return;
  }
  if (!viewer.open) return;
  const acts: Record<string, () => void> = {
    ArrowLeft: () => step(-1),
    ArrowRight: () => step(1),
    Home: () => openAt(visible()[0] ?? at!),
    End: () => openAt(visible().at(-1) ?? at!),
    ' ': () => change(flipped(answer, at!)),
    c: () => comment.focus(),
  };
  const act = acts[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  if (!act) return;
  if (event.key === ' ' && event.target instanceof HTMLButtonElement) return;
  event.preventDefault();
  act();
});

// --- the answer -------------------------------------------------------------------------------

const client = element('input', { type: 'text', maxlength: '100', autocomplete: 'name' });
const note = element('textarea', { rows: '3', maxlength: '5000' });
const saving = element(
  'dialog',
  { id: 'saving', 'aria-labelledby': 'saving-title' },
  element('h2', { id: 'saving-title' }, t`Save my answer`),
  element('p', {}, t`A small file is saved on this device. Send it to your photographer.`),
  element('label', {}, t`Your name `, client),
  element('label', {}, t`A note, if you like `, note),
  element(
    'div',
    { class: 'bar' },
    button(t`Save the file`, { class: 'main' }, save),
    button(t`Back`, {}, () => saving.close()),
  ),
);

function save(): void {
  change({ ...answer, client: client.value, note: note.value });
  const url = URL.createObjectURL(new Blob([asFile(proof, answer)], { type: 'application/json' }));
  element('a', { href: url, download: fileName(proof, answer) }).click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
  saving.close();
  thanks.textContent = t`Saved as “${fileName(proof, answer)}”. Send this file to your photographer.`;
}

const thanks = element('p', { role: 'status', id: 'thanks' });

// --- light and dark ---------------------------------------------------------------------------

const dark = matchMedia('(prefers-color-scheme: dark)');
const theme = button('', { id: 'theme' }, () => {
  setTheme(document.documentElement.dataset.theme === 'dark' ? 'light' : 'dark');
});

function setTheme(name: string, kept = true): void {
  document.documentElement.dataset.theme = name;
  theme.textContent = name === 'dark' ? t`Light` : t`Dark`;
  if (kept) remember('proof-theme', name);
}

setTheme(remembered('proof-theme') ?? (dark.matches ? 'dark' : 'light'), false);

document.getElementById('page')!.replaceChildren(
  element(
    'header',
    {},
    element('h1', {}, proof.title),
    count,
    element('div', { class: 'shows', role: 'group', 'aria-label': t`Show` }, ...shows),
    theme,
    button('Save my answer', { class: 'main' }, () => {
      client.value = answer.client;
      note.value = answer.note;
      saving.showModal();
    }),
  ),
  element(
    'main',
    {},
    ...(proof.greeting ? [element('p', { class: 'greeting' }, proof.greeting)] : []),
    thanks,
    empty,
    sheet,
  ),
  viewer,
  saving,
);
draw();
