import { Option, type Command } from 'commander';
import type { FormIndex } from '../../core/rules/form-index.js';
import { formAsJsonSchema } from '../../exchange/schema/write.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { formIds, openWorkspace, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { print, printJson, say } from '../print/out.js';
import { rulesJson, rulesText } from '../print/rules.js';

interface Options extends WorkspaceOptions {
  readonly form?: string;
  readonly format: 'text' | 'json' | 'json-schema';
}

function rules(options: Options): void {
  const workspace = openWorkspace(options);
  const forms: FormIndex[] =
    options.form === undefined
      ? [...workspace.forms.values()]
      : formIds(workspace, options.form).map((id) => workspace.form(id));
  if (options.format === 'json') printJson(rulesJson(forms, workspace));
  else if (options.format === 'text') print(rulesText(forms, workspace));
  else {
    const [form] = forms;
    if (!form || forms.length > 1)
      throw complaint('wrong-use', ['a JSON Schema is of one form; name it with --form']);
    const { schema, unsaid } = formAsJsonSchema(form.form, workspace.schemas.get(form.form.id));
    for (const line of unsaid) say(`not in the schema: ${line}`);
    printJson(schema);
  }
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--form <ids>', 'this form only; several with commas: a,b')
    .addOption(
      new Option('--format <format>', 'how to print')
        .choices(['text', 'json', 'json-schema'])
        .default('text'),
    )
    .action(rules);
}
