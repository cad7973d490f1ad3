// The language server, with its protocol: loaded only by the command that starts it.
export { serveEditor } from './server.js';
