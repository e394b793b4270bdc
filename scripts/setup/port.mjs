import { createServer } from 'node:net';

/** Whether nobody listens there. */
export const isFree = (port, host = '127.0.0.1') =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, host, () => probe.close(() => resolve(true)));
  });

/** Whether this machine has an address at all. */
export const canListen = (host) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(0, host, () => probe.close(() => resolve(true)));
  });

/** A free port: the first one free from `wanted` on, or any. */
export const freePort = async (wanted = 0, host = '127.0.0.1') => {
  for (let port = wanted; wanted && port < wanted + 50; port += 1) if (await isFree(port, host)) return port;
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, host, () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
};
