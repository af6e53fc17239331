import { readFileSync } from 'node:fs';
import { installedFile } from '../workspace/disk/installed.js';
import { formPage } from './page.js';
import { addOwn, pageLocale, problem, send, type Service } from './routes.js';

const MOST_ROWS = 5;

/** A small page on which each form can be tried by hand, and the reader of bodies that it uses. */
export function addPages(service: Service): void {
  const { app, served } = service;
  app.get('/form/:form', (request, reply) => {
    const { workspace } = served.current;
    const form = workspace.forms.get((request.params as { form: string }).form);
    if (!form) return send(reply, problem(service, request, 'not-found'));
    const { rows = '1' } = request.query as { rows?: string };
    const locale = pageLocale(service, request);
    const page = formPage(
      workspace,
      form,
      locale,
      Math.min(MOST_ROWS, Math.max(1, Number.parseInt(rows, 10) || 1)),
    );
    return reply
      .header(
        'content-security-policy',
        "default-src 'self'; style-src 'unsafe-inline'; img-src data:; base-uri 'none'; frame-ancestors 'none'",
      )
      .header('content-language', locale)
      .header('vary', 'accept-language')
      .type('text/html; charset=utf-8')
      .send(page);
  });
  for (const name of ['client.js', 'form-page.js']) {
    const script = readFileSync(installedFile(name));
    addOwn(service, 'GET', `/${name}`, (_, reply) =>
      reply.type('text/javascript; charset=utf-8').send(script),
    );
  }
}
