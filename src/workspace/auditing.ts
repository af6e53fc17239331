import { readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { auditResponse, type Contract } from '../core/audit/audit.js';
import type { Deviation, Recorded } from '../core/audit/recording.js';
import { TextMatcher } from '../core/audit/text-matcher.js';
import { CONTRACT_SHAPES } from '../exchange/contract/contract.js';
import { readHar } from '../exchange/recordings/har.js';
import { readLines, RecordingError } from '../exchange/recordings/lines.js';
import { complaint } from './complaint.js';
import { workspaceContract } from './contracts.js';
import { judgeOf } from './judging/rulings.js';
import { OutOfTime } from './judging/watch.js';
import { readingFailed, readText } from './files.js';
import { gathered } from './parameters.js';
import { parsePayload } from './payload.js';
import { RequestForms } from './request-forms.js';
import type { Workspace } from './workspace.js';
import { bodyStyle } from './answering.js';

/** One response that departs from the contract. */
export interface Audited {
  readonly recorded: Recorded;
  readonly deviations: readonly Deviation[];
}

/** All texts that answers of a workspace can be made of, the starter catalogs' too. */
function matcherOf(workspace: Workspace): TextMatcher {
  const matcher = new TextMatcher();
  const { table, config } = workspace;
  for (const { texts } of [...table.catalogs, ...config.languages.flatMap((locale) => table.starter(locale) ?? [])]) {
    for (const entry of texts) {
      const { kind, key } = entry.purpose;
      if (kind === 'message') matcher.add(key, entry);
      else if (kind === 'problem') matcher.add(key.replace(/ \w+$/, ''), entry);
    }
  }
  return matcher;
}

/** What says whether a body keeps the contract of the shape; of a shape without a schema, nothing can be said. */
function breaksOf(workspace: Workspace, shape: string): Contract['breaks'] {
  if (!CONTRACT_SHAPES.some((one) => one === shape)) return () => undefined;
  const validate = new Ajv2020({ strict: false, validateFormats: false, logger: false }).compile(
    workspaceContract(workspace, shape),
  );
  return (body) => {
    if (validate(body)) return undefined;
    const deepest = [...(validate.errors ?? [])].sort((one, other) => other.instancePath.length - one.instancePath.length)[0];
    return deepest === undefined
      ? 'it breaks the contract'
      : `${deepest.instancePath || 'the whole'} ${deepest.message ?? 'is wrong'}`;
  };
}

function expectedOf(workspace: Workspace, routes: RequestForms): Contract['expected'] {
  const judge = judgeOf(workspace);
  return ({ endpoint, query, sent }) => {
    const [method = '', target = ''] = endpoint?.split(' ') ?? [];
    const match = routes.find(method, target);
    if (!match || sent === undefined || workspace.config.body.perField !== 'all') return undefined;
    const payload = parsePayload(sent);
    if ('problem' in payload) return undefined;
    // Headers are kept by few recordings, so rules about them are not held against the answer.
    const request = { body: payload.value, query: gathered(new URLSearchParams(query ?? '')), path: match.segments };
    try {
      const { violations, more } = judge.judge(match.form, request);
      return Math.min(violations.filter(({ in: place }) => place !== 'header').length + more, workspace.config.body.most);
    } catch (error) {
      if (error instanceof OutOfTime) return undefined;
      throw error;
    }
  };
}

/** Holds recorded responses against the contract of a workspace. */
export class Audit {
  private readonly contract: Contract;
  private readonly routes: RequestForms;

  constructor(workspace: Workspace, shapeName?: string) {
    const { shape } = bodyStyle(workspace, shapeName);
    const { languages, statuses } = workspace.config;
    this.routes = new RequestForms(workspace.forms);
    this.contract = {
      ...{ shape: shape.name, mediaType: shape.mediaType, languages, statuses },
      breaks: breaksOf(workspace, shape.name),
      texts: matcherOf(workspace),
      expected: expectedOf(workspace, this.routes),
    };
  }

  /** The endpoint under which a response is told: the form's own request, where it is one of a form. */
  endpointOf({ endpoint }: Recorded): string {
    if (endpoint === undefined) return 'no request recorded';
    const [method = '', target = ''] = endpoint.split(' ');
    const match = this.routes.find(method, target);
    return match?.form.form.request ?? endpoint;
  }

  one(recorded: Recorded): Audited {
    return { recorded, deviations: auditResponse(recorded, this.contract) };
  }
}

function* bodiesIn(folder: string, named: string): Generator<Recorded> {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath, entry.name))
    .sort();
  for (const file of files) {
    const shown = path.join(named, path.relative(folder, file)).split(path.sep).join('/');
    yield { place: { file: shown }, body: readText(file, shown, 'a body') };
  }
}

/**
 * Reads recorded responses: a HAR file, JSON Lines, or a folder of bodies.
 * @throws {Complaint} when they cannot be read
 */
export async function* readRecordings(file: string): AsyncGenerator<Recorded> {
  const named = file === '-' ? 'standard input' : file;
  const stats = file === '-' ? undefined : statSync(file, { throwIfNoEntry: false });
  if (file !== '-' && !stats) throw complaint('not-found', [named]);
  try {
    if (stats?.isDirectory()) yield* bodiesIn(file, named);
    else if (/\.har$/i.test(file)) yield* readHar(file, named);
    else yield* readLines(file, named);
  } catch (error) {
    if (error instanceof RecordingError) throw complaint('wrong-content', [error.message], { file: named, line: error.line });
    if (error instanceof Error && 'code' in error) throw readingFailed(named, error);
    if (error instanceof Error && error.name === 'Error')
      throw complaint('broken-json', [`${error.message}; is this a whole HAR file?`], { file: named });
    throw error;
  }
}
