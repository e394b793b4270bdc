import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { ApiError } from '../errors.ts';

/** Bodies larger than this are refused unread. */
export const LARGEST_BODY = 4 * 1024 * 1024;

const sentences = (errors: readonly ValidationError[]): string[] =>
  errors.flatMap((error) => [
    ...Object.values(error.constraints ?? {}).map((each) => `${each}.`),
    ...sentences(error.children ?? []),
  ]);

/** Reads a request's JSON body as the given shape. @throws ApiError that says what should be there */
export const readBody = async <T extends object>(request: Request, shape: new () => T): Promise<T> => {
  const text = await request.text();
  if (text.length > LARGEST_BODY)
    throw new ApiError(413, 'too-large', `The request is larger than ${LARGEST_BODY / 1024 / 1024} MB.`);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new ApiError(400, 'bad-request', 'The request’s body is not JSON.');
  }
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    throw new ApiError(400, 'bad-request', 'The request’s body should be a JSON object.');
  const instance = plainToInstance(shape, body);
  const errors = validateSync(instance, { whitelist: true, forbidUnknownValues: true });
  if (errors.length)
    throw new ApiError(422, 'invalid', sentences(errors).join(' '), { problems: sentences(errors) });
  return instance;
};
