import { getOrMake } from '../../core/base/get-or-make.js';
import type { Remark } from '../../core/finding.js';
import { isObject } from '../../core/reading.js';
import {
  JSON_MEDIA,
  type Field,
  type Form,
  type Join,
  type RequestPart,
} from '../../core/rules/form.js';
import { Bundler, type Bundle, type Dialect, type SchemaVersion } from './bundle.js';
import { isDraft4, type Documents, type SchemaError, type Where } from './documents.js';
import {
  dialectOf,
  openApiVersion,
  operationsOf,
  type BodyOf,
  type Example,
  type Operation,
  type ParameterOf,
  type PassedOver,
} from './openapi.js';
import { asSent } from './html-forms.js';
import { walk, type FieldExample, type Title } from './walk.js';
import { lastWordOf } from './names.js';
import { keyed } from '../../core/base/keyed.js';

export type BundledParameter = ParameterOf & { readonly bundle: Bundle };

interface Parts {
  readonly form: Form;
  /** Names for people that the schema gives. */
  readonly titles: readonly Title[];
  /** The schema of the body; absent where a request has none. */
  readonly body?: Bundle;
  readonly parameters: readonly BundledParameter[];
  /** Examples of the body, of parameters, and of fields. */
  readonly examples: readonly FieldExample[];
}

/**
 * A form that a JSON Schema or an OpenAPI operation declares. Its fields are read when somebody
 * first asks: a document may have a thousand operations, and most commands speak of one.
 */
export class SchemaForm {
  private made: Parts | undefined;

  constructor(
    readonly about: Pick<Form, 'id' | 'request' | 'bases' | 'bodyOptional' | 'media' | 'origin'>,
    private readonly make: () => {
      readonly body?: Bundle | undefined;
      readonly parameters: readonly BundledParameter[];
      readonly sent?: BodyOf | undefined;
    },
    private readonly note: (remarks: readonly Remark[]) => void,
  ) {}

  private walked<T>(work: () => T[]): T[] {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      const message =
        'Definitions of this schema refer to each other too many times in a row. Put some of them into one.';
      this.note([
        { kind: 'wrong-structure', message, spot: { ...this.about.origin, at: 'value' } },
      ]);
      return [];
    }
  }

  get parts(): Parts {
    if (this.made) return this.made;
    const { body, parameters, sent } = this.make();
    const examples: readonly Example[] = sent?.examples ?? [];
    const ofBody = examples.map((one): FieldExample => ({ ...one, pattern: [], in: 'body' }));
    const values = examples.map(({ value }) => value);
    const walked = this.walked(() => [
      ...(body ? [walk(body, 'body', [], values)] : []),
      ...parameters.map(parameterFields),
    ]);
    const joins = walked.flatMap(({ joins: own }) => own);
    for (const { remarks } of walked) this.note(remarks);
    this.made = {
      form: {
        ...this.about,
        partial: false,
        fields: asSent(
          walked.flatMap(({ fields }) => fields),
          sent,
        ),
        ...(joins.length > 0 ? { joins } : {}),
      },
      titles: walked.flatMap(({ titles }) => titles),
      parameters,
      examples: [...ofBody, ...walked.flatMap(({ examples: own }) => own)],
      ...(body ? { body } : {}),
    };
    return this.made;
  }
}

export interface SchemaReading {
  readonly forms: readonly SchemaForm[];
  /** It grows while forms are read. */
  readonly remarks: readonly Remark[];
  /** Bodies that are neither JSON nor HTML forms. */
  readonly passedOver: readonly PassedOver[];
}

const DRAFTS: Readonly<Record<string, SchemaVersion>> = keyed({
  'http://json-schema.org/draft-04/schema': 'draft-07',
  'http://json-schema.org/draft-06/schema': 'draft-07',
  'http://json-schema.org/draft-07/schema': 'draft-07',
  'https://json-schema.org/draft/2019-09/schema': '2019-09',
  'https://json-schema.org/draft/2020-12/schema': '2020-12',
});

/**
 * Whether a document is a JSON Schema rather than one of our sheets: no sheet has any of these
 * words at its root, or is `true` or `false`.
 */
export function isJsonSchema(root: unknown): boolean {
  if (typeof root === 'boolean') return true;
  if (!isObject(root) || 'forms' in root) return false;
  const { $schema } = root;
  if (typeof $schema === 'string' && $schema.includes('json-schema.org/')) return true;
  return [
    '$id',
    '$defs',
    'definitions',
    'properties',
    '$ref',
    'allOf',
    'anyOf',
    'oneOf',
    'type',
  ].some((key) => key in root);
}

class Reader {
  readonly remarks: Remark[] = [];
  private readonly reported = new Set<string>();
  private readonly bundlers = new Map<string, Bundler>();

  constructor(private readonly documents: Documents) {}

  private readonly note = (remarks: readonly Remark[]): void => {
    this.remarks.push(...remarks);
  };

  readonly failed = ({ message, origin }: SchemaError): void => {
    const id = JSON.stringify([origin, message]);
    if (this.reported.has(id)) return;
    this.reported.add(id);
    this.remarks.push({ kind: 'wrong-structure', message, spot: { ...origin, at: 'value' } });
  };

  /** Returns the bundler of a dialect, which reads each target once for all forms. */
  bundler(dialect: Dialect): Bundler {
    const id = JSON.stringify(dialect);
    return getOrMake(this.bundlers, id, () => new Bundler(this.documents, dialect, this.failed));
  }

  jsonSchema(file: string, node: unknown, where: Where): SchemaForm {
    const root = isObject(node) ? node : {};
    const named = typeof root.$schema === 'string' ? root.$schema.replace(/#$/, '') : undefined;
    const draft = named === undefined ? '2020-12' : DRAFTS[named];
    if (!draft) {
      const known = Object.keys(DRAFTS).slice(2).join(', ');
      const message = `This draft is not known, so the schema is read as 2020-12. Name one of ${known}.`;
      this.remarks.push({
        kind: 'wrong-structure',
        message,
        spot: { file, keys: ['$schema'], at: 'value' },
      });
    }
    const booleanBounds = isDraft4(root);
    const dialect: Dialect = {
      version: draft ?? '2020-12',
      booleanBounds,
      nullable: false,
      forRequests: false,
    };
    const said = booleanBounds ? root.id : root.$id;
    const id = (typeof said === 'string' ? lastWordOf(said) : '') || lastWordOf(file);
    return new SchemaForm(
      { id, origin: where },
      () => ({ body: this.bundler(dialect).bundle(node, where), parameters: [] }),
      this.note,
    );
  }

  operation(operation: Operation, bundler: Bundler, forForms: Bundler): SchemaForm {
    const { id, request, bases, where, body, bodyOptional, parameters } = operation;
    const more = {
      ...(bases.length > 0 ? { bases } : {}),
      ...(bodyOptional ? { bodyOptional } : {}),
      ...(body && body.media.length > 0
        ? { media: body.isForm ? body.media : ([JSON_MEDIA, ...body.media] as const) }
        : {}),
    };
    return new SchemaForm(
      { id, request, ...more, origin: where },
      () => ({
        body: body && (body.isForm ? forForms : bundler).bundle(body.schema, body.where),
        sent: body,
        parameters: parameters.map((one): BundledParameter => ({
          ...one,
          bundle: bundler.bundle(one.schema, one.where),
        })),
      }),
      this.note,
    );
  }
}

function parameterFields({
  name,
  in: part,
  required,
  writing,
  bundle,
  where,
  examples,
}: BundledParameter): {
  examples: readonly FieldExample[];
  fields: Field[];
  joins: readonly Join[];
  titles: readonly Title[];
  remarks: readonly Remark[];
} {
  const { fields, joins, titles, remarks, ...walked } = walk(
    bundle,
    part,
    [name],
    examples.map(({ value }) => value),
  );
  const own = examples.map((one): FieldExample => ({ ...one, pattern: [name], in: part }));
  const [first, ...more] = fields;
  const declared = first?.path === name ? first : undefined;
  const whole: Field = { ...(declared ?? emptyField(name, part, where)), writing };
  const rest = first && !declared ? [first, ...more] : more;
  const use = {
    rule: 'required',
    external: false,
    params: {},
    origin: { file: where.file, keys: where.keys.slice(0, -1) },
  };
  return {
    fields: [required ? { ...whole, uses: [use, ...whole.uses] } : whole, ...rest],
    joins,
    titles,
    remarks,
    examples: [...own, ...walked.examples],
  };
}

const emptyField = (name: string, part: RequestPart, origin: Where): Field => ({
  pattern: [name],
  path: name,
  in: part,
  uses: [],
  optional: false,
  trim: false,
  secret: false,
  origin,
});

/**
 * Reads the forms of a JSON Schema or OpenAPI document. What is wrong becomes a remark, and the
 * rest is read.
 */
export function readSchemas(file: string, documents: Documents): SchemaReading {
  const reader = new Reader(documents);
  const opened = documents.open(file);
  if (!opened) return { forms: [], remarks: [], passedOver: [] };
  const { node, where } = opened;
  const version = openApiVersion(node);
  if (version === undefined || !isObject(node))
    return {
      forms: [reader.jsonSchema(file, node, where)],
      remarks: reader.remarks,
      passedOver: [],
    };
  const dialect = dialectOf(version);
  const bundler = reader.bundler(dialect);
  const forForms = reader.bundler({ ...dialect, uploads: true });
  const { operations, passedOver } = operationsOf(node, where, documents, reader.failed);
  return {
    forms: operations.map((operation) => reader.operation(operation, bundler, forForms)),
    remarks: reader.remarks,
    passedOver,
  };
}
