import type { Locale } from '../../core/locale/tag.js';
import { directionOf } from '../../core/locale/tag.js';
import {
  numbersOf,
  textOf,
  type Chip,
  type Choice,
  type ChoiceRow,
  type Line,
} from '../../core/desk/parts.js';
import { make } from './dom.js';

/** Where the caret can stand beside a chip; no text has it. */
const EDGE = '\uFEFF';

/** The context of all lines of one text. */
export interface Around {
  readonly locale: Locale;
  /** The accessible name of a line. */
  readonly label: string;
  readonly chips: Map<string, Chip>;
  /** Returns the caption of a choice's row. */
  readonly caption: (choice: Choice, row: ChoiceRow) => string;
  /** Reads what was pasted: words, and chips where there are such. */
  readonly pasted: (text: string) => Line;
  readonly changed: () => void;
  /** Called with the line that has the focus. */
  readonly focused: (view: LineView) => void;
  /** A brace was typed: chips are chosen, not typed. */
  readonly braced: () => void;
}

/** Returns the name of a chip. */
export const nameOf = (chip: Chip): string => {
  if (chip.kind !== 'value') return chip.name;
  return chip.node.kind === 'hash' ? '#' : chip.node.name;
};

/**
 * Edits as if it were typed: browsers have no other way that keeps their undo.
 */
const command = (name: string, value?: string): void => {
  // eslint-disable-next-line @typescript-eslint/no-deprecated
  document.execCommand(name, false, value);
};

let count = 0;

/** A chip as it stands among words. */
export function chipElement(chip: Chip, chips: Map<string, Chip>): HTMLElement {
  const id = `chip${(count += 1)}`;
  chips.set(id, chip);
  const name = nameOf(chip);
  return make(
    'span',
    {
      class: chip.kind === 'value' ? 'chip' : 'chip choice',
      'data-chip': id,
      contenteditable: 'false',
      role: 'img',
      'aria-label': name,
      dir: 'ltr',
    },
    name,
  );
}

/** A line to type in, with a row below for each case of what is chosen in it. */
export class LineView {
  readonly root = make('div', { class: 'line' });
  private readonly editor: HTMLElement;
  private readonly rows = make('div', { class: 'rows' });
  private line: Line;

  constructor(
    line: Line,
    private readonly around: Around,
    label: string,
    /** The plural around it, whose number it may say. */
    readonly plural?: Choice,
  ) {
    this.line = line;
    this.editor = make('div', {
      class: 'editor',
      contenteditable: 'true',
      role: 'textbox',
      'aria-multiline': 'false',
      'aria-label': label,
      lang: around.locale,
      dir: directionOf(around.locale),
      spellcheck: 'true',
    });
    this.root.append(this.editor, this.rows);
    this.draw();
    this.listen();
  }

  /** The current content. */
  get value(): Line {
    return this.line;
  }

  focus(): void {
    this.editor.focus();
    const selection = getSelection();
    selection?.selectAllChildren(this.editor);
    selection?.collapseToEnd();
  }

  /** Puts other words and chips in place of all. */
  replace(line: Line): void {
    this.line = line;
    this.draw();
    this.around.changed();
  }

  /** Puts words and chips where the caret is. */
  insert(parts: Line): void {
    this.editor.focus();
    const made = make('div');
    made.append(...this.nodesOf(parts));
    command('insertHTML', made.innerHTML);
  }

  private nodesOf(parts: Line): Node[] {
    return parts.flatMap((part): Node[] =>
      typeof part === 'string'
        ? [document.createTextNode(part)]
        : [
            document.createTextNode(EDGE),
            chipElement(part, this.around.chips),
            document.createTextNode(EDGE),
          ],
    );
  }

  private draw(): void {
    this.editor.replaceChildren(...this.nodesOf(this.line));
    this.drawRows();
  }

  private drawRows(): void {
    const choices = this.line.filter(
      (part): part is Choice => typeof part !== 'string' && part.kind !== 'value',
    );
    this.rows.replaceChildren(...choices.map((choice) => this.choice(choice)));
  }

  private choice(choice: Choice): HTMLElement {
    const { around } = this;
    const rows = choice.rows.map((row) => {
      const caption = around.caption(choice, row);
      const view = new LineView(
        row.line,
        {
          ...around,
          changed: () => {
            row.line = view.value;
            around.changed();
          },
        },
        `${choice.name}: ${caption}`,
        choice.kind === 'select' ? this.plural : choice,
      );
      return make('div', { class: 'row' }, make('span', { class: 'caption' }, caption), view.root);
    });
    return make(
      'div',
      { class: 'choices', role: 'group', 'aria-label': choice.name },
      make('b', { dir: 'ltr' }, choice.name),
      ...rows,
    );
  }

  private read(): Line {
    const parts: (string | Chip)[] = [];
    const add = (text: string): void => {
      const last = parts.at(-1);
      if (typeof last === 'string') parts[parts.length - 1] = last + text;
      else if (text !== '') parts.push(text);
    };
    const visit = (node: Node): void => {
      if (node.nodeType === Node.TEXT_NODE) add((node.textContent ?? '').replaceAll(EDGE, ''));
      else if (node instanceof HTMLElement) {
        const chip = this.around.chips.get(node.dataset.chip ?? '');
        if (chip) parts.push(chip);
        else for (const inner of node.childNodes) visit(inner);
      }
    };
    for (const node of this.editor.childNodes) visit(node);
    return parts;
  }

  private listen(): void {
    const { editor, around } = this;
    editor.addEventListener('focus', () => {
      around.focused(this);
    });
    editor.addEventListener('input', () => {
      const before = this.line.filter((part) => typeof part !== 'string');
      this.line = this.read();
      const now = this.line.filter((part) => typeof part !== 'string');
      if (before.length !== now.length || before.some((chip, at) => chip !== now[at]))
        this.drawRows();
      around.changed();
    });
    editor.addEventListener('beforeinput', (event) => {
      const { inputType, data } = event;
      if (data === '{' || data === '}') {
        event.preventDefault();
        around.braced();
      } else if (inputType.startsWith('format') || inputType === 'insertParagraph')
        event.preventDefault();
    });
    editor.addEventListener('copy', (event) => {
      this.copy(event);
    });
    editor.addEventListener('cut', (event) => {
      this.copy(event);
      command('delete');
    });
    const take = (event: Event, from: DataTransfer | null): void => {
      event.preventDefault();
      const text = from?.getData('text/plain') ?? '';
      if (text !== '') this.insert(around.pasted(text.replace(/\s*\n\s*/g, ' ')));
    };
    editor.addEventListener('paste', (event) => {
      take(event, event.clipboardData);
    });
    editor.addEventListener('drop', (event) => {
      take(event, event.dataTransfer);
    });
  }

  /** Copies what is selected as a message has it, so that chips come back as chips. */
  private copy(event: ClipboardEvent): void {
    const range = getSelection()?.getRangeAt(0);
    if (!range) return;
    const held = make('div');
    held.append(range.cloneContents());
    const parts = [...held.childNodes].map((node): string | Chip => {
      const chip =
        node instanceof HTMLElement ? this.around.chips.get(node.dataset.chip ?? '') : undefined;
      return chip ?? (node.textContent ?? '').replaceAll(EDGE, '');
    });
    event.clipboardData?.setData('text/plain', textOf(parts));
    event.preventDefault();
  }
}

/** Numbers of a row, written as the language writes them. */
export function numbersSaid(locale: Locale, choice: Choice, { selector }: ChoiceRow): string {
  if (choice.kind === 'select') return '';
  const numbers = numbersOf(locale, choice.kind, selector);
  const format = new Intl.NumberFormat(locale);
  const said = numbers.map((one) => format.format(one)).join(', ');
  return numbers.length < 4 ? said : `${said} …`;
}
