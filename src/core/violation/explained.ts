import type { Locale } from '../locale/tag.js';
import { prepareArguments } from './arguments.js';
import { mergedParams, Sentences } from './sentence.js';
import type { Violation } from '../rules/violation.js';

/** Sentences that can also tell what they are made of, for whoever looks into them. */
export class ExplainedSentences extends Sentences {
  /** What arguments of these names would say in the message of a violation. */
  argumentsFor(
    violation: Violation,
    names: readonly string[],
    locale: Locale,
  ): Record<string, unknown> {
    const { path, class: paths } = this.read(violation);
    const {
      found,
      use,
      in: part,
    } = this.plan('message', violation, { path, class: paths }, locale);
    const setting = this.setting(
      violation,
      paths.pattern,
      part,
      use,
      found?.locale ?? locale,
      locale,
    );
    const { early, placed, late } = prepareArguments(names, setting, found);
    const params = mergedParams(violation, use);
    const told = new Map<string, unknown>([
      ...Object.entries(early),
      ...placed.map(([name, word]): [string, unknown] => [name, word(path)]),
      ...late.map(([name, work]): [string, unknown] => [name, work(violation, params, path)]),
    ]);
    // What tells where comes before what tells what.
    const later = new Set(late.map(([name]) => name));
    const inOrder = [
      ...names.filter((name) => !later.has(name)),
      ...names.filter((name) => later.has(name)),
    ];
    return Object.fromEntries(inOrder.map((name) => [name, told.get(name)]));
  }
}
