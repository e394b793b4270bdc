import {
  ENVELOPE,
  objectSchema,
  readFields,
  type Fields,
  type ReadAll,
  type Reading,
  type Schema,
} from './fields.ts';
import { createReader, readFormat, type Problem, type Reader } from './read.ts';

export type ParsedDocument<T> =
  | { readonly document: T; readonly problems: readonly [] }
  | { readonly document: null; readonly problems: readonly Problem[] };

/** One kind of document: its type, how it is read, and how a schema says it. */
export interface DocumentKind<T> {
  readonly version: number;
  readonly schema: Schema;
  /** Reads one from JSON: what comes back, and only that, is the document. */
  readonly parse: (json: unknown, how?: Reading) => ParsedDocument<T>;
}
/** The documents of a kind. */
export type DocumentOf<K> = K extends DocumentKind<infer T> ? T : never;

interface Declared<N extends string, V extends number, F extends Fields> {
  readonly name: N;
  readonly version: V;
  readonly fields: F;
  /** Brings what an older version wrote to this one. */
  readonly migrate?: (document: Envelope<N, V> & ReadAll<F>, from: number) => Envelope<N, V> & ReadAll<F>;
  /** What no field can tell alone: names that are there twice, sums that are too large. */
  readonly check?: (r: Reader, document: ReadAll<F>) => void;
}
interface Envelope<N extends string, V extends number> {
  readonly format: `wicked-veil/${N}`;
  readonly version: V;
}

/** Declares a kind of document. */
export const documentKind = <const N extends string, const V extends number, F extends Fields>({
  name,
  version,
  fields,
  migrate,
  check,
}: Declared<N, V, F>): DocumentKind<Envelope<N, V> & ReadAll<F>> => {
  const format = `wicked-veil/${name}` as const;
  const body = objectSchema(fields);
  return {
    version,
    schema: {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      $id: `wicked-veil/${name}-${version}.schema.json`,
      title: `Wicked Veil ${name}, version ${version}`,
      type: 'object',
      properties: {
        format: { const: format },
        version: { type: 'integer', minimum: 1, maximum: version },
        ...body.properties,
      },
      required: ['format', 'version', ...body.required],
      additionalProperties: false,
    },
    parse: (json, how = {}) => {
      const r = createReader(how.strict);
      const given = r.object(json, '', [...ENVELOPE, ...Object.keys(fields)]);
      const found = readFormat(r, given, format, version);
      if (found > version) return { document: null, problems: r.problems };
      const read = { format, version, ...readFields(fields, r, given, '', how) };
      const document = migrate && found < version ? migrate(read, found) : read;
      if (!r.problems.length) check?.(r, document);
      return r.problems.length ? { document: null, problems: r.problems } : { document, problems: [] };
    },
  };
};
