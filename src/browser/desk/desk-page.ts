// The script of the page that translators work in: the list of texts, and one of them to type in,
// with what becomes of it.
import type { DeskText } from '../../core/desk/data.js';
import { inShort } from '../../core/desk/parts.js';
import type { DeskWord } from '../../core/desk/words.js';
import { directionOf } from '../../core/locale/tag.js';
import { TranslationFileError } from '../../exchange/translations/unit.js';
import { element, make } from './dom.js';
import { List } from './list.js';
import { choose, connect, focusText, inHand, note } from './panel.js';
import { matches } from './search.js';
import {
  data,
  desk,
  inflectionOf,
  isToDo,
  lineOfText,
  numberSaid,
  say,
  speakIn,
  spoken,
  tongueNow,
  warned,
  work,
} from './state.js';

const box = element('list');
const status = element('status');
const search = element('search') as HTMLInputElement;
const show = element('show') as HTMLSelectElement;

const list = new List(
  box,
  data,
  (text) => {
    const progress = work.progressOf(text);
    return {
      progress,
      said: say(progress),
      isWarned: warned.has(text.key),
      source: inShort(lineOfText(text.source, data.original)) + inflectionOf(text),
      translation: inShort(lineOfText(work.textOf(text), data.locale)),
    };
  },
  (text, begins) => {
    choose(text);
    if (begins) begin();
  },
);

/** Opens the editor of a text on a narrow screen. */
function begin(): void {
  document.body.classList.add('working');
  focusText();
}

function back(): void {
  document.body.classList.remove('working');
  box.focus();
}

const SHOWS: Readonly<Record<string, (text: DeskText) => boolean>> = {
  all: () => true,
  todo: isToDo,
  changed: ({ key }) => work.of(key) !== undefined,
  warned: ({ key }) => warned.has(key),
};

function filter(): void {
  const query = search.value.trim();
  const isShown = SHOWS[show.value] ?? (() => true);
  const texts = data.texts.filter(
    (text) => (isShown(text) || text === inHand()) && matches(text, query),
  );
  list.show(texts, inHand());
  element('nothing').hidden = texts.length > 0;
}

function progress(): void {
  const all = data.texts.length;
  const done = data.texts.filter((text) => !isToDo(text)).length;
  element('progress').textContent = `${numberSaid(done)} / ${numberSaid(all)}`;
  const bar = element('bar') as HTMLProgressElement;
  bar.max = all;
  bar.value = done;
  element('kept').textContent = say(work.isKept ? 'kept' : 'notKept');
  element('kept').className = work.isKept ? '' : 'alarm';
}

function next(): void {
  progress();
  filter();
  const text = list.next((one) => isToDo(one) && one !== inHand());
  if (!text) {
    back();
    return;
  }
  choose(text);
  list.select(text);
  begin();
}

function tell(text: string): void {
  status.textContent = text;
}

function save(): void {
  const name = `${data.name}.${data.locale}.csv`;
  const link = make('a', { download: name }) as HTMLAnchorElement;
  link.href = URL.createObjectURL(new Blob([work.file()], { type: 'text/csv' }));
  link.click();
  URL.revokeObjectURL(link.href);
  work.isSaved = true;
  tell(say('saved', { file: name }));
}

async function open(file: File): Promise<void> {
  try {
    const count = work.take(await file.text());
    tell(say('opened', { count }));
  } catch (error) {
    if (!(error instanceof TranslationFileError)) throw error;
    tell(say('wrongFile', { file: file.name }));
  }
  start();
}

/** Looks at what was done before, a little at a time. */
function lookAtAll(): void {
  const typedBefore = work.typed();
  const rest = [...typedBefore];
  const step = (): void => {
    const until = performance.now() + 30;
    desk.forget();
    while (rest.length > 0 && performance.now() < until) {
      const [key, text] = rest.pop() ?? ['', ''];
      const known = data.texts.find((one) => one.key === key);
      if (known) note(known, desk.look(key, text, new Map()));
    }
    list.draw();
    if (rest.length > 0) setTimeout(step);
  };
  step();
}

/** Writes what the page itself says, in one of its languages. */
function speak(): void {
  const tag = tongueNow();
  document.documentElement.lang = tag;
  document.documentElement.dir = directionOf(tag);
  const name = new Intl.DisplayNames([tag], { type: 'language' }).of(data.locale);
  for (const one of document.querySelectorAll<HTMLElement>('[data-word]'))
    one.textContent = say(one.dataset.word as DeskWord, { language: name ?? data.locale });
  search.placeholder = say('searchFor');
  document.title = say('title', { language: name ?? data.locale });
}

function start(): void {
  progress();
  filter();
  const text = inHand();
  if (text) choose(text);
  lookAtAll();
}

element('save').addEventListener('click', save);
(element('open') as HTMLInputElement).addEventListener('change', ({ target }) => {
  const [file] = (target as HTMLInputElement).files ?? [];
  if (file) void open(file);
});
search.addEventListener('input', filter);
show.addEventListener('change', filter);
const tongues = element('tongue') as HTMLSelectElement;
tongues.hidden = spoken.length < 2;
for (const { tag } of spoken)
  tongues.append(
    make('option', { value: tag }, new Intl.DisplayNames([tag], { type: 'language' }).of(tag)),
  );
tongues.addEventListener('change', () => {
  speakIn(tongues.value);
  speak();
  start();
});
document.addEventListener('keydown', (event) => {
  if (event.key === 'Escape' && document.body.classList.contains('working')) back();
  else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) next();
  else if (event.key === 's' && (event.ctrlKey || event.metaKey)) save();
  else return;
  event.preventDefault();
});
addEventListener('beforeunload', (event) => {
  if (!work.isSaved && !work.isKept) event.preventDefault();
});
connect({
  changed: progress,
  looked: () => {
    list.draw();
  },
  next,
  back,
});
speak();
start();
const first = data.texts.find(isToDo) ?? data.texts[0];
if (first) {
  choose(first);
  list.select(first);
}
