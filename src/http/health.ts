import { addOwn, type Service } from './routes.js';

/** Liveness, readiness, metrics, and what the service offers. */
export function addHealth(service: Service): void {
  const { served, version } = service;
  addOwn(service, 'GET', '/live', () => ({ status: 'live' }));
  addOwn(service, 'GET', '/ready', (_, reply) => {
    const texts = served.trouble === undefined ? 'current' : 'kept';
    const state = {
      status: service.stopping ? 'stopping' : 'ready',
      texts,
      ...(served.trouble === undefined ? {} : { trouble: served.trouble }),
    };
    return reply.code(service.stopping ? 503 : 200).send(state);
  });
  addOwn(service, 'GET', '/metrics', async (_, reply) => {
    const { type, text } = await served.metrics.text(served.trouble === undefined);
    return reply.type(type).header('cache-control', 'no-store').send(text);
  });
  addOwn(service, 'GET', '/openapi.json', async (_, reply) =>
    reply.send(await served.current.openApi(version)),
  );
}
