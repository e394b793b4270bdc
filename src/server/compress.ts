import { promisify } from 'node:util';
import { gzip } from 'node:zlib';

const squeeze = promisify(gzip);

/** In bytes. Less is not worth it; more would keep the machine longer than it saves on the way. */
const LEAST = 1024;
const MOST = 512 * 1024;

/** A page or an answer as fewer bytes, where whoever asked can read them. */
export const compressed = async (request: Request, response: Response): Promise<Response> => {
  const { headers, status, statusText } = response;
  const takes = /\bgzip\b/.test(request.headers.get('accept-encoding') ?? '');
  if (!takes || !response.body || headers.has('content-encoding')) return response;
  if (!/^text\/html|json/.test(headers.get('content-type') ?? '')) return response;
  const whole = Buffer.from(await response.arrayBuffer());
  const fits = whole.length >= LEAST && whole.length <= MOST;
  const body = fits ? await squeeze(whole, { level: 5 }) : whole;
  const made = new Response(new Uint8Array(body), { headers, status, statusText });
  made.headers.append('vary', 'Accept-Encoding');
  made.headers.set('content-length', String(body.length));
  if (fits) made.headers.set('content-encoding', 'gzip');
  return made;
};
