// A backend with Express.
import express from 'express';
import { expressAnswers } from 'zeitwort-runtime/express';
import { keep, onAnswer, onUnexpected, read, renderer, visitorPass } from './passes.mjs';

const { noRoute, failure } = expressAnswers(renderer, {
  read: (error, request) => read(error, request.body),
  onAnswer,
  onUnexpected,
});

const refuse = (status, headers = {}) => Object.assign(new Error('refused'), { status, headers });

const app = express();
app
  .route('/passes')
  .post(
    // Express takes a body that is not JSON, or empty, for none at all.
    (request, _response, next) => next(request.is('json') ? undefined : refuse(415)),
    express.json({ limit: 2000 }),
    (request, response) => {
      keep(visitorPass.parse(request.body));
      response.status(201).end();
    },
  )
  .all((_request, _response, next) => next(refuse(405, { allow: 'POST' })));
app.use(noRoute);
app.use(failure);

const server = app.listen(Number(process.env.PORT ?? 3000), '127.0.0.1', () => {
  console.log(`http://127.0.0.1:${server.address().port}`);
});
