// A backend with Fastify.
import fastify from 'fastify';
import { fastifyAnswers } from 'zeitwort-runtime/fastify';
import { keep, onAnswer, onUnexpected, read, renderer, visitorPass } from './passes.mjs';

const { noRoute, failure } = fastifyAnswers(renderer, {
  read: (error, request) => read(error, request.body),
  onAnswer,
  onUnexpected,
});

// What the router refuses before there is a route is answered by the same handler.
const app = fastify({ bodyLimit: 2000, frameworkErrors: failure });
// Fastify reads plain text too.
app.removeContentTypeParser('text/plain');
app.setNotFoundHandler(noRoute);
app.setErrorHandler(failure);
app.post('/passes', (request, reply) => {
  keep(visitorPass.parse(request.body));
  return reply.code(201).send();
});
app.route({
  method: ['GET', 'PUT', 'PATCH', 'DELETE'],
  url: '/passes',
  handler: () => {
    throw Object.assign(new Error('not taken'), { status: 405, headers: { allow: 'POST' } });
  },
});

const url = await app.listen({ port: Number(process.env.PORT ?? 3000), host: '127.0.0.1' });
console.log(url);
