// A backend with nothing but node:http.
import { createServer } from 'node:http';
import { nodeAnswers, readJsonBody } from 'zeitwort-runtime/node';
import { keep, onAnswer, onUnexpected, read, renderer, visitorPass } from './passes.mjs';

const { noRoute, failure } = nodeAnswers(renderer, {
  read: (error, request) => read(error, request.payload),
  onAnswer,
  onUnexpected,
});

const server = createServer(async (request, response) => {
  try {
    if (request.url !== '/passes') return noRoute(request, response);
    if (request.method !== 'POST')
      throw Object.assign(new Error('not taken'), { status: 405, headers: { allow: 'POST' } });
    request.payload = await readJsonBody(request, 2000);
    keep(visitorPass.parse(request.payload));
    response.writeHead(201).end();
  } catch (error) {
    failure(error, request, response);
  }
});

server.listen(Number(process.env.PORT ?? 3000), '127.0.0.1', () => {
  console.log(`http://127.0.0.1:${server.address().port}`);
});
