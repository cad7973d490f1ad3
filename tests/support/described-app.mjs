// An app that a description says everything of: express-openapi-validator holds each request against it, and asks for the scopes that it
// names. Keys: `all` has every scope, `none` has none.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import express from 'express';

const { middleware } = createRequire(import.meta.url)('express-openapi-validator');
const apiSpec = JSON.parse(readFileSync(process.argv[2], 'utf8'));

const refused = (status) => Object.assign(new Error('refused'), { status });
const asks = (request, scopes) => {
  const [, key] = /^Bearer (.+)$/.exec(request.headers.authorization ?? '') ?? [];
  if (key === undefined) throw refused(401);
  if (process.env.BUG !== 'scopes' && key !== 'all' && scopes.length > 0) throw refused(403);
  return true;
};
const handlers = Object.fromEntries(
  Object.keys(apiSpec.components?.securitySchemes ?? {}).map((name) => [name, asks]),
);

const app = express();
app.use(
  middleware({ apiSpec, validateRequests: false, validateResponses: false, validateSecurity: { handlers } }),
);
app.use((request, response, next) => {
  if (!request.openapi?.schema) return next(refused(404));
  const [status] = Object.keys(request.openapi.schema.responses).filter((each) => each.startsWith('2'));
  response.status(Number(status ?? 200)).json({});
});
app.use((error, _request, response, next) =>
  response.headersSent ? next(error) : response.status(error.status ?? 500).json({}),
);
app.listen(Number(process.env.PORT), '127.0.0.1');
