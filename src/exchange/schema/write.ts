import { getOrMake } from '../../core/base/get-or-make.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  anywhere,
  type PatternSegment,
  type SharedRoot,
} from '../../core/path/path.js';
import { type LooseObject } from '../../core/reading.js';
import type { Field, Form, RuleUse } from '../../core/rules/form.js';
import { typesOf } from '../../core/rules/types.js';
import { KEYWORD_PARAMETERS } from '../keywords/keyword-parameters.js';
import type { SchemaForm } from './read.js';
import { keyed } from '../../core/base/keyed.js';

const DRAFT = 'https://json-schema.org/draft/2020-12/schema';

export interface Written {
  readonly schema: LooseObject;
  /** Rules of the form that JSON Schema cannot express, a line each. */
  readonly unsaid: readonly string[];
}

/** The keywords that say one use of a rule, or nothing where none can. */
function keywordsOf({
  rule,
  params,
  counterpart,
  onlyIf,
  external,
}: RuleUse): LooseObject | undefined {
  if (external || counterpart || onlyIf) return undefined;
  if (rule === 'pattern')
    return {
      pattern: params.regex,
      ...(params.example === undefined ? {} : { examples: [params.example] }),
    };
  const parameter = KEYWORD_PARAMETERS[rule];
  if (parameter !== undefined) return { [rule]: params[parameter] };
  switch (rule) {
    case 'range':
      return { minimum: params.min, maximum: params.max };
    case 'noneOf':
      return { not: { enum: params.choices } };
    case 'uniqueItems':
      return { uniqueItems: true };
    case 'contains':
      return { contains: { const: params.expected } };
    case 'minContains':
      return { contains: { const: params.expected }, minContains: params.min };
    case 'maxContains':
      return { contains: { const: params.expected }, minContains: 0, maxContains: params.max };
    case 'additionalProperties':
    case 'unevaluatedProperties':
      return { [rule]: false };
    case 'propertyNames':
      return { propertyNames: { pattern: params.regex } };
    case 'absent':
      return { type: 'null' };
    default:
      return undefined;
  }
}

/** One place of the tree that a form's patterns make. */
interface Node {
  field?: Field;
  readonly members: Map<string, Node>;
  readonly elements: Map<number, Node>;
  anyElement?: Node;
  anyMember?: Node;
}

const newNode = (): Node => ({ members: new Map(), elements: new Map() });

function childOf(
  node: Node,
  segment: Exclude<PatternSegment, typeof ANY_DEPTH | SharedRoot>,
): Node {
  if (segment === ANY_ELEMENT) return (node.anyElement ??= newNode());
  if (segment === ANY_KEY) return (node.anyMember ??= newNode());
  const own = (typeof segment === 'number' ? node.elements : node.members) as Map<
    string | number,
    Node
  >;
  return getOrMake(own, segment, newNode);
}

class Writer {
  readonly unsaid: string[] = [];
  constructor(private readonly form: Form) {}

  write(): LooseObject {
    const root = newNode();
    for (const field of this.form.fields) {
      if (field.in !== 'body') this.unsaid.push(`${field.path}, a parameter of the ${field.in}`);
      else if (anywhere(field.pattern).includes(ANY_DEPTH))
        this.unsaid.push(`${field.path}, at any depth`);
      else {
        let node = root;
        for (const segment of anywhere(field.pattern))
          if (segment !== ANY_DEPTH) node = childOf(node, segment);
        node.field = field;
      }
    }
    return { $schema: DRAFT, title: this.form.id, ...this.schema(root, true) };
  }

  private isRequired({ field }: Node): boolean {
    return field?.uses.some(({ rule, onlyIf }) => rule === 'required' && !onlyIf) ?? false;
  }

  /** Whether a member must be there: itself, or because something in it must, as a sheet has it. */
  private isNeeded(node: Node): boolean {
    if (this.form.partial) return false;
    if (this.isRequired(node)) return true;
    return (
      !node.field?.optional && [...node.members.values()].some((member) => this.isNeeded(member))
    );
  }

  private schema(node: Node, given: boolean): LooseObject {
    const { field } = node;
    const out: Record<string, unknown> = keyed();
    const more: LooseObject[] = [];
    for (const use of field?.uses ?? []) {
      const words = this.said(use, field);
      if (words && Object.keys(words).some((key) => key in out)) more.push(words);
      else if (words) Object.assign(out, words);
    }
    // A sheet's `required` is not met by blanks; only texts can be blank.
    const textual = out.type === undefined || typesOf(out.type).includes('string');
    if (this.isRequired(node) && textual && out.enum === undefined) more.push({ pattern: '\\S' });
    // Nor is it met by null, whatever else the field allows.
    if (this.isRequired(node)) {
      const types =
        out.type === undefined ? [] : typesOf(out.type).filter((type) => type !== 'null');
      if (types.length > 0) out.type = types.length === 1 ? types[0] : types;
      else more.push({ not: { type: 'null' } });
    }
    this.inner(node, out);
    if (more.length > 0) out.allOf = more;
    // To a sheet null is nothing given, so what may be left out may be null.
    return given ? out : orNull(out);
  }

  private said(use: RuleUse, field: Field | undefined): LooseObject | undefined {
    const words = keywordsOf(use);
    if (!words && use.rule !== 'required')
      this.unsaid.push(`${field?.path ?? ''}: ${use.as ?? use.rule}`);
    if (use.rule === 'required' && use.onlyIf)
      this.unsaid.push(`${field?.path ?? ''}: required under a condition`);
    if (words && field?.trim && /Length|pattern|format|enum|const/.test(use.rule))
      this.unsaid.push(`${field.path}: that blanks around the text do not count for ${use.rule}`);
    return words;
  }

  private inner(node: Node, out: Record<string, unknown>): void {
    if (node.members.size > 0) {
      out.properties = Object.fromEntries(
        [...node.members].map(([name, member]) => [
          name,
          this.schema(member, this.isNeeded(member)),
        ]),
      );
      const needed = [...node.members]
        .filter(([, member]) => this.isNeeded(member))
        .map(([name]) => name);
      if (needed.length > 0) out.required = needed;
    }
    if (node.anyMember)
      out.additionalProperties = this.schema(node.anyMember, this.isNeeded(node.anyMember));
    if (node.elements.size > 0) {
      const last = Math.max(...node.elements.keys());
      out.prefixItems = Array.from({ length: last + 1 }, (_, at) => {
        const element = node.elements.get(at) ?? node.anyElement;
        return element ? this.schema(element, this.isNeeded(element)) : true;
      });
    }
    if (node.anyElement) out.items = this.schema(node.anyElement, this.isNeeded(node.anyElement));
  }
}

function orNull(schema: LooseObject): LooseObject {
  if (Object.keys(schema).length === 0) return schema;
  if (
    schema.type !== undefined &&
    schema.enum === undefined &&
    schema.const === undefined &&
    schema.allOf === undefined &&
    schema.not === undefined
  )
    return { ...schema, type: [...new Set([...typesOf(schema.type), 'null'])] };
  return { anyOf: [schema, { type: 'null' }] };
}

/**
 * Writes a form as JSON Schema 2020-12, for clients that check before they send. A form that comes
 * from a schema is given out as that schema, with everything that it refers to inside.
 */
export function formAsJsonSchema(form: Form, source: SchemaForm | undefined): Written {
  if (source) {
    const unsaid = form.fields
      .filter((field) => field.in !== 'body')
      .map(({ path, in: part }) => `${path}, a parameter of the ${part}`);
    const drafts = {
      'draft-07': 'http://json-schema.org/draft-07/schema#',
      '2019-09': 'https://json-schema.org/draft/2019-09/schema',
      '2020-12': DRAFT,
    };
    const { body } = source.parts;
    return {
      schema: body ? { $schema: drafts[body.version], ...body.schema } : { $schema: DRAFT },
      unsaid,
    };
  }
  const writer = new Writer(form);
  const schema = writer.write();
  return { schema, unsaid: writer.unsaid };
}
