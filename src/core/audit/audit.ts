import type { Locale } from '../locale/tag.js';
import { leaksIn, rawPathIn } from './leaks.js';
import { readBody, type BodyReading } from './read-body.js';
import type { Deviation, DeviationKind, Recorded } from './recording.js';
import type { TextMatcher } from './text-matcher.js';

/** What recorded responses are held against. */
export interface Contract {
  /** The shape that bodies should have, and its media type. */
  readonly shape: string;
  readonly mediaType: string;
  /** Whether a body keeps the contract; a sentence where it does not, nothing where it does. */
  readonly breaks: (body: unknown) => string | undefined;
  readonly statuses: ReadonlyMap<string, number>;
  readonly languages: readonly Locale[];
  readonly texts: TextMatcher;
  /** How many violations a request has by the rules; undefined where no form is known for it, or its body was not kept. */
  readonly expected: (recorded: Recorded) => number | undefined;
}

const quoted = (text: string): string => `"${text.length > 90 ? `${text.slice(0, 89)}…` : text}"`;

const bareType = (type: string): string => (type.split(';')[0] ?? '').trim().toLowerCase();

class Auditor {
  readonly found: Deviation[] = [];
  constructor(
    private readonly recorded: Recorded,
    private readonly contract: Contract,
  ) {}

  private note(kind: DeviationKind, message: string): void {
    if (!this.found.some((one) => one.kind === kind && one.message === message)) this.found.push({ kind, message });
  }

  run(): void {
    const { body, mediaType } = this.recorded;
    for (const { what, shown } of leaksIn(body)) this.note('leak', `The body shows ${what}: ${quoted(shown)}.`);
    if (mediaType !== undefined && bareType(mediaType) !== bareType(this.contract.mediaType))
      this.note('other-media-type', `The media type is ${bareType(mediaType)}, not ${bareType(this.contract.mediaType)}.`);
    let value: unknown;
    try {
      value = JSON.parse(body);
    } catch {
      this.note(
        'other-shape',
        `The body is no JSON, but ${this.contract.shape} is: ${quoted(body.trim().replace(/\s+/g, ' '))}.`,
      );
      return;
    }
    const reading = readBody(value);
    this.shape(reading, value);
    this.status(reading);
    this.language(reading);
    this.texts(reading);
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

  private language({ texts }: BodyReading): void {
    const { language, mediaType } = this.recorded;
    const { languages } = this.contract;
    // Where no headers were kept at all, none can be missing.
    if (language === undefined) {
      if (mediaType !== undefined && texts.length > 0) this.note('wrong-language', 'Content-Language is missing.');
      return;
    }
    const spoken = languages.find((one) => one.toLowerCase() === language.trim().toLowerCase());
    if (spoken === undefined) {
      this.note(
        'wrong-language',
        `Content-Language is ${language}, which the workspace does not speak (${languages.join(', ')}).`,
      );
      return;
    }
    for (const { text, code } of texts) {
      const found = this.contract.texts.locales(text, code === undefined ? [] : [code]);
      if (found.size === 0 || [...found].some((one) => one === spoken || spoken.startsWith(`${one}-`))) continue;
      this.note('wrong-language', `Content-Language is ${spoken}, but ${quoted(text)} is of ${[...found].join(', ')}.`);
    }
  }

  private texts({ texts, layout }: BodyReading): void {
    for (const { text, code } of texts) {
      const path = rawPathIn(text);
      if (path !== undefined) this.note('raw-path', `${quoted(text)} names a field by its path, ${path}.`);
      // In a body of no known layout nobody can tell texts for people from other values.
      if (layout === 'unknown') continue;
      if (this.contract.texts.locales(text, code === undefined ? [] : [code]).size === 0)
        this.note('unknown-text', `${quoted(text)} stands in no catalog.`);
    }
  }

  private count({ violations }: BodyReading): void {
    const expected = violations === undefined ? undefined : this.contract.expected(this.recorded);
    if (expected === undefined || violations === undefined || violations >= expected) return;
    this.note('too-few', `The body tells ${violations} of the ${expected} rules that the request broke.`);
  }
}

/** Holds one recorded response against the contract. Responses below 400 are none of its business. */
export function auditResponse(recorded: Recorded, contract: Contract): readonly Deviation[] {
  if (recorded.status !== undefined && recorded.status < 400) return [];
  const auditor = new Auditor(recorded, contract);
  auditor.run();
  return auditor.found;
}
