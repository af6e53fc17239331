import type { DeskData } from '../core/desk/data.js';
import type { DeskWords } from '../core/desk/words.js';
import { DESK_STYLE } from './desk-style.js';
import { embedded, inScript, pageOf } from './embedded.js';

/** The texts of a page in one language. */
export interface Tongue {
  readonly tag: string;
  readonly words: DeskWords;
}

/**
 * The page that a translator works in, as one file that asks for nothing else.
 * @param tongues what it says itself, the language of the translator first
 */
export function deskPage(data: DeskData, tongues: readonly Tongue[], script: string): string {
  const option = (value: string): string =>
    `<option value="${value}" data-word="${value}"></option>`;
  const body = `<header>
<h1 data-word="title"></h1>
<p><span id="progress"></span> <progress id="bar"></progress></p>
<p class="does"><button id="save" type="button" data-word="save"></button>
<label class="file"><span data-word="open"></span><input id="open" type="file" accept=".csv,text/csv"></label>
<select id="tongue" aria-label="Language"></select></p>
<p><span id="kept"></span> <span id="status" role="status" aria-live="polite"></span></p>
</header>
<main>
<nav>
<p class="find"><label><span data-word="search"></span><input id="search" type="search" autocomplete="off"></label>
<label><span data-word="show"></span><select id="show">${['all', 'todo', 'changed', 'warned'].map(option).join('')}</select></label></p>
<div id="list" role="listbox" tabindex="0" aria-labelledby="list-name"></div>
<span id="list-name" class="unseen" data-word="original"></span>
<p id="nothing" hidden data-word="nothing"></p>
<p class="keys" data-word="keys"></p>
</nav>
<section id="panel" aria-live="off"></section>
</main>
<noscript><p>This page needs scripts to be allowed for this file.</p></noscript>
<script type="application/json" id="data">${embedded(data)}</script>
<script type="application/json" id="words">${embedded(tongues)}</script>
<script type="module">${inScript(script)}</script>`;
  return pageOf('en', data.locale, DESK_STYLE, body);
}
