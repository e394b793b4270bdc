import { MESH_KINDS, type MeshRecipe } from '../meshes/makeMesh.ts';
import type { Field as MeshField, MeshKind, WordField } from '../meshes/kind.ts';
import { MOST_CLIPS, MOST_NODES } from '../meshes/imported.ts';
import { list, number, object, text, told, type Field, type Reading, type Schema } from './fields.ts';
import { picture } from './picture.ts';
import { orElse, type Reader } from './read.ts';

const SHA = /^[0-9a-f]{64}$/;

/** Every kind had these before kinds had fields of their own. */
const LEFT_BEHIND = ['folds', 'depth'];

const readField = (
  r: Reader,
  field: MeshField,
  given: unknown,
  path: string,
  how: Reading,
): number | number[] => {
  const one = (wanted: number, at: string): number => {
    const x = field.whole ? Math.round(wanted) : wanted;
    // What was stored before there were limits is held at them.
    if (field.whole && how.strict === false) return Math.min(Math.max(x, field.least), field.most);
    if (x < field.least || x > field.most)
      r.problem(at, `This should lie between ${field.least} and ${field.most}, and is ${x}.`);
    return x;
  };
  return field.numbers === 1
    ? one(r.number(orElse(given, field.otherwise), path), path)
    : r.numbers(orElse(given, field.otherwise), path, field.numbers).map((x, i) => one(x, `${path}[${i}]`));
};

const readWord = (r: Reader, field: WordField, given: unknown, path: string): string => {
  const word = orElse(given, field.otherwise);
  return field.options ? r.oneOf(word, path, field.options) : r.text(word, path, field.most);
};

const clipsOf = list(object({ name: text(120), length: told(number, 'Seconds.') }), MOST_CLIPS);
const jointsOf = list(text(120), MOST_NODES);

const readImported = (r: Reader, value: unknown, path: string): MeshRecipe => {
  const keys = ['kind', 'blob', 'file', 'triangles', 'clips', 'joints'];
  const { blob, file, triangles, clips, joints } = r.object(value, path, keys);
  const sha = r.text(blob, `${path}.blob`, 64);
  if (!SHA.test(sha)) r.problem(`${path}.blob`, 'The SHA-256 of the mesh’s bytes: 64 of 0–9 and a–f.');
  return {
    kind: 'imported',
    blob: sha,
    file: r.text(file, `${path}.file`, 200),
    triangles: r.number(triangles, `${path}.triangles`),
    ...(clips === undefined ? {} : { clips: clipsOf.read(r, clips, `${path}.clips`, {}) }),
    ...(joints === undefined ? {} : { joints: jointsOf.read(r, joints, `${path}.joints`, {}) }),
  };
};

/** Reads what a mesh is made from, by the fields that its kind declares. */
const readMesh = (r: Reader, value: unknown, path: string, how: Reading): MeshRecipe => {
  const { kind } = r.object(value, path);
  if (kind === 'imported') return readImported(r, value, path);
  const name = r.oneOf(kind, `${path}.kind`, [...MESH_KINDS.keys()]);
  const { fields, words = {}, picture: reads } = MESH_KINDS.get(name)!;
  const keys = [
    'kind',
    ...Object.keys(fields),
    ...Object.keys(words),
    ...(reads ? ['picture'] : []),
    ...LEFT_BEHIND,
  ];
  const given = r.object(value, path, keys);
  return {
    kind: name,
    ...(reads && given['picture'] !== undefined
      ? { picture: picture.read(r, given['picture'], `${path}.picture`, how) }
      : {}),
    ...Object.fromEntries(
      Object.entries(fields).map(([key, field]) => [
        key,
        readField(r, field, given[key], `${path}.${key}`, how),
      ]),
    ),
    ...Object.fromEntries(
      Object.entries(words).map(([key, field]) => [key, readWord(r, field, given[key], `${path}.${key}`)]),
    ),
  } as unknown as MeshRecipe;
};

const fieldSchema = ({ numbers: size, whole, least, most }: MeshField): Schema => {
  const one: Schema = { type: whole ? 'integer' : 'number', minimum: least, maximum: most };
  return size === 1 ? one : { type: 'array', items: one, minItems: size, maxItems: size };
};
const wordSchema = ({ options, most }: WordField): Schema =>
  options ? { enum: [...options] } : { type: 'string', maxLength: most };
/** A kind of mesh as documents write it, from the fields it declares. */
const kindSchema = ({ kind, summary, fields, words = {}, picture: reads }: MeshKind): Schema => ({
  type: 'object',
  properties: {
    kind: { const: kind },
    ...(reads ? { picture: picture.schema } : {}),
    ...Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, fieldSchema(field)])),
    ...Object.fromEntries(Object.entries(words).map(([name, field]) => [name, wordSchema(field)])),
  },
  required: ['kind', ...Object.keys(fields).filter((name) => fields[name]!.otherwise === undefined)],
  additionalProperties: false,
  description: summary,
});

/** What a mesh is made from. */
export const mesh: Field<MeshRecipe> = {
  schema: {
    oneOf: [
      ...[...MESH_KINDS.values()].map(kindSchema),
      {
        type: 'object',
        properties: {
          kind: { const: 'imported' },
          blob: { type: 'string', pattern: SHA.source },
          file: { type: 'string', maxLength: 200 },
          triangles: { type: 'number' },
          clips: { ...clipsOf.schema, description: 'Its clips, which cues play.' },
          joints: { ...jointsOf.schema, description: 'Names of its nodes, which others may hang on.' },
        },
        required: ['kind', 'blob', 'file', 'triangles'],
        additionalProperties: false,
        description: 'Brought from a file; kept as a binary glTF of one mesh, by the SHA-256 of its bytes.',
      },
    ],
  },
  read: readMesh,
};
