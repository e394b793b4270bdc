// The built server, as a child of whoever started it: when that one is gone, so is this.
process.on('disconnect', () => process.exit(0));
// What was taken is finished by then; idle connections to the database need not be waited for.
process.on('sveltekit:shutdown', () => process.exit(0));
await import('../build/index.js');
