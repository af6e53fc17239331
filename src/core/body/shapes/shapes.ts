import { graphql } from './graphql.js';
import { html } from './html.js';
import { jsonapi } from './jsonapi.js';
import { fields, list, text } from './plain.js';
import { problem, problemXml } from './problem.js';
import type { Shape } from './shape.js';

/** The shapes that Zeitwort knows; a workspace may add its own. */
export const SHAPES: ReadonlyMap<string, Shape> = new Map(
  [problem, problemXml, jsonapi, graphql, fields, list, text, html].map((shape) => [
    shape.name,
    shape,
  ]),
);
