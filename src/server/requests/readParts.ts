import { runJob } from '../jobs/threads.ts';
import { PART_REQUESTS, type Kinds } from './parts.ts';
import { readBytes } from './readJson.ts';

type Asked = typeof PART_REQUESTS;

/** Larger bodies are read in a thread: the longest take keeps one busy for a second. */
const LARGEST_HERE = 64 * 1024;

/** Reads a request that brings documents. @param kinds of the parts there are; only read where parts are saved */
export const readParts = async <R extends keyof Asked>(
  request: Request,
  asked: R,
  kinds: Kinds = {},
): Promise<ReturnType<Asked[R]>> => {
  const bytes = await readBytes(request);
  const made =
    bytes.length <= LARGEST_HERE
      ? PART_REQUESTS[asked](bytes, kinds)
      : await runJob('readParts', asked, bytes, kinds);
  return made as ReturnType<Asked[R]>;
};
