// The built server, as a child of whoever started it: when that one is gone, so is this.
process.on('disconnect', () => process.exit(0));
await import('../build/index.js');
