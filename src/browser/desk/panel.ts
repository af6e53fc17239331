import { diffWordsWithSpace } from 'diff';
import type { DeskText } from '../../core/desk/data.js';
import type { Look } from '../../core/desk/desk.js';
import {
  chipFor,
  chipsOf,
  HASH,
  hasGaps,
  inShort,
  isBlank,
  lineOf,
  textOf,
  type Chip,
  type Choice,
  type ChoiceRow,
  type Line,
} from '../../core/desk/parts.js';
import { WORDS_OF_FINDINGS, type DeskWord } from '../../core/desk/words.js';
import { directionOf, type Locale } from '../../core/locale/tag.js';
import { readMessage } from '../../core/message/parse.js';
import { Phrase } from '../../core/texts/phrase.js';
import { toldTerm } from '../../core/texts/terms.js';
import { button, element, make } from './dom.js';
import { chipElement, LineView, nameOf, numbersSaid } from './line-view.js';
import { data, desk, inflectionOf, lineOfText, numberSaid, say, warned, work } from './state.js';

/** How long the keys rest before a text is looked at, in milliseconds. */
const REST = 120;

/** The page's actions around the text in hand. */
export interface Steps {
  readonly changed: () => void;
  readonly looked: () => void;
  readonly next: () => void;
  readonly back: () => void;
}

/** Findings that need no further words; the others name the word or sign that is meant. */
const SAY_ENOUGH: ReadonlySet<DeskWord> = new Set<DeskWord>(['gap', 'extra', 'same', 'term']);

const REFUSED = { lost: 'lost', long: 'long', broken: 'other', gender: 'gender' } as const;

const panel = element('panel');
let steps: Steps | undefined;
let chosen: DeskText | undefined;
let look: Look | undefined;
let lines: LineView[] = [];
let active: LineView | undefined;
let resting: ReturnType<typeof setTimeout> | undefined;

/** Says what happens around the panel. */
export function connect(around: Steps): void {
  steps = around;
}

/** The text in hand. */
export const inHand = (): DeskText | undefined => chosen;

/** Lets the keys go to the text in hand. */
export function focusText(): void {
  lines[0]?.focus();
}

/** Parses pasted text: a message with its chips, else words. */
function pasted(text: string): Line {
  try {
    const tree = readMessage(text);
    const names = new Set(chosen ? desk.offers(chosen) : []);
    const isKnown = tree.every((node) => !('name' in node) || names.has(node.name));
    if (isKnown && tree.some(({ kind }) => kind !== 'text')) return lineOf(tree, data.locale);
  } catch {
    // What is not a message is words.
  }
  return [text];
}

const chips = new Map<string, Chip>();

function captionOf(choice: Choice, row: ChoiceRow, locale: Locale): string {
  if (row.exactly !== undefined) return numberSaid(row.exactly);
  const numbers = numbersSaid(locale, choice, row);
  if (numbers !== '') return numbers;
  return row.selector === 'other' ? say('others') : row.selector;
}

const newLine = (text: string): LineView =>
  new LineView(
    lineOfText(text, data.locale),
    {
      locale: data.locale,
      label: say('translation'),
      chips,
      caption: (choice, row) => captionOf(choice, row, data.locale),
      pasted,
      changed: () => {
        typed();
      },
      focused: (view) => {
        active = view;
        drawOffers();
      },
      braced: () => {
        element('offers').querySelector('button')?.focus();
      },
    },
    say('translation'),
  );

function typed(): void {
  if (!chosen || !lines[0]) return;
  const text = textOf(lines[0].value);
  work.set(chosen, { ...work.of(chosen.key), text });
  clearTimeout(resting);
  resting = setTimeout(looked, REST);
  steps?.changed();
}

/** Looks at the text in hand, and shows what becomes of it. */
function looked(): void {
  if (!chosen) return;
  look = desk.look(chosen.key, work.textOf(chosen), work.typed());
  note(chosen, look);
  drawLook();
  steps?.looked();
}

/** Notes whether something is against a text. */
export const note = (text: DeskText, { refusal, findings }: Look): void => {
  if (refusal || findings.length > 0 || lacksNumbers(text)) warned.add(text.key);
  else warned.delete(text.key);
};

/** Whether somebody began to say something otherwise for some numbers, and not for all. */
const lacksNumbers = (text: DeskText): boolean =>
  text === chosen
    ? lines.some(({ value }) => hasGaps(value))
    : hasGaps(lineOfText(work.textOf(text), data.locale));

function flawsOf({ refusal, findings }: Look): HTMLElement[] {
  const own = [];
  const isGap = findings.some(({ kind }) => kind === 'plural-gap');
  if (!isGap && chosen && lacksNumbers(chosen)) own.push(say('gap'));
  if (refusal?.kind === 'lost')
    own.push(say('lost', { names: refusal.names.map((name) => `{${name}}`).join(', ') }));
  else if (refusal) own.push(say(REFUSED[refusal.kind]));
  const others = findings.flatMap(({ kind, message }) => {
    const isTold =
      (kind === 'argument-mismatch' && refusal?.kind === 'lost') ||
      (kind === 'too-long' && refusal?.kind === 'long');
    if (isTold) return [];
    const word = WORDS_OF_FINDINGS.get(kind) ?? 'other';
    const more = SAY_ENOUGH.has(word)
      ? undefined
      : make('small', { lang: 'en', dir: 'ltr' }, message);
    return [make('li', {}, say(word), more)];
  });
  return [...own.map((text) => make('li', {}, text)), ...others];
}

function drawLook(): void {
  if (!look) return;
  const flaws = flawsOf(look);
  const list = element('flaws');
  // Screen readers announce it once, not with every key.
  if (list.textContent !== flaws.map(({ textContent }) => textContent).join(''))
    list.replaceChildren(...flaws);
  list.hidden = flaws.length === 0;
  element('reads').replaceChildren(
    ...look.sentences.map(({ text, form, path }) =>
      make(
        'li',
        {},
        make('span', { lang: data.locale, dir: directionOf(data.locale) }, text),
        path === undefined ? undefined : make('small', { dir: 'ltr' }, `${form ?? ''} ${path}`),
      ),
    ),
  );
  element('reads-head').hidden = look.sentences.length === 0;
  const room = chosen?.room;
  const length = [...new Intl.Segmenter().segment(look.sentences[0]?.text ?? '')].length;
  element('room').textContent =
    room === undefined ? '' : `${numberSaid(length)} / ${numberSaid(room)}`;
}

/** The chips that can stand where the caret is: those of the original first. */
function drawOffers(): void {
  const offers = element('offers');
  if (!chosen) return;
  const tree = new Phrase(chosen.source, { file: '', locale: data.original }).tree;
  const own = chosen.isInflection ? [] : chipsOf(tree, data.locale);
  const known = new Set(own.map(nameOf));
  const more = desk
    .offers(chosen)
    .filter((name) => !known.has(name))
    .map(chipFor);
  const buttons = (some: readonly Chip[]): HTMLElement[] =>
    some.map((chip) => {
      const made = button('', () => active?.insert([chip]));
      made.append(chipElement(chip, chips));
      made.setAttribute('aria-label', `${say('insert')}: ${nameOf(chip)}`);
      made.addEventListener('mousedown', (event) => {
        event.preventDefault();
      });
      return made;
    });
  offers.replaceChildren(
    make('span', {}, say('insert')),
    ...buttons([...(active?.plural ? [HASH] : []), ...own]),
  );
  if (more.length > 0)
    offers.append(make('details', {}, make('summary', {}, say('more')), ...buttons(more)));
  offers.hidden = own.length + more.length === 0;
}

const briefly = (before: string, now: string): [string, string] => [
  inShort(lineOfText(before, data.original)),
  inShort(lineOfText(now, data.original)),
];

function changesIn(before: string, now: string): HTMLElement[] {
  return diffWordsWithSpace(before, now).map(({ value, added, removed }) =>
    make(added ? 'ins' : removed ? 'del' : 'span', {}, value),
  );
}

/** A text with its arguments as chips, to be read, and what it chooses from in rows below. */
function shown(line: Line, lang: Locale): Node[] {
  const said = line.map((part) =>
    typeof part === 'string' ? document.createTextNode(part) : chipElement(part, new Map()),
  );
  const choices = line.flatMap((part) =>
    typeof part === 'string' || part.kind === 'value' ? [] : [part],
  );
  const rows = choices.map((choice) =>
    make(
      'div',
      { class: 'choices' },
      ...choice.rows
        .filter((row) => !isBlank(row.line))
        .map((row) =>
          make(
            'div',
            { class: 'row' },
            make('span', { class: 'caption' }, captionOf(choice, row, lang)),
            make('div', { lang, dir: 'auto' }, ...shown(row.line, lang)),
          ),
        ),
    ),
  );
  return [...said, ...rows];
}

/** Takes a text in hand. */
export function choose(text: DeskText): void {
  if (chosen !== text) desk.forget();
  chosen = text;
  chips.clear();
  lines = [newLine(work.textOf(text))];
  [active] = lines;
  draw();
  looked();
}

function draw(): void {
  const text = chosen;
  const [line] = lines;
  if (!text || !line) return;
  const { source, before, about, terms = [], address } = text;
  const question = make('textarea', { rows: '2', dir: 'auto', id: 'question' });
  (question as HTMLTextAreaElement).value = work.of(text.key)?.note ?? '';
  question.addEventListener('input', () => {
    work.set(text, { ...work.of(text.key), note: (question as HTMLTextAreaElement).value.trim() });
    steps?.changed();
  });
  const where = [address.form, address.path, address.kind, address.key].filter(Boolean).join(' · ');
  const isOpen = work.progressOf(text) === 'stale' || work.progressOf(text) === 'draft';
  panel.replaceChildren(
    ...[
      make('p', { class: 'where', dir: 'ltr' }, where),
      make('h2', {}, say('original')),
      make(
        'div',
        { class: 'original', lang: data.original, dir: 'auto' },
        ...shown(lineOfText(source, data.original), data.original),
        inflectionOf(text),
      ),
      before === undefined ? undefined : make('h2', {}, say('before')),
      before === undefined
        ? undefined
        : make(
            'p',
            { class: 'before', lang: data.original },
            ...changesIn(...briefly(before, source)),
          ),
      text.note === undefined ? undefined : make('p', { class: 'note', dir: 'auto' }, text.note),
      make('h2', {}, say('translation')),
      line.root,
      make('div', { id: 'offers' }),
      make(
        'p',
        { class: 'does' },
        text.isInflection
          ? undefined
          : button(say('copy'), () => {
              line.replace(lineOfText(source, data.locale));
              line.focus();
            }),
        isOpen
          ? button(say('right'), () => {
              work.set(text, { ...work.of(text.key), isRight: true });
              steps?.next();
            })
          : undefined,
        button(say('undo'), () => {
          work.set(text, {});
          choose(text);
          steps?.changed();
          line.focus();
        }),
        make('span', { id: 'room' }),
      ),
      make('ul', { id: 'flaws', role: 'status', 'aria-live': 'polite' }),
      make('h2', { id: 'reads-head' }, say('reads')),
      make('ul', { id: 'reads' }),
      terms.length === 0 ? undefined : make('h2', {}, say('terms')),
      terms.length === 0
        ? undefined
        : make(
            'ul',
            { class: 'terms' },
            ...terms.map((term) =>
              make(
                'li',
                {},
                make('b', { dir: 'auto' }, toldTerm({ ...term, never: [] })),
                ...term.never.map((word) => make('del', { dir: 'auto' }, ` ✗ ${word}`)),
                term.note === undefined ? undefined : make('small', { dir: 'auto' }, term.note),
              ),
            ),
          ),
      make('label', { for: 'question' }, say('question')),
      question,
      about === undefined
        ? undefined
        : make(
            'details',
            { open: '', class: 'about' },
            make('summary', {}, say('about')),
            ...about.split('\n').map((one) => make('p', { lang: 'en', dir: 'ltr' }, one)),
          ),
      make(
        'p',
        { class: 'does ahead' },
        button(say('back'), () => steps?.back()),
        button(say('next'), () => steps?.next()),
      ),
    ].filter((one) => one !== undefined),
  );
  panel.scrollTop = 0;
  drawOffers();
}
