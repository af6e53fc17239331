import Counter from 'prom-client/lib/counter.js';
import Gauge from 'prom-client/lib/gauge.js';
import Histogram from 'prom-client/lib/histogram.js';
import Registry from 'prom-client/lib/registry.js';
import type { Answer } from '../core/body/answer.js';
import { sameLanguage } from '../core/locale/chain.js';
import type { Locale } from '../core/locale/tag.js';
import { ANY_ELEMENT, printPath } from '../core/path/path.js';
import type { FormIndex } from '../core/rules/form-index.js';
import type { RuleUse } from '../core/rules/form.js';
import type { SentenceCase } from '../core/violation/sentence.js';

/**
 * The most undeclared rules that metrics name. Callers choose names, and metrics must not grow
 * without end.
 */
const MOST_UNKNOWN = 200;
const OTHER = 'other';
/** So many rules wait to be handed on: after a reload the same are others. */
const MOST_WAITING = 10_000;

/** Seconds: rendering takes some ten microseconds, and much more where something is wrong. */
const BUCKETS = [0.00005, 0.0001, 0.00025, 0.0005, 0.001, 0.0025, 0.01, 0.1];

/**
 * A broken rule and its count, by the language of the answer; collected when metrics are requested.
 */
interface Broken {
  readonly labels: {
    readonly form: string;
    readonly field: string;
    readonly in: string;
    readonly rule: string;
  };
  readonly byLanguage: Map<Locale, number>;
}

/** The counters of the service, in OpenMetrics 1.0.0. */
export class Metrics {
  private readonly registry = new Registry<typeof Registry.OPENMETRICS_CONTENT_TYPE>();
  private readonly requests = new Counter({
    name: 'zeitwort_requests',
    help: 'Requests answered.',
    labelNames: ['endpoint', 'status'],
    registers: [this.registry],
  });
  private readonly violations = new Counter({
    name: 'zeitwort_violations',
    help: 'Violations in answers, by the rule and the language of the answer.',
    labelNames: ['form', 'field', 'in', 'rule', 'language'],
    registers: [this.registry],
  });
  private readonly fallbacks = new Counter({
    name: 'zeitwort_fallbacks',
    help: 'Violations in another language than that of the answer, or without a text.',
    labelNames: ['form', 'language', 'spoken'],
    registers: [this.registry],
  });
  private readonly unknown = new Counter({
    name: 'zeitwort_unknown_rules',
    help: 'Violations of rules or fields that the form does not declare.',
    labelNames: ['form'],
    registers: [this.registry],
  });
  private readonly problems = new Counter({
    name: 'zeitwort_problems',
    help: 'Problems of whole requests.',
    labelNames: ['problem', 'language'],
    registers: [this.registry],
  });
  private readonly rendering = new Histogram({
    name: 'zeitwort_render_seconds',
    help: 'Time that rendering one answer took.',
    buckets: BUCKETS,
    registers: [this.registry],
  });
  private readonly current = new Gauge({
    name: 'zeitwort_texts_current',
    help: 'Whether the texts are those of the files: 0 where these are broken.',
    registers: [this.registry],
  });
  private readonly broken = new Map<RuleUse, Broken>();
  private readonly strangers = new Set<string>();

  constructor() {
    this.registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE);
  }

  request(endpoint: string, status: number): void {
    this.requests.inc({ endpoint, status });
  }

  /** Does the rendering, and counts how long it took. */
  timed<T>(render: () => T): T {
    const begin = performance.now();
    try {
      return render();
    } finally {
      this.rendering.observe((performance.now() - begin) / 1000);
    }
  }

  /**
   * Counts an answer.
   * @param index the form's, where the answer belongs to a form
   */
  answer({ problem, locale, sentences }: Answer, form: string, index: FormIndex | undefined): void {
    if (sentences.length === 0) this.problems.inc({ problem, language: locale });
    for (const { case: at } of sentences) {
      const { use, found } = at;
      if (!found || !sameLanguage(found.locale, locale))
        this.fallbacks.inc({ form, language: locale, spoken: found?.locale ?? 'none' });
      if (!use) {
        this.stranger(form, at, locale);
        continue;
      }
      let broken = this.broken.get(use);
      if (!broken) {
        if (this.broken.size >= MOST_WAITING) this.flush();
        const field = index?.field(at.path, at.in)?.path ?? printPath(at.path);
        const labels = { form, field, in: at.in, rule: at.code };
        this.broken.set(use, (broken = { labels, byLanguage: new Map<Locale, number>() }));
      }
      broken.byLanguage.set(locale, (broken.byLanguage.get(locale) ?? 0) + 1);
    }
  }

  private stranger(form: string, { path, code, in: part }: SentenceCase, language: Locale): void {
    this.unknown.inc({ form });
    const field = printPath(
      path.map((segment) => (typeof segment === 'number' ? ANY_ELEMENT : segment)),
    );
    const id = JSON.stringify([form, field, part, code]);
    const isNamed = this.strangers.has(id) || this.strangers.size < MOST_UNKNOWN;
    if (isNamed) this.strangers.add(id);
    const named = isNamed ? { field, rule: code } : { field: OTHER, rule: OTHER };
    this.violations.inc({ form, field: named.field, in: part, rule: named.rule, language });
  }

  /**
   * Hands what was counted by rule to the registry: few ask for it, and many answers are counted.
   */
  private flush(): void {
    for (const { labels, byLanguage } of this.broken.values())
      for (const [language, count] of byLanguage)
        this.violations.inc({ ...labels, language }, count);
    this.broken.clear();
  }

  /** The text of all that was counted, and its media type. */
  async text(isCurrent: boolean): Promise<{ readonly type: string; readonly text: string }> {
    this.flush();
    this.current.set(isCurrent ? 1 : 0);
    return { type: this.registry.contentType, text: await this.registry.metrics() };
  }
}
