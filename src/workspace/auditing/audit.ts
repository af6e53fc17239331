import { Ajv2020 } from 'ajv/dist/2020.js';
import { auditResponse, type Contract } from '../../core/audit/audit.js';
import { Memo } from '../../core/base/memo.js';
import type { Deviation, Kept, Recorded } from '../../core/audit/recording.js';
import type { AuditTally } from '../../core/audit/tally.js';
import { LeakFinder } from '../../core/audit/strings.js';
import { TextMatcher } from '../../core/audit/text-matcher.js';
import { CONTRACT_SHAPES } from '../../exchange/contract/contract.js';
import { workspaceContract } from '../answering/contracts.js';
import type { Judge } from '../judging/judge.js';
import { judgeOf } from '../judging/rulings.js';
import { OutOfTime } from '../judging/watch.js';
import { gathered } from '../../core/rules/parameters.js';
import { DEEPEST_PAYLOAD, isDeeper } from '../../core/text/nesting.js';
import { parsePayload } from '../reading/payload.js';
import { RequestForms, type FormMatch } from '../reading/request-forms.js';
import type { Workspace } from '../reading/workspace.js';
import { bodyStyle } from '../answering/answering.js';

/** All texts that answers of a workspace can be made of, the starter catalogs' too. */
function matcherOf(workspace: Workspace): TextMatcher {
  const matcher = new TextMatcher();
  const { table, config } = workspace;
  for (const { texts } of [
    ...table.catalogs,
    ...config.locales.flatMap((locale) => table.starter(locale) ?? []),
  ]) {
    for (const entry of texts) {
      const { kind, key } = entry.purpose;
      if (kind === 'message') matcher.add(key, entry);
      else if (kind === 'problem') matcher.add(key.replace(/ \w+$/, ''), entry);
    }
  }
  return matcher;
}

/**
 * Returns the check of bodies against the contract of a shape; for a shape without a schema it
 * finds nothing.
 */
function breaksOf(workspace: Workspace, shape: string): Contract['breaks'] {
  if (!CONTRACT_SHAPES.some((one) => one === shape)) return () => undefined;
  // The schema is our own, so it need not be held against its own; and what it is compiled to is
  // used for one run.
  const quickly = { validateSchema: false, code: { optimize: false } };
  const ajv = new Ajv2020({ strict: false, validateFormats: false, logger: false, ...quickly });
  const validate = ajv.compile(workspaceContract(workspace, shape));
  return (body) => {
    if (validate(body)) return undefined;
    const deepest = [...(validate.errors ?? [])].sort(
      (one, other) => other.instancePath.length - one.instancePath.length,
    )[0];
    return deepest === undefined
      ? 'it breaks the contract'
      : `${deepest.instancePath || 'the whole'} ${deepest.message ?? 'is wrong'}`;
  };
}

/** Returns the sent payload where it can be judged. */
function payloadOf(sent: Kept): { readonly value: unknown } | undefined {
  if ('value' in sent) return isDeeper(sent.value, DEEPEST_PAYLOAD) ? undefined : sent;
  const payload = parsePayload(sent.text);
  return 'problem' in payload ? undefined : payload;
}

/** The forms of recorded requests. */
class Endpoints {
  private readonly routes: RequestForms;
  /** By endpoint; a path may hold an id. */
  private readonly known = new Memo<{ readonly form: FormMatch | undefined }>();

  constructor(workspace: Workspace) {
    this.routes = new RequestForms(workspace.forms);
  }

  find(endpoint: string | undefined): FormMatch | undefined {
    if (endpoint === undefined) return undefined;
    return this.known.getOrMake(endpoint, () => {
      const [method = '', target = ''] = endpoint.split(' ');
      return { form: this.routes.find(method, target) };
    }).form;
  }
}

function expectedOf(
  workspace: Workspace,
  endpoints: Endpoints,
  judge: Judge,
): Contract['expected'] {
  return ({ endpoint, query, sent }) => {
    const match = endpoints.find(endpoint);
    if (!match || sent === undefined || workspace.config.body.perField !== 'all') return undefined;
    const payload = payloadOf(sent);
    if (!payload) return undefined;
    // Headers are kept by few recordings, so rules about them are not held against the answer.
    const request = {
      body: payload.value,
      query: query === undefined ? {} : gathered(new URLSearchParams(query)),
      path: match.segments,
    };
    try {
      const { violations, more } = judge.judge(match.form, request);
      return Math.min(
        violations.filter(({ in: part }) => part !== 'header').length + more,
        workspace.config.body.maxViolations,
      );
    } catch (error) {
      if (error instanceof OutOfTime) return undefined;
      throw error;
    }
  };
}

/** Holds recorded responses against the contract of a workspace. */
export class Audit {
  private readonly contract: Contract;
  private readonly endpoints: Endpoints;
  private readonly judge: Judge;

  constructor(workspace: Workspace, shapeName?: string) {
    const { shape } = bodyStyle(workspace, shapeName);
    const { locales: languages, statuses } = workspace.config;
    this.endpoints = new Endpoints(workspace);
    this.judge = judgeOf(workspace);
    this.contract = {
      shape: shape.name,
      mediaType: shape.mediaType,
      locales: languages,
      statuses,
      breaks: breaksOf(workspace, shape.name),
      texts: matcherOf(workspace),
      leaks: new LeakFinder(),
      expected: expectedOf(workspace, this.endpoints, this.judge),
    };
  }

  /** Returns the endpoint of a response: the form's own request, where it belongs to a form. */
  private endpointOf({ endpoint }: Recorded): string {
    if (endpoint === undefined) return 'no request recorded';
    return this.endpoints.find(endpoint)?.form.form.request ?? endpoint;
  }

  private one(recorded: Recorded): readonly Deviation[] {
    return auditResponse(recorded, this.contract);
  }

  /** Adds responses to a tally. */
  tally(responses: readonly Recorded[], tally: AuditTally): void {
    for (const [at, deviations] of this.all(responses).entries()) {
      const recorded = responses[at];
      if (recorded) tally.add(this.endpointOf(recorded), recorded, deviations);
    }
  }

  /**
   * To watch the time is most of what judging a small request takes, so it is watched once for
   * many, and for each alone if it runs out.
   */
  private all(responses: readonly Recorded[]): (readonly Deviation[])[] {
    const each = (): (readonly Deviation[])[] => responses.map((recorded) => this.one(recorded));
    try {
      return this.judge.watch.within(each);
    } catch (error) {
      if (error instanceof OutOfTime) return each();
      throw error;
    }
  }
}
