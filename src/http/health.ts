import type { Service } from './routes.js';

/** Liveness, readiness, and what the service offers. */
export function addHealth(service: Service): void {
  const { app, served, version } = service;
  app.get('/-/live', () => ({ status: 'live' }));
  app.get('/-/ready', (_, reply) => {
    const texts = served.trouble === undefined ? 'current' : 'kept';
    const state = {
      status: service.stopping ? 'stopping' : 'ready',
      texts,
      ...(served.trouble === undefined ? {} : { trouble: served.trouble }),
    };
    return reply.code(service.stopping ? 503 : 200).send(state);
  });
  app.get('/-/openapi.json', async (_, reply) => reply.send(await served.current.openApi(version)));
}
