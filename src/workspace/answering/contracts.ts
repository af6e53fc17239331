import {
  CONTRACT_SHAPES,
  contractSchema,
  type ContractShape,
} from '../../exchange/contract/contract.js';
import { contractOpenApi, type PagesForPeople } from '../../exchange/contract/openapi.js';
import { SHAPES } from '../../core/body/shapes/shapes.js';
import { ownShapeSchema } from '../../exchange/contract/own-shape.js';
import { formAsJsonSchema } from '../../exchange/schema/write.js';
import type { LooseObject } from '../../core/reading.js';
import { suggestion } from '../../core/text/closest.js';
import { complaint } from '../disk/complaint.js';
import type { Workspace } from '../reading/workspace.js';
import { bodyStyle } from './answering.js';
import { basePath, PageAddresses } from './page-addresses.js';

const isContractShape = (name: string): name is ContractShape =>
  CONTRACT_SHAPES.some((one) => one === name);

/**
 * The schema of the bodies of a workspace.
 * @param name a shape; the workspace's own where absent
 * @throws {Complaint} for a shape that is not JSON
 */
export function workspaceContract(
  workspace: Workspace,
  name: string = workspace.config.body.shape,
): LooseObject {
  const { shape, options } = bodyStyle(workspace, name);
  if (!SHAPES.has(shape.name)) return ownShapeSchema(shape.name, shape.template);
  if (!isContractShape(shape.name))
    throw complaint('wrong-use', [
      `the shape "${shape.name}" has no schema${suggestion(name, CONTRACT_SHAPES)}; shapes with one are ${CONTRACT_SHAPES.join(', ')}`,
    ]);
  const { statuses, body } = workspace.config;
  const forms = [...workspace.forms.values()].map(({ form }) => form);
  const source = {
    forms,
    statuses,
    typeBase: body.typeBase,
    options,
    forDevelopers: body.audience === 'developer',
  };
  return contractSchema(source, shape.name);
}

/** Where the pages that `zeitwort pages` writes stand, as far as somebody says it. */
function pagesOf(workspace: Workspace): PagesForPeople | undefined {
  const { typeBase } = workspace.config.body;
  if (typeBase === undefined) return undefined;
  const addresses = new PageAddresses(workspace);
  const url = (folder: string): string =>
    new URL(encodeURI(`${basePath(typeBase)}${folder}index.html`), typeBase).href;
  return { index: url(''), of: (form) => url(addresses.form(form)) };
}

/** Returns the contracts as an OpenAPI document, with the forms that have a request. */
export function workspaceOpenApi(
  workspace: Workspace,
  version: string,
  name?: string,
): LooseObject {
  const schema = workspaceContract(workspace, name);
  const { shape } = bodyStyle(workspace, name);
  const forms = [...workspace.forms.values()].map(({ form }) => form);
  const bodyOf = (form: (typeof forms)[number]): ReturnType<typeof formAsJsonSchema> =>
    formAsJsonSchema(form, workspace.schemas.get(form.id));
  const bodies = { mediaType: shape.mediaType, schema };
  return contractOpenApi(forms, bodies, bodyOf, version, pagesOf(workspace));
}
