// What the backends beside this file have in common: the packs, the schema, and a store of passes.
// npx zeitwort pack --module --out packs
import { appendFileSync } from 'node:fs';
import * as z from 'zod';
import { openPack } from 'zeitwort-runtime';
import { fromZod } from 'zeitwort-runtime/zod';
import ar from './packs/ar.mjs';
import de from './packs/de.mjs';
import en from './packs/en.mjs';
import ja from './packs/ja.mjs';
import pl from './packs/pl.mjs';

export const renderer = openPack(en, de, pl, ar, ja);

const form = 'visitor-pass';

export const visitorPass = z.object({
  visitor: z.string(),
  email: z.email(),
  day: z.iso.date(),
  guests: z.int().min(0).max(5).optional(),
});

/** What a driver throws when a unique constraint does not hold. */
class UniqueViolation extends Error {
  constructor(constraint) {
    super(`duplicate key value violates "${constraint}"`);
    this.constraint = constraint;
  }
}

const passes = new Set();

/** Keeps a pass: a visitor has one a day. */
export function keep({ visitor, day }) {
  const key = JSON.stringify([visitor, day]);
  if (passes.has(key)) throw new UniqueViolation('passes_visitor_day');
  passes.add(key);
}

/** The violation that each constraint of the database is. */
const CONSTRAINTS = new Map([['passes_visitor_day', { path: 'day', rule: 'booked' }]]);

/** Reads what an error tells of broken rules: Zod's issues, or a constraint of the database. */
export function read(error, payload) {
  if (error instanceof z.ZodError)
    return { form, violations: fromZod(error, { form: renderer.form(form), payload }) };
  const violation = CONSTRAINTS.get(error?.constraint);
  return violation && { form, violations: [violation] };
}

const LOG = process.env.VIOLATIONS ?? 'violations.jsonl';

/** Logs what was broken, for "zeitwort check --observed violations.jsonl". */
export function onAnswer(_request, { form: of, violations }) {
  if (violations) appendFileSync(LOG, `${JSON.stringify({ form: of, violations })}\n`);
}

/** Tells whoever runs the backend what nobody expected. */
export function onUnexpected(error) {
  console.error(error);
}
