import type { MaterialDocument, Part } from './project.ts';
import type { Parameter } from './shader.ts';

type Named = Pick<Parameter, 'id' | 'name'>;
type Kept<T> = Readonly<Record<string, T>>;

/** The key a parameter's value is stored under: its id in materials; its name in shared values, which shaders share by name. */
export const valueKey = ({ id, name, scope }: Pick<Parameter, 'id' | 'name' | 'scope'>): string =>
  scope === 'shared' ? name : id;

/** What a material stores by parameter id, by parameter name. Entries that no parameter has are left out. */
export const byName = <T>(kept: Kept<T> | undefined, parameters: readonly Named[]): Record<string, T> =>
  Object.fromEntries(
    parameters.flatMap(({ id, name }): [string, T][] =>
      kept && Object.hasOwn(kept, id) ? [[name, kept[id]!]] : [],
    ),
  );

/** The same material with every key of its values, presets, pictures, textures and sampling replaced. */
const rekeyed = (material: MaterialDocument, keyOf: (key: string) => string): MaterialDocument => {
  const map = <T>(kept: Kept<T>): Kept<T> =>
    Object.fromEntries(Object.entries(kept).map(([key, each]) => [keyOf(key), each]));
  return {
    ...material,
    values: map(material.values),
    ...(material.pictures && { pictures: map(material.pictures) }),
    ...(material.made && { made: map(material.made) }),
    ...(material.sampling && { sampling: map(material.sampling) }),
    ...(material.presets && {
      presets: material.presets.map((each) => ({ ...each, values: map(each.values) })),
    }),
  };
};

/** A material whose keys are parameter names, as version 1 stored them, with ids in their place. Unknown names stay. */
export const withIds = (material: MaterialDocument, parameters: readonly Named[]): MaterialDocument => {
  const ids = new Map(parameters.map(({ id, name }) => [name, id]));
  const { named: _, ...bound } = rekeyed(material, (name) => ids.get(name) ?? name);
  return bound;
};

/** Moves what a material stores to the parameters of another shader that have the same names. The rest stays. */
export const movedToShader = (
  material: MaterialDocument,
  before: readonly Named[],
  after: readonly Named[],
): MaterialDocument => {
  const names = new Map(before.map(({ id, name }) => [id, name]));
  const ids = new Map(after.map(({ id, name }) => [name, id]));
  const own = new Set(after.map(({ id }) => id));
  return rekeyed(material, (key) => (own.has(key) ? key : (ids.get(names.get(key) ?? '') ?? key)));
};

/** Parts that were read together, with the names that older materials store replaced by the ids of their shader's parameters. */
export const withBoundMaterials = <P extends Pick<Part, 'id' | 'kind' | 'body'>>(
  parts: readonly P[],
): readonly P[] => {
  const shaders = new Map(
    (parts as readonly unknown[] as readonly Part[]).flatMap((each) =>
      each.kind === 'shader' ? [[each.id, each.body] as const] : [],
    ),
  );
  return parts.map((part) => {
    const { kind, body } = part as unknown as Part;
    if (kind !== 'material' || !body.named) return part;
    const shader = shaders.get(body.shader);
    return shader ? { ...part, body: withIds(body, shader.parameters) } : part;
  });
};
