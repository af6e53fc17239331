import { directionOf } from '../../core/locale/tag.js';
import type { DeskData, DeskText } from '../../core/desk/data.js';
import type { Progress } from './work.js';
import { make } from './dom.js';

/** How high a row is, in CSS pixels, and how many are drawn beyond those in view. */
const ROW = 58;
const BEYOND = 8;

/** The state that a row shows. */
export interface RowState {
  readonly progress: Progress;
  readonly said: string;
  readonly isWarned: boolean;
  readonly source: string;
  readonly translation: string;
}

/** The list of texts; of thousands only those in view are in the document. */
export class List {
  private texts: readonly DeskText[] = [];
  private at = -1;

  constructor(
    private readonly box: HTMLElement,
    private readonly data: DeskData,
    private readonly stateOf: (text: DeskText) => RowState,
    private readonly chosen: (text: DeskText, begins: boolean) => void,
  ) {
    box.addEventListener('scroll', () => {
      this.draw();
    });
    new ResizeObserver(() => {
      this.draw();
    }).observe(box);
    box.addEventListener('keydown', (event) => {
      this.pressed(event);
    });
    box.addEventListener('click', (event) => {
      const row = (event.target as Element).closest<HTMLElement>('[data-at]');
      if (row) this.choose(Number(row.dataset.at), true);
    });
  }

  /** Shows these texts, and keeps to the one that was chosen if it is among them. */
  show(texts: readonly DeskText[], chosen: DeskText | undefined): void {
    this.texts = texts;
    this.at = chosen ? texts.indexOf(chosen) : -1;
    this.scrollTo();
    this.draw();
  }

  get length(): number {
    return this.texts.length;
  }

  /** The next text behind the chosen one of which something holds, from the beginning again. */
  next(holds: (text: DeskText) => boolean): DeskText | undefined {
    const { texts, at } = this;
    return [...texts.slice(at + 1), ...texts.slice(0, at + 1)].find(holds);
  }

  select(text: DeskText): void {
    this.at = this.texts.indexOf(text);
    this.scrollTo();
    this.draw();
  }

  private choose(at: number, begins: boolean): void {
    const text = this.texts[at];
    if (!text) return;
    this.at = at;
    this.scrollTo();
    this.draw();
    this.chosen(text, begins);
  }

  private pressed(event: KeyboardEvent): void {
    const page = Math.max(1, Math.floor(this.box.clientHeight / ROW) - 1);
    const last = this.texts.length - 1;
    const steps: Readonly<Record<string, number>> = {
      ArrowDown: this.at + 1,
      ArrowUp: this.at - 1,
      PageDown: this.at + page,
      PageUp: this.at - page,
      Home: 0,
      End: last,
    };
    if (event.key === 'Enter') this.choose(Math.max(this.at, 0), true);
    else if (Object.hasOwn(steps, event.key))
      this.choose(Math.min(Math.max(steps[event.key] ?? 0, 0), last), false);
    else return;
    event.preventDefault();
  }

  private scrollTo(): void {
    const { box, at } = this;
    if (at < 0) return;
    if (at * ROW < box.scrollTop) box.scrollTop = at * ROW;
    const below = (at + 1) * ROW - box.clientHeight;
    if (below > box.scrollTop) box.scrollTop = below;
  }

  draw(): void {
    const { box, texts, at } = this;
    const from = Math.max(0, Math.floor(box.scrollTop / ROW) - BEYOND);
    const to = Math.min(texts.length, Math.ceil((box.scrollTop + box.clientHeight) / ROW) + BEYOND);
    const rows = texts.slice(from, to).map((text, nth) => this.row(text, from + nth));
    const space = make('div', { class: 'space', style: `height:${texts.length * ROW}px` }, ...rows);
    const { scrollTop } = box;
    box.replaceChildren(space);
    box.scrollTop = scrollTop;
    if (at >= from && at < to) box.setAttribute('aria-activedescendant', `row${at}`);
    else box.removeAttribute('aria-activedescendant');
  }

  private row(text: DeskText, at: number): HTMLElement {
    const { progress, said, isWarned, source, translation } = this.stateOf(text);
    const { original, locale } = this.data;
    const second = translation === '' ? said : translation;
    const isTarget = translation !== '';
    return make(
      'div',
      {
        id: `row${at}`,
        role: 'option',
        class: `text ${progress}${isWarned ? ' warned' : ''}`,
        'data-at': String(at),
        'aria-selected': String(at === this.at),
        'aria-setsize': String(this.texts.length),
        'aria-posinset': String(at + 1),
        style: `top:${at * ROW}px`,
      },
      make('span', { class: 'mark', title: said, 'aria-label': said, role: 'img' }),
      make('span', { class: 'source', lang: original, dir: 'auto' }, source),
      make(
        'span',
        isTarget
          ? { class: 'target', lang: locale, dir: directionOf(locale) }
          : { class: 'target hint' },
        second,
      ),
    );
  }
}
