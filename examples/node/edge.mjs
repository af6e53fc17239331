// A backend that makes a Response of a Request, as edge runtimes want it.
import { fetchAnswers, readJsonBody } from 'zeitwort-runtime/fetch';
import { keep, onAnswer, onUnexpected, read, renderer, visitorPass } from './passes.mjs';

export default {
  async fetch(request) {
    let payload;
    const { noRoute, failure } = fetchAnswers(renderer, {
      read: (error) => read(error, payload),
      onAnswer,
      onUnexpected,
    });
    try {
      if (new URL(request.url).pathname !== '/passes') return noRoute(request);
      if (request.method !== 'POST')
        throw Object.assign(new Error('not taken'), { status: 405, headers: { allow: 'POST' } });
      payload = await readJsonBody(request, 2000);
      keep(visitorPass.parse(payload));
      return new Response(null, { status: 201 });
    } catch (error) {
      return failure(error, request);
    }
  },
};
