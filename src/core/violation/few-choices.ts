import { closest } from '../text/closest.js';

/** With more choices than that a sentence names a few: nobody reads on. */
const MOST_CHOICES = 20;
const FEW_CHOICES = 10;
/** More than these are not compared with what was sent. */
const MOST_COMPARED = 5000;

/** Whether a sentence names only some of the values. */
export const isLongList = (values: unknown): values is readonly unknown[] =>
  Array.isArray(values) && values.length > MOST_CHOICES;

export const fewOf = (values: readonly unknown[]): readonly unknown[] =>
  isLongList(values) ? values.slice(0, FEW_CHOICES) : values;

/** A long list with the value in front that is nearest to what was sent, where one is near. */
export function nearestFirst(values: readonly unknown[], sent: unknown): readonly unknown[] {
  if (typeof sent !== 'string' || !isLongList(values)) return values;
  const texts = values.slice(0, MOST_COMPARED).filter((value) => typeof value === 'string');
  const near = closest(sent, texts);
  return near === undefined ? values : [near, ...values.filter((value) => value !== near)];
}
