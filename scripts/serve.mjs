// The built server, as a child of whoever started it: when that one is gone, so is this.
process.on('disconnect', () => process.exit(0));
// What was taken is finished by then; idle connections to the database need not be waited for.
process.on('sveltekit:shutdown', () => process.exit(0));
const { server } = await import('../build/index.js');
// Files go out past the app's own hooks: what they are is not to be guessed from their bytes either.
server.server.prependListener('request', (_, response) =>
  response.setHeader('x-content-type-options', 'nosniff'),
);
// Longer than whoever asks keeps a connection that is idle: closed from here, it may be just as the next request comes.
server.server.keepAliveTimeout = 75_000;
