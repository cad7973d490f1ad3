// The measure for the stand-in: the same HTTP server answering every request with one constant.
import fastify from 'fastify';

const server = fastify();
server.get('/', (_request, reply) => reply.type('text/html').send('<!doctype html><p>constant</p>'));
await server.listen({ host: '127.0.0.1', port: 0 });
console.log(server.listeningOrigin);
process.on('SIGTERM', () => process.exit(0));
