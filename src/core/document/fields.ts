import { orElse, type Reader } from './read.ts';

/** A JSON Schema, draft 2020-12. */
export type Schema = Readonly<Record<string, unknown>>;

/** How a document is read. */
export interface Reading {
  /** False for what was stored before: a field that nobody knows any more is left out. */
  readonly strict?: boolean;
  /** True for a document in a folder: a picture may be the name of a file beside it. */
  readonly files?: boolean;
}

/** What may stand at a place of a document: how it is read, and how a schema says it. */
export interface Field<T> {
  readonly schema: Schema;
  readonly read: (r: Reader, value: unknown, path: string, how: Reading) => T;
  /** Present where the field may be left out. */
  readonly start?: { readonly value: T };
}
/** A field that may be left out, and then is not there. */
export interface OptionalField<T> extends Field<T> {
  readonly optional: true;
}
export type Fields = Readonly<Record<string, Field<unknown>>>;

/** What a field is read as. */
export type Read<F> = F extends Field<infer T> ? T : never;
type Flat<T> = { readonly [K in keyof T]: T[K] };
export type ReadAll<F extends Fields> = Flat<
  { readonly [K in keyof F as F[K] extends OptionalField<unknown> ? never : K]: Read<F[K]> } & {
    readonly [K in keyof F as F[K] extends OptionalField<unknown> ? K : never]?: Read<F[K]>;
  }
>;

/** Fields that every document has, or may have. */
export const ENVELOPE: readonly string[] = ['$schema', 'format', 'version'];

export const number: Field<number> = {
  schema: { type: 'number' },
  read: (r, value, path) => r.number(value, path),
};
export const flag: Field<boolean> = {
  schema: { type: 'boolean' },
  read: (r, value, path) => r.flag(value, path),
};
/** @param most characters */
export const text = (most = 10_000): Field<string> => ({
  schema: { type: 'string', maxLength: most },
  read: (r, value, path) => r.text(value, path, most),
});
export const id = text(64);
/** A name of GLSL; what else is wrong with it is said by whoever knows what is taken. */
export const identifier: Field<string> = {
  schema: { type: 'string', pattern: '^[A-Za-z_][A-Za-z0-9_]*$', maxLength: 64 },
  read: (r, value, path) => r.text(value, path),
};
export const oneOf = <const W extends string>(words: readonly W[]): Field<W> => ({
  schema: { enum: words },
  read: (r, value, path) => r.oneOf(value, path, words),
});
export const list = <T>(item: Field<T>, most: number): Field<readonly T[]> => ({
  schema: { type: 'array', items: item.schema, maxItems: most },
  read: (r, value, path, how) => r.list(value, path, most, (each, at) => item.read(r, each, at, how)),
});

type Tuple = { readonly 2: readonly [number, number]; readonly 3: readonly [number, number, number] };
export const numbers = <N extends keyof Tuple>(size: N): Field<Tuple[N]> => ({
  schema: { type: 'array', items: number.schema, minItems: size, maxItems: size },
  read: (r, value, path) => r.numbers(value, path, size) as unknown as Tuple[N],
});

/** An object of any names. */
export const mapOf = <T>(values: Field<T>): Field<Readonly<Record<string, T>>> => ({
  schema: { type: 'object', additionalProperties: values.schema },
  read: (r, value, path, how) =>
    Object.fromEntries(
      Object.entries(r.object(value, path)).map(([name, each]) => [
        name,
        values.read(r, each, path ? `${path}.${name}` : name, how),
      ]),
    ),
});

/** A field that is not there where it is left out. */
export const optional = <T>(field: Field<T>): OptionalField<T> => ({ ...field, optional: true });
/** A field that stands at `value` where it is left out. */
export const standing = <T>(field: Field<T>, value: T): Field<T> => ({ ...field, start: { value } });
/** The same field with what a reader of the schema should know. */
export const told = <F extends Field<unknown>>(field: F, description: string): F => ({
  ...field,
  schema: { ...field.schema, description },
});

const isOptional = (field: Field<unknown>): boolean => 'optional' in field || field.start !== undefined;

/** The schema of an object that has these fields and no others. */
export const objectSchema = (
  fields: Fields,
): Schema & { readonly properties: object; readonly required: readonly string[] } => ({
  type: 'object',
  properties: Object.fromEntries(Object.entries(fields).map(([name, { schema }]) => [name, schema])),
  required: Object.keys(fields).filter((name) => !isOptional(fields[name]!)),
  additionalProperties: false,
});

/** Reads an object’s fields, whatever else stands in it. */
export const readFields = <F extends Fields>(
  fields: F,
  ...[r, value, path, how]: Parameters<Field<unknown>['read']>
): ReadAll<F> => {
  const given = value as Readonly<Record<string, unknown>>;
  const made: Record<string, unknown> = {};
  for (const [name, field] of Object.entries(fields)) {
    if (given[name] === undefined && 'optional' in field) continue;
    made[name] = field.read(r, orElse(given[name], field.start?.value), path ? `${path}.${name}` : name, how);
  }
  return made as ReadAll<F>;
};

export const object = <F extends Fields>(fields: F): Field<ReadAll<F>> => ({
  schema: objectSchema(fields),
  read: (r, value, path, how) => readFields(fields, r, r.object(value, path, Object.keys(fields)), path, how),
});
