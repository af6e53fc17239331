import type { Remark } from '../../core/finding.js';
import { withAdditions } from '../../core/rules/additions.js';
import { FormIndex } from '../../core/rules/form-index.js';
import type { Form } from '../../core/rules/form.js';
import { readSheet } from '../../core/rules/sheet.js';
import { suggestion } from '../../core/text/closest.js';
import { Documents } from '../../exchange/schema/documents.js';
import { openApiVersion, type PassedOver } from '../../exchange/schema/openapi.js';
import { isJsonSchema, readSchemas, type SchemaForm } from '../../exchange/schema/read.js';
import type { Title } from '../../exchange/schema/walk.js';
import { complaint } from '../disk/complaint.js';
import { isYaml } from '../disk/files.js';
import { FormTable } from './forms.js';
import { parseJson } from '../documents/json.js';
import { tooDeepAt } from '../../core/text/nesting.js';
import { positionAt } from '../documents/position.js';
import { parseYaml } from '../documents/yaml.js';

type Sheet = ReturnType<typeof readSheet>;

/** Where rules are read from, by names in the workspace. */
export interface RuleFiles {
  /** @throws {Complaint} when the file cannot be read */
  readonly read: (file: string, holds: string) => string;
  /** A file as sentences name it. */
  readonly shown: (file: string) => string;
  /** Whether there is a file of that name in the workspace, links followed. */
  readonly isThere: (file: string) => boolean;
  /** Returns the last reading of the file, where it has not changed since. */
  readonly before?: (file: string) => ReadSheet | undefined;
}

/** A sheet, and what its file holds. */
export interface ReadSheet {
  readonly sheet: Sheet;
  readonly root: unknown;
}

/** Sheets and schemas nested deeper than this are nothing that somebody wrote. */
const DEEPEST = 500;

/** The forms of a workspace, out of rule sheets, JSON Schemas and OpenAPI documents. */
export class RuleBook {
  readonly forms = new FormTable();
  /**
   * All files that it hangs on: those read, and those that schemas refer to, whether they are there
   * or not.
   */
  readonly asked = new Set<string>();
  /** The forms that come from schemas, with what their payloads are held against. */
  readonly schemas = new Map<string, SchemaForm>();
  readonly sheets = new Map<string, Sheet>();
  /** The parsed content of sheets. */
  readonly roots = new Map<string, unknown>();
  /** Labels in sheets, in the original language, by form. */
  readonly labels = new Map<string, readonly Title[]>();
  /** Forms that add to others, by the id of those. */
  private readonly additions = new Map<string, Form[]>();
  /** The file that declares each form. */
  private readonly declared = new Map<string, string>();
  /** Bodies of requests that are neither JSON nor HTML forms, whose fields nobody reads. */
  readonly passedOver: PassedOver[] = [];
  private readonly noticed: (readonly Remark[])[] = [];
  private readonly ownRemarks: Remark[] = [];
  private readonly documents = new Documents((file) => this.referred(file));

  /** @throws {Complaint} when a file cannot be read */
  constructor(
    /** The files that the settings name. */
    readonly names: readonly string[],
    private readonly files: RuleFiles,
    /** Whether null and blank texts count as missing, where no sheet says. */
    private readonly blank = false,
  ) {
    for (const file of names) this.readRules(file);
    for (const [id, forms] of this.additions)
      if (!this.schemas.has(id)) this.withoutBase(id, forms);
  }

  private withoutBase(id: string, additions: readonly Form[]): void {
    const sheet = this.declared.get(id);
    const why =
      sheet === undefined
        ? `no schema declares it${suggestion(id, this.schemas.keys())}`
        : `${sheet} declares it in full; add to that`;
    for (const { origin } of additions) {
      const message = `The form "${id}" adds to one of the same name, but ${why}.`;
      this.ownRemarks.push({
        kind: 'wrong-structure',
        form: id,
        message,
        spot: { ...origin, at: 'key' },
      });
    }
  }

  /** A form of a schema with what sheets add to it. */
  private complete(base: Form): Form {
    const { form, remarks } = withAdditions(base, this.additions.get(base.id) ?? [], this.blank);
    this.ownRemarks.push(...remarks);
    return form;
  }

  private parsed(file: string, text: string): unknown {
    const named = this.files.shown(file);
    if (isYaml(file)) return parseYaml(text, named);
    const deep = tooDeepAt(text, DEEPEST);
    if (deep !== undefined)
      throw complaint(
        'wrong-content',
        [`this is nested deeper than ${DEEPEST} levels; write it flatter`],
        {
          file: named,
          ...positionAt(text, deep),
        },
      );
    return parseJson(text, named, true);
  }

  /**
   * A file that a schema refers to; nothing where it is not there, or not in the workspace once
   * links are followed.
   */
  private referred(file: string): { root: unknown } | undefined {
    this.asked.add(file);
    return this.files.isThere(file)
      ? { root: this.parsed(file, this.files.read(file, 'a JSON Schema')) }
      : undefined;
  }

  /** Reads every file that schemas refer to, before any form asks for it. */
  loadReferred(): void {
    this.documents.loadReferred();
  }

  private readRules(file: string): void {
    this.asked.add(file);
    const known = this.files.before?.(file);
    if (known) {
      this.roots.set(file, known.root);
      this.addSheet(file, known.sheet);
      return;
    }
    const root = this.parsed(file, this.files.read(file, 'forms and their rules'));
    if (openApiVersion(root) === undefined && !isJsonSchema(root)) {
      this.roots.set(file, root);
      this.addSheet(file, readSheet(root, file));
      return;
    }
    this.documents.open(file, root);
    const { forms, remarks, passedOver } = readSchemas(file, this.documents);
    this.passedOver.push(...passedOver);
    this.noticed.push(remarks);
    for (const schema of forms)
      if (this.addForm(schema.about, () => this.complete(schema.parts.form)))
        this.schemas.set(schema.about.id, schema);
  }

  private nameFields({ id, fields }: Form): void {
    const named = fields.flatMap(({ pattern, label }) => (label ? [{ pattern, ...label }] : []));
    if (named.length > 0) this.labels.set(id, [...(this.labels.get(id) ?? []), ...named]);
  }

  private addSheet(file: string, sheet: Sheet): void {
    this.sheets.set(file, sheet);
    this.noticed.push(sheet.remarks);
    for (const form of sheet.forms) {
      this.nameFields(form);
      if (form.adds) this.additions.set(form.id, [...(this.additions.get(form.id) ?? []), form]);
      else this.addForm(form, () => form);
    }
  }

  private addForm({ id, origin }: Pick<Form, 'id' | 'origin'>, read: () => Form): boolean {
    const earlier = this.declared.get(id);
    if (earlier === undefined) {
      this.declared.set(id, origin.file);
      this.forms.add(id, () => new FormIndex(read()));
      return true;
    }
    const message = `The form "${id}" is declared in ${earlier} too; this one is passed over. Rename one of the two.`;
    this.ownRemarks.push({
      kind: 'duplicate-form',
      form: id,
      message,
      spot: { ...origin, at: 'key' },
    });
    return false;
  }

  /**
   * Whether a form comes from a schema and no sheet adds to it: then only the backend knows its
   * further rules.
   */
  isOpen(id: string): boolean {
    return this.schemas.has(id) && !this.additions.has(id);
  }

  /** Returns the remarks made while all files and forms were read. */
  remarks(): readonly Remark[] {
    // A form that nobody asked for yet may have more to say.
    Array.from(this.forms.values());
    return [...this.noticed.flat(), ...this.ownRemarks];
  }
}
