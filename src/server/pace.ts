import { ApiError } from './errors.ts';

/** Writes a project may make at once, and how many more it earns a second. */
const BURST = 240;
const PER_SECOND = 120;
/** Projects remembered; the oldest are forgotten first. */
const MOST = 1000;

const buckets = new Map<string, { left: number; at: number }>();

/** Lets a write through, or refuses it for a moment. @throws ApiError 429 */
export const allowSave = (given: string, now = performance.now()): void => {
  // An address is the same however it is spelled.
  const project = given.toLowerCase();
  const before = buckets.get(project) ?? { left: BURST, at: now };
  const left = Math.min(BURST, before.left + ((now - before.at) / 1000) * PER_SECOND);
  if (left < 1)
    throw new ApiError(
      429,
      'too-often',
      'This project is being saved too often; it is tried again in a moment.',
    );
  buckets.delete(project);
  buckets.set(project, { left: left - 1, at: now });
  if (buckets.size > MOST) buckets.delete(buckets.keys().next().value!);
};
