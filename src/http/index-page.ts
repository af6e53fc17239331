import type { FastifyReply, FastifyRequest } from 'fastify';
import { answerProblem } from '../core/body/answer.js';
import { escapeHtml as esc } from '../core/text/markup.js';
import { directionOf, type Locale } from '../core/locale/tag.js';
import { answerOptions } from '../workspace/answering/answering.js';
import { basePath, problemFolder } from '../workspace/answering/page-addresses.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { OWN, pageLocale, wantsPage, type Service } from './routes.js';

/** A form that the service stands in for, or that it can only say sentences of. */
interface ListedForm {
  readonly form: string;
  /** Its method and path. */
  readonly request?: string;
  /** Where it can be tried by hand. */
  readonly page: string;
  /** Where a backend sends its violations. */
  readonly render: string;
}

interface ListedProblem {
  readonly problem: string;
  readonly status: number;
  readonly title: string;
}

function listedForms({ forms }: Workspace): ListedForm[] {
  return [...forms.values()].map(({ form: { id, request } }) => ({
    form: id,
    ...(request === undefined ? {} : { request }),
    page: `/form/${encodeURIComponent(id)}`,
    render: `${OWN}/render/${encodeURIComponent(id)}`,
  }));
}

/** The problems that an answer may be, with their titles. */
export function listedProblems(workspace: Workspace, locale: Locale): ListedProblem[] {
  const { statuses, problemParams } = workspace.config;
  const options = answerOptions(workspace, { audience: 'client' });
  return [...statuses].map(([problem, status]) => {
    // Titles may count; one of each will do.
    const params = { count: 1, fields: 1, ...problemParams.get(problem) };
    const { title } = answerProblem(problem, params, locale, '', workspace.texts, options);
    return { problem, status, title };
  });
}

const STYLE = `
:root{color-scheme:light dark;--line:light-dark(#c4c8ce,#555a61)}
body{font:1rem/1.5 system-ui,sans-serif;margin:0}
main{max-width:56rem;margin:0 auto;padding:1rem}
h1{font-size:1.4rem;margin:0}h2{font-size:1.1rem;margin:1.6rem 0 .3rem}
table{border-collapse:collapse;inline-size:100%}
th,td{text-align:start;vertical-align:top;padding:.3rem .8rem .3rem 0;border-block-end:1px solid var(--line)}
th{font-weight:600}
code{font-family:ui-monospace,monospace;font-size:.9rem}
nav{display:flex;flex-wrap:wrap;gap:.2rem .8rem}
`;

/** A problem's name, leading to its page where types lead to pages. */
function pageLink({ config }: Workspace, problem: string): string {
  const { typeBase } = config.body;
  const name = `<code>${esc(problem)}</code>`;
  if (typeBase === undefined) return name;
  const folder = basePath(typeBase) + problemFolder(problem, typeBase);
  return `<a href="${esc(encodeURI(folder))}">${name}</a>`;
}

function page(workspace: Workspace, locale: Locale): string {
  const { locales } = workspace.config;
  const query = `?locale=${locale}`;
  const languages = locales.map((tag) => {
    const name = esc(new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag);
    const about = `lang="${tag}" dir="${directionOf(tag)}"`;
    return tag === locale
      ? `<b ${about}>${name}</b>`
      : `<a ${about} href="/?locale=${tag}">${name}</a>`;
  });
  const forms = listedForms(workspace).map(
    ({ form, request, page: at }) =>
      `<tr><td><a href="${esc(at)}${query}">${esc(form)}</a></td><td><code>${esc(request ?? '')}</code></td></tr>`,
  );
  const problems = listedProblems(workspace, locale).map(
    ({ problem, status, title }) =>
      `<tr><td>${pageLink(workspace, problem)}</td><td>${status}</td><td><bdi lang="${locale}" dir="${directionOf(locale)}">${esc(title)}</bdi></td></tr>`,
  );
  return `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><link rel="icon" href="data:,"><title>Forms and problems</title><style>${STYLE}</style></head>
<body>
<main>
<h1>Forms and problems</h1>
<nav aria-label="Language">${languages.join('')}</nav>
<h2>Forms</h2>
<table><thead><tr><th scope="col">Form</th><th scope="col">Request</th></tr></thead><tbody>${forms.join('')}</tbody></table>
<h2>Problems</h2>
<table><thead><tr><th scope="col">Problem</th><th scope="col">Status</th><th scope="col">Title</th></tr></thead><tbody>${problems.join('')}</tbody></table>
<p>The addresses of the service itself are in its <a href="${OWN}/openapi.json">OpenAPI document</a>.</p>
</main>
</body>
</html>
`;
}

/** Answers what is to be had here: a page for people, JSON for programs. */
export function sendIndex(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
): FastifyReply {
  const { workspace } = service.served.current;
  const locale = pageLocale(service, request);
  void reply.header('content-language', locale).header('vary', 'accept, accept-language');
  if (wantsPage(request))
    return reply
      .header(
        'content-security-policy',
        "default-src 'none'; style-src 'unsafe-inline'; img-src data:; base-uri 'none'; frame-ancestors 'none'",
      )
      .type('text/html; charset=utf-8')
      .send(page(workspace, locale));
  return reply.type('application/json').send(
    Buffer.from(
      JSON.stringify({
        forms: listedForms(workspace),
        problems: listedProblems(workspace, locale),
        openapi: `${OWN}/openapi.json`,
      }),
    ),
  );
}
