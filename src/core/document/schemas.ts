import type { Field, MeshKind } from '../meshes/kind.ts';
import { MESH_KINDS } from '../meshes/makeMesh.ts';
import { MOST_PARAMETERS, MOST_STEPS, MOST_STRANDS, LONGEST_CODE } from './parseShader.ts';
import { LONGEST_SCRIPT, MOST_OUTPUTS } from './parsePart.ts';
import { PART_KINDS, type PartKind } from './project.ts';
import { OUTPUT_NAMES, PARAMETER_KINDS, PARAMETER_SCOPES, SHADER_VERSION } from './shader.ts';

/** A JSON Schema, draft 2020-12. */
export type Schema = Readonly<Record<string, unknown>>;

const text = (maxLength: number): Schema => ({ type: 'string', maxLength });
const id = text(64);
const number: Schema = { type: 'number' };
const flag: Schema = { type: 'boolean' };
const oneOf = (values: readonly string[]): Schema => ({ enum: values });
const list = (items: Schema, maxItems: number): Schema => ({ type: 'array', items, maxItems });
const numbers = (size: number): Schema => ({ type: 'array', items: number, minItems: size, maxItems: size });
const object = (properties: Readonly<Record<string, Schema>>, optional: readonly string[] = []): Schema => ({
  type: 'object',
  properties,
  required: Object.keys(properties).filter((name) => !optional.includes(name)),
  additionalProperties: false,
});
const mapOf = (values: Schema): Schema => ({ type: 'object', additionalProperties: values });
const identifier: Schema = { type: 'string', pattern: '^[A-Za-z_][A-Za-z0-9_]*$', maxLength: 64 };

const argument: Schema = {
  description: 'A number, a vector’s numbers, or an expression (for a choice, its word).',
  oneOf: [number, { type: 'array', items: number, minItems: 2, maxItems: 4 }, text(10_000)],
};

const meshField = ({ numbers: size, whole, least, most }: Field): Schema => {
  const one: Schema = { type: whole ? 'integer' : 'number', minimum: least, maximum: most };
  return size === 1 ? one : { type: 'array', items: one, minItems: size, maxItems: size };
};
/** A kind of mesh as documents write it, from the fields it declares. */
const mesh = ({ kind, summary, fields }: MeshKind): Schema => ({
  ...object(
    {
      kind: { const: kind },
      ...Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, meshField(field)])),
    },
    Object.keys(fields).filter((name) => fields[name]!.otherwise !== undefined),
  ),
  description: summary,
});

const step = object(
  {
    id,
    operator: { ...id, description: 'An operator’s name, or code, or motif.' },
    arguments: mapOf(argument),
    muted: flag,
    note: text(500),
    code: { ...text(LONGEST_CODE), description: 'For code: GLSL ES 3.00 functions; the last one is called.' },
    motif: { ...id, description: 'For motif: its part id.' },
    output: { ...id, description: 'For motif: which of its outputs; the first unless said.' },
  },
  ['arguments', 'muted', 'note', 'code', 'motif', 'output'],
);

const strand = object(
  { id, name: identifier, note: text(500), steps: list(step, MOST_STEPS), collapsed: flag },
  ['note', 'collapsed'],
);

const parameterFields = {
  id,
  name: identifier,
  kind: oneOf(PARAMETER_KINDS),
  default: {
    ...list(number, 4096),
    description:
      'One number per component; a colour is linear r, g, b and stops; noise a seed and a period; a curve x, y, slope before, slope after per key; a gradient where, r, g, b per stop; a texture none.',
  },
  min: number,
  max: number,
  unit: text(16),
  group: text(64),
  description: text(500),
  scope: oneOf(PARAMETER_SCOPES),
  ends: { ...numbers(2), description: 'Driven from 0 to 1, the shader works between these.' },
} as const;
const PARAMETER_OPTIONAL = ['unit', 'group', 'description', 'scope', 'ends'];

const parameter = object(parameterFields, PARAMETER_OPTIONAL);
const values = mapOf(list(number, 4096));

const surface = object(
  {
    lit: flag,
    alphaMode: oneOf(['opaque', 'cutout', 'blended', 'added']),
    sides: oneOf(['front', 'back', 'both']),
    depthWrite: flag,
    outputs: {
      type: 'object',
      properties: Object.fromEntries(OUTPUT_NAMES.map((name) => [name, text(10_000)])),
      additionalProperties: false,
    },
  },
  ['outputs'],
);

const vector3 = numbers(3);

const BODIES: { readonly [kind in PartKind]: Schema } = {
  shader: object(
    {
      parameters: list(parameter, MOST_PARAMETERS),
      strands: list(strand, MOST_STRANDS),
      surface,
      renamed: {
        ...mapOf(text(2000)),
        description: 'Uniforms of the source it was imported from that go by other names here.',
      },
    },
    ['renamed'],
  ),
  material: object(
    {
      shader: { ...id, description: 'The shader’s part id.' },
      values,
      pictures: mapOf({ type: 'string', pattern: '^[0-9a-f]{64}$' }),
      presets: list(object({ name: text(64), values }, ['values']), 64),
    },
    ['values', 'pictures', 'presets'],
  ),
  stage: object({
    props: list(
      object({
        id,
        name: text(120),
        mesh: { oneOf: [...MESH_KINDS.values()].map(mesh) },
        material: id,
        position: vector3,
        rotation: vector3,
      }),
      500,
    ),
    lights: list(
      object({ kind: oneOf(['direction', 'point']), position: vector3, color: vector3, intensity: number }),
      4,
    ),
    ambientUp: vector3,
    ambientDown: vector3,
    camera: object({ position: vector3, target: vector3, fieldOfView: number }),
    bloom: object({ threshold: number, intensity: number }),
    exposure: number,
  }),
  script: object({ source: text(LONGEST_SCRIPT) }),
  motif: object(
    {
      description: text(500),
      parameters: list(
        object({ ...parameterFields, reads: text(500) }, [...PARAMETER_OPTIONAL, 'reads']),
        64,
      ),
      strands: list(strand, MOST_STRANDS),
      outputs: list(object({ id, name: identifier, expression: text(10_000) }), MOST_OUTPUTS),
    },
    ['description'],
  ),
  shared: object({ values }, ['values']),
};

export const versionOf = (kind: PartKind): number => (kind === 'shader' ? SHADER_VERSION : 1);

/** Where a kind's schema is published, under the workshop's own address. */
export const schemaFile = (kind: PartKind): string => `${kind}-${versionOf(kind)}.schema.json`;

/** The published schema of a kind of document. What it cannot say (names used twice, ranges the wrong way) `veil check` does. */
export const schemaOf = (kind: PartKind): Schema => {
  const body = BODIES[kind] as { properties: object; required: readonly string[] };
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: `wicked-veil/${schemaFile(kind)}`,
    title: `Wicked Veil ${kind}, version ${versionOf(kind)}`,
    ...body,
    properties: {
      format: { const: `wicked-veil/${kind}` },
      version: { type: 'integer', minimum: 1, maximum: versionOf(kind) },
      ...body.properties,
    },
    required: ['format', 'version', ...body.required],
  };
};

export const SCHEMA_KINDS: readonly PartKind[] = PART_KINDS;
