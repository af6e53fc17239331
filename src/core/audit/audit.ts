import type { Locale } from '../locale/tag.js';
import { leaksIn } from './leaks.js';
import { readBody, type BodyReading } from './read-body.js';
import { jsonOf, textOf, type Deviation, type DeviationKind, type Recorded } from './recording.js';
import type { LeakFinder } from './strings.js';
import type { Origin, TextMatcher } from './text-matcher.js';

/** The contract that recorded responses are compared with. */
export interface Contract {
  /** The shape that bodies should have, and its media type. */
  readonly shape: string;
  readonly mediaType: string;
  /** Whether a body keeps the contract; a sentence where it does not, nothing where it does. */
  readonly breaks: (body: unknown) => string | undefined;
  readonly statuses: ReadonlyMap<string, number>;
  readonly locales: readonly Locale[];
  readonly texts: TextMatcher;
  readonly leaks: LeakFinder;
  /**
   * How many violations a request has by the rules; undefined where no form is known for it, or its
   * body was not kept.
   */
  readonly expected: (recorded: Recorded) => number | undefined;
}

const quoted = (text: string): string => `"${text.length > 90 ? `${text.slice(0, 89)}…` : text}"`;

const bareType = (type: string): string => (type.split(';')[0] ?? '').trim().toLowerCase();

const isSameTag = (one: string, other: string): boolean =>
  one.toLowerCase() === other.toLowerCase();

/** A text for people, and what is known of it. */
interface Said extends Origin {
  readonly text: string;
}

/** The most deviations of one response. */
const MOST_NOTED = 1000;

class Auditor {
  readonly found: Deviation[] = [];
  private readonly noted = new Set<string>();
  constructor(
    private readonly recorded: Recorded,
    private readonly contract: Contract,
  ) {}

  private note(kind: DeviationKind, message: string): void {
    const key = `${kind} ${message}`;
    if (this.noted.has(key) || this.found.length >= MOST_NOTED) return;
    this.noted.add(key);
    this.found.push({ kind, message });
  }

  run(): void {
    const { body, mediaType } = this.recorded;
    const { mediaType: wanted } = this.contract;
    const json = jsonOf(body);
    for (const { what, shown } of json ? this.contract.leaks.in(json.value) : leaksIn(textOf(body)))
      this.note('leak', `The body shows ${what}: ${quoted(shown)}.`);
    if (mediaType !== undefined && mediaType !== wanted && bareType(mediaType) !== bareType(wanted))
      this.note(
        'other-media-type',
        `The media type is ${bareType(mediaType)}, not ${bareType(wanted)}.`,
      );
    if (!json) {
      const shown = textOf(body).trim().replace(/\s+/g, ' ');
      this.note(
        'other-shape',
        `The body is not JSON, but ${this.contract.shape} is: ${quoted(shown)}.`,
      );
      return;
    }
    const reading = readBody(json.value);
    this.shape(reading, json.value);
    this.status(reading);
    const said = reading.texts.map(({ text, code }): Said => {
      const { locales, path } = this.contract.texts.of(text, code);
      return { text, locales, path };
    });
    this.language(said);
    this.texts(said, reading);
    this.count(reading);
  }

  private shape({ layout }: BodyReading, value: unknown): void {
    const why = this.contract.breaks(value);
    if (why === undefined) return;
    const { shape } = this.contract;
    const message =
      layout === 'unknown'
        ? `The body has none of the known shapes; it should have ${shape}.`
        : layout === shape
          ? `The body has the shape ${shape}, but ${why}.`
          : `The body has the shape ${layout}, not ${shape}.`;
    this.note('other-shape', message);
  }

  private status({ problem, status }: BodyReading): void {
    const sent = this.recorded.status;
    if (sent !== undefined && status !== undefined && sent !== status)
      this.note('other-status', `The status is ${sent}, but the body says ${status}.`);
    const meant = problem === undefined ? undefined : this.contract.statuses.get(problem);
    const given = sent ?? status;
    if (problem !== undefined && meant !== undefined && given !== undefined && given !== meant)
      this.note('other-status', `The problem "${problem}" came with ${given}; it has ${meant}.`);
  }

  private language(said: readonly Said[]): void {
    const { language, mediaType } = this.recorded;
    const { locales: languages } = this.contract;
    // Where no headers were kept at all, none can be missing.
    if (language === undefined) {
      if (mediaType !== undefined && said.length > 0)
        this.note('wrong-language', 'Content-Language is missing.');
      return;
    }
    const spoken =
      languages.find((one) => one === language) ??
      languages.find((one) => isSameTag(one, language.trim()));
    if (spoken === undefined) {
      this.note(
        'wrong-language',
        `Content-Language is ${language}, which is not a locale of the workspace (${languages.join(', ')}).`,
      );
      return;
    }
    for (const { text, locales: found } of said) {
      if (
        found.size === 0 ||
        found.has(spoken) ||
        [...found].some((one) => spoken.startsWith(`${one}-`))
      )
        continue;
      this.note(
        'wrong-language',
        `Content-Language is ${spoken}, but ${quoted(text)} is of ${[...found].join(', ')}.`,
      );
    }
  }

  private texts(said: readonly Said[], { layout }: BodyReading): void {
    for (const { text, locales, path } of said) {
      if (path !== undefined)
        this.note('raw-path', `${quoted(text)} names a field by its path, ${path}.`);
      // In a body of an unknown layout, texts for people look like other values.
      if (layout === 'unknown') continue;
      if (locales.size === 0) this.note('unknown-text', `${quoted(text)} stands in no catalog.`);
    }
  }

  private count({ violations }: BodyReading): void {
    const expected = violations === undefined ? undefined : this.contract.expected(this.recorded);
    if (expected === undefined || violations === undefined || violations >= expected) return;
    this.note(
      'too-few',
      `The body has ${violations} of the ${expected} rules that the request broke.`,
    );
  }
}

/**
 * Holds one recorded response against the contract. Responses below 400 are none of its business.
 */
export function auditResponse(recorded: Recorded, contract: Contract): readonly Deviation[] {
  if (recorded.status !== undefined && recorded.status < 400) return [];
  const auditor = new Auditor(recorded, contract);
  auditor.run();
  return auditor.found;
}
