/// <reference lib="dom" />
/// <reference lib="dom.iterable" />

/** An element of the page. */
export function element(id: string): HTMLElement {
  const found = document.getElementById(id);
  if (!found) throw new Error(`no ${id}`);
  return found;
}

type Children = readonly (Node | string | undefined)[];

/** A new element. */
export function make(
  tag: string,
  attributes: Readonly<Record<string, string>> = {},
  ...children: Children
): HTMLElement {
  const made = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  made.append(...children.filter((one) => one !== undefined));
  return made;
}

/** A button that does something. */
export function button(text: string, does: () => void, title?: string): HTMLElement {
  const made = make('button', { type: 'button', ...(title ? { title } : {}) }, text);
  made.addEventListener('click', does);
  return made;
}
