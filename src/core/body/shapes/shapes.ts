import { getOrMake } from '../../base/get-or-make.js';
import type { Loose } from '../../reading.js';
import { escapeHtml, xmlText } from '../../text/markup.js';
import type { Answer } from '../answer.js';
import type { Shape, ShapeOptions } from './shape.js';
import { isSlot, templateShape } from './template.js';

/** The media type of RFC 9457. */
export const PROBLEM_MEDIA_TYPE = 'application/problem+json';

const MORE = { when: 'more', node: '<more>' };

/** A problem details object (RFC 9457 section 3) with the extension member `errors`. */
const PROBLEM = {
  type: '<type>',
  title: '<title>',
  status: '<status>',
  detail: '<detail>',
  instance: '<instance>',
  '...': '<extensions>',
  more: MORE,
  errors: {
    when: 'broken',
    node: {
      each: 'violation',
      node: {
        pointer: '<fragment>',
        header: '<header>',
        parameter: '<parameter>',
        code: '<code>',
        detail: '<text>',
        inline: '<beside>',
        members: '<member-fragments>',
        developer: '<developer>',
      },
    },
  },
};

const JSONAPI_HEAD = {
  id: '<request-id>',
  links: { 'unless-empty': { type: '<uri>' } },
  status: { join: ['<status>'], with: '' },
};

/**
 * Error objects of JSON:API 1.1: pointers there are no fragments and lead to what is in the
 * request; headers and parameters have members of their own.
 */
const JSONAPI = {
  errors: {
    when: 'broken',
    node: {
      each: 'violation',
      node: {
        ...JSONAPI_HEAD,
        code: '<code>',
        title: '<title>',
        detail: '<text>',
        source: { pointer: '<nearest>', header: '<header>', parameter: '<parameter>' },
        meta: {
          'unless-empty': {
            missing: '<missing>',
            inline: '<beside>',
            members: '<member-pointers>',
            developer: '<developer>',
          },
        },
      },
    },
    otherwise: [
      {
        ...JSONAPI_HEAD,
        code: '<problem>',
        title: '<title>',
        detail: '<detail>',
        meta: { 'unless-empty': { '...': '<extensions>' } },
      },
    ],
  },
  meta: { 'unless-empty': { more: MORE } },
};

const GRAPHQL_COMMON = {
  problem: '<problem>',
  status: '<status>',
  type: '<uri>',
  requestId: '<request-id>',
};

/**
 * The errors of a GraphQL response (GraphQL specification, October 2021, section 7.1.2), without
 * data: the request failed as a whole. `path` of the specification leads into the response; where
 * the input is wrong is said in the extensions.
 */
const GRAPHQL = {
  errors: {
    when: 'broken',
    node: {
      each: 'violation',
      node: {
        message: '<text>',
        extensions: {
          code: '<code>',
          inline: '<beside>',
          input: '<path>',
          members: '<member-paths>',
          in: '<part>',
          ...GRAPHQL_COMMON,
          developer: '<developer>',
        },
      },
    },
    otherwise: [
      {
        message: '<title>',
        extensions: {
          code: '<problem>',
          detail: '<detail>',
          ...GRAPHQL_COMMON,
          '...': '<extensions>',
        },
      },
    ],
  },
  extensions: { 'unless-empty': { more: MORE } },
};

/** Flat records, one a violation. A list has no other place for what is said of all. */
const SAID = { when: 'detail', node: '<detail>', otherwise: '<title>' };
const LIST = {
  when: 'broken',
  node: {
    join: [
      {
        each: 'violation',
        node: {
          field: '<field>',
          in: '<part>',
          code: '<code>',
          text: '<text>',
          inline: '<beside>',
          members: '<member-fields>',
          developer: '<developer>',
        },
      },
      { when: 'more', node: { field: null, code: 'more', text: SAID, more: '<more>' } },
    ],
  },
  otherwise: [{ field: null, code: '<problem>', text: SAID }],
};

/** Lines for people: the title, the detail, a line a violation. */
const TEXT = {
  join: [
    '<title>',
    '<detail>',
    {
      each: 'violation',
      node: { join: ['- <text>', { when: 'developer', node: ' (<developer>)' }], with: '' },
    },
    { when: 'more', node: '- … (+<more>)' },
  ],
  with: '\n',
};

/**
 * Field → texts. What is said of the body as a whole stands under the empty name, parameters under
 * `parameters`. Where one of a field's texts has no other for beside the input, it stands for
 * itself.
 */
function fieldsTemplate({ texts, inline }: ShapeOptions): Loose {
  const written = (name: string): string => (texts === 'list' ? `<${name}>` : `<${name}(" ")>`);
  const of = (each: string, node: Loose): Loose => ({ each, key: '<field>', node });
  const some = (node: Loose): Loose => ({ 'unless-empty': node });
  const whole = written(inline === 'alone' ? 'inlines' : 'texts');
  const beside = { when: 'beside', node: written('inlines') };
  const besides = some({
    fields: some(of('body-field', beside)),
    parameters: some(of('other-field', beside)),
  });
  return {
    code: '<problem>',
    status: '<status>',
    title: '<title>',
    detail: '<detail>',
    '...': '<extensions>',
    more: MORE,
    requestId: '<request-id>',
    fields: { when: 'broken', node: of('body-field', whole) },
    parameters: some(of('other-field', whole)),
    ...(inline === 'alone' ? {} : { inline: besides }),
    developer: {
      when: 'details',
      node: { each: 'violation', node: { field: '<field>', '...': '<developer>' } },
    },
  };
}

const classOf = ({ class: name }: { readonly class?: string | undefined }): string =>
  name === undefined ? '' : ` class="${escapeHtml(name)}"`;

/** A start tag that is no slot. */
const startTag = (element: string, attributes: string): string =>
  `<${element}${attributes}${attributes === '' && isSlot(element) ? ' ' : ''}>`;

/**
 * A fragment of HTML: title, detail and what broke, all escaped, in an element and with a class of
 * the user's choice.
 */
function htmlTemplate({ html }: ShapeOptions): Loose {
  const { layout, element, message } = html;
  const tag = layout === 'list' ? 'li' : 'p';
  const [open, close] = message
    ? [startTag(message.element, classOf(message)), `</${message.element}>`]
    : ['', ''];
  const entry = [
    `<${tag} data-pointer="<place>" data-code="<code>"`,
    { when: 'developer', node: ' data-developer="<developer>"' },
    `>${open}<text>${close}</${tag}>`,
  ];
  const entries = [
    { each: 'violation', node: { join: entry, with: '' } },
    { when: 'more', node: `<${tag} data-more="<more>">… (+<more>)</${tag}>` },
  ];
  const all = layout === 'list' ? ['<ul>', ...entries, '</ul>'] : entries;
  return {
    join: [
      `<${element} lang="<locale>" dir="<direction>"${classOf(html)}><p><strong><title></strong></p>`,
      { when: 'detail', node: '<p><detail></p>' },
      { when: 'texts', node: { join: all, with: '' } },
      `</${element}>`,
    ],
    with: '',
  };
}

/** A shape whose template hangs on the settings: it is made once for each. */
function setShape(
  name: string,
  mediaType: string,
  template: (options: ShapeOptions) => Loose,
): Shape {
  const made = new WeakMap<ShapeOptions, Shape>();
  const of = (options: ShapeOptions): Shape =>
    getOrMake(made, options, () => templateShape(name, mediaType, template(options)));
  return {
    name,
    mediaType,
    template,
    ...(/json/.test(mediaType)
      ? { value: (answer: Answer, options: ShapeOptions) => of(options).value?.(answer, options) }
      : {}),
    write: (answer, options) => of(options).write(answer, options),
  };
}

/** RFC 9457 appendix B: members are elements, the entries of a list are `i`. */
function xmlOf(name: string, value: unknown): string {
  if (value === undefined || value === null) return '';
  if (Array.isArray(value))
    return `<${name}>${value.map((entry) => xmlOf('i', entry)).join('')}</${name}>`;
  if (typeof value === 'object')
    return `<${name}>${Object.entries(value)
      .map(([key, member]) => xmlOf(/^[A-Za-z_][\w.-]*$/.test(key) ? key : 'member', member))
      .join('')}</${name}>`;
  return `<${name}>${xmlText(typeof value === 'string' ? value : JSON.stringify(value))}</${name}>`;
}

const problem = templateShape('problem', PROBLEM_MEDIA_TYPE, PROBLEM);

/** The XML of RFC 9457. */
const problemXml: Shape = {
  name: 'problem-xml',
  mediaType: 'application/problem+xml',
  template: PROBLEM,
  write(answer, options) {
    const members = Object.entries(problem.value?.(answer, options) ?? {});
    const written = members.map(([name, value]) => xmlOf(name, value)).join('');
    return `<?xml version="1.0" encoding="UTF-8"?>\n<problem xmlns="urn:ietf:rfc:7807" xml:lang="${answer.locale}">${written}</problem>`;
  },
};

/** The template of a shape, as settings have it. */
export const templateOf = ({ template }: Shape, options: ShapeOptions): Loose =>
  typeof template === 'function' ? (template as (of: ShapeOptions) => Loose)(options) : template;

/** The shapes that Zeitwort knows; a workspace may add its own. */
export const SHAPES: ReadonlyMap<string, Shape> = new Map(
  [
    problem,
    problemXml,
    templateShape('jsonapi', 'application/vnd.api+json', JSONAPI),
    templateShape('graphql', 'application/graphql-response+json', GRAPHQL),
    setShape('fields', 'application/json', fieldsTemplate),
    templateShape('list', 'application/json', LIST),
    templateShape('text', 'text/plain; charset=utf-8', TEXT),
    setShape('html', 'text/html; charset=utf-8', htmlTemplate),
  ].map((shape) => [shape.name, shape]),
);
