import type { FastifyReply, FastifyRequest } from 'fastify';
import { typeUri } from '../core/body/answer.js';
import type { Locale } from '../core/locale/tag.js';
import { basePath, folderIn, problemFolder } from '../workspace/answering/page-addresses.js';
import { listedProblems } from './index-page.js';
import { methodsAt, pageLocale, problem, send, wantsPage, type Service } from './routes.js';

/** Answers where a problem's type leads to: people get its page, programs what it is. */
function sendProblem(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  id: string,
): void {
  const { workspace } = service.served.current;
  const { body } = workspace.config;
  const locale = pageLocale(service, request);
  void reply.header('vary', 'accept, accept-language');
  if (wantsPage(request)) {
    const { original } = workspace.config;
    const folder = folderIn(locale, original, problemFolder(id, body.typeBase));
    const base = basePath(body.typeBase ?? '');
    // Links of a page begin in its folder.
    void reply.redirect(encodeURI(base + folder), 302);
    return;
  }
  const listed = listedProblems(workspace, locale).find((one) => one.problem === id);
  void reply
    .header('content-language', locale)
    .type('application/json')
    .send(Buffer.from(JSON.stringify({ type: typeUri(id, body), ...listed })));
}

async function sendPage(service: Service, file: string, reply: FastifyReply): Promise<boolean> {
  const { current } = service.served;
  // What validates the example bodies is large.
  const { openSite } = await import('../report/site/open.js');
  const page = (current.site ??= openSite(current.workspace)).get(file);
  if (!page) return false;
  const [tag] = file.split('/');
  const { locales, original } = current.workspace.config;
  const locale: Locale = locales.find((one) => one === tag) ?? original;
  void reply
    .header(
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; img-src data:; base-uri 'none'; frame-ancestors 'none'",
    )
    .header('content-language', locale)
    .type('text/html; charset=utf-8')
    .send(page());
  return true;
}

/**
 * Answers with a page of those that problem types lead to, and says whether there is one. A reply
 * itself would be waited for, since it can be.
 */
async function sendFromSite(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  path: string,
): Promise<boolean> {
  const { statuses, body } = service.served.current.workspace.config;
  if (body.typeBase === undefined || (request.method !== 'GET' && request.method !== 'HEAD'))
    return false;
  const base = basePath(body.typeBase);
  if (!path.startsWith(base)) return false;
  let rest: string;
  try {
    rest = decodeURIComponent(path.slice(base.length));
  } catch {
    return false;
  }
  const { typeBase } = body;
  const leadsTo = (id: string): boolean =>
    rest.endsWith(id) && `${rest}/` === problemFolder(id, typeBase);
  const id = [...statuses.keys()].find(leadsTo);
  if (id !== undefined) {
    sendProblem(service, request, reply, id);
    return true;
  }
  // Most addresses that lead nowhere are none of a page: nothing is made ready for them.
  const [, folder] = /^(|.*\/)(?:index\.html)?$/s.exec(rest) ?? [];
  return folder === undefined ? false : sendPage(service, `${folder}index.html`, reply);
}

/** Answers where no route is: with a page, or that there is nothing for this method, or at all. */
export async function sendNothingHere(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
): Promise<FastifyReply> {
  const [path = '/'] = request.url.split('?');
  const methods = methodsAt(service, path);
  if (methods.length > 0)
    return send(
      reply.header('allow', methods.join(', ')),
      problem(service, request, 'wrong-method'),
    );
  const isSent = await sendFromSite(service, request, reply, path);
  return isSent ? reply : send(reply, problem(service, request, 'not-found'));
}
