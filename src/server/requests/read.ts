import 'reflect-metadata';
import { validateSync, type ValidationError } from 'class-validator';
import { ApiError } from '../errors.ts';
import { readJson } from './readJson.ts';

export { LARGEST_BODY } from './readJson.ts';

/** A request's shape: a class whose fields are checked by their decorators. */
export interface Shape<T> {
  new (): T;
  /** Every field there may be. */
  readonly fields: readonly string[];
}

const sentences = (errors: readonly ValidationError[]): string[] =>
  errors.flatMap((error) => [
    ...Object.values(error.constraints ?? {}).map((each) => `${each}.`),
    ...sentences(error.children ?? []),
  ]);

/**
 * Reads a request's JSON body as the given shape. What is nested in its fields passes as it is: the document's own
 * reader looks at that.
 * @throws ApiError that says what should be there
 */
export const readBody = async <T extends object>(request: Request, shape: Shape<T>): Promise<T> => {
  return readAs(await readJson(request), shape);
};

/** Reads an object as the given shape, as `readBody` does. @throws ApiError that says what should be there */
export const readAs = <T extends object>(body: object, shape: Shape<T>): T => {
  const unknown = Object.keys(body).find((name) => !shape.fields.includes(name));
  if (unknown !== undefined)
    throw new ApiError(
      422,
      'invalid',
      `There is no field “${unknown.slice(0, 64)}” here; there is ${shape.fields.join(', ')}.`,
    );
  const instance = Object.assign(new shape(), body);
  const errors = validateSync(instance, { forbidUnknownValues: true });
  if (errors.length)
    throw new ApiError(422, 'invalid', sentences(errors).join(' '), { problems: sentences(errors) });
  return instance;
};
