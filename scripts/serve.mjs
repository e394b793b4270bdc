// The built server, as a child of whoever started it: when that one is gone, so is this.
process.on('disconnect', () => process.exit(0));
// What was taken is finished by then; idle connections to the database need not be waited for.
process.on('sveltekit:shutdown', () => process.exit(0));
const { server } = await import('../build/index.js');
// An address that cannot be decoded is refused before any hook of the app's: under /api that is JSON too.
const MALFORMED = JSON.stringify({
  code: 'bad-request',
  message: 'The address of this request is damaged: its escapes cannot be read.',
});
const isMalformed = (url) => {
  try {
    decodeURI(url);
    return false;
  } catch {
    return true;
  }
};
const [answer] = server.server.listeners('request');
server.server.removeAllListeners('request');
server.server.on('request', (request, response) => {
  if (request.url.startsWith('/api') && isMalformed(request.url)) {
    response.writeHead(400, { 'content-type': 'application/json' }).end(MALFORMED);
    return;
  }
  // A body whose kind is not told would be taken for none.
  if (request.headers['transfer-encoding'] || Number(request.headers['content-length']) > 0)
    request.headers['content-type'] ??= 'application/octet-stream';
  answer(request, response);
});
// Files go out past the app's own hooks: what they are is not to be guessed from their bytes either.
server.server.prependListener('request', (_, response) =>
  response.setHeader('x-content-type-options', 'nosniff'),
);
// Longer than whoever asks keeps a connection that is idle: closed from here, it may be just as the next request comes.
server.server.keepAliveTimeout = 75_000;
