export { readHar } from './har.js';
export { readOpenApi } from './openapi.js';
export { readRoutes } from './routes.js';
export { readSitemap } from './sitemap.js';
