import { MESH_KINDS, type MadeRecipe, type MeshRecipe } from './makeMesh.ts';

/** What a number of a new mesh begins at, where its field does not say. */
const BEGINS = { metres: 1, quads: 32 };

/** A mesh of a kind as it is begun: a metre in size, fine enough to bend. */
export const meshStarter = (kind: MadeRecipe['kind']): MeshRecipe => {
  const { fields, words = {} } = MESH_KINDS.get(kind)!;
  return {
    kind,
    ...Object.fromEntries(
      Object.entries(fields).map(([name, { numbers, whole, otherwise }]) => {
        const one = otherwise ?? (whole ? BEGINS.quads : BEGINS.metres);
        return [
          name,
          numbers === 1 || typeof one === 'object' ? one : Array.from({ length: numbers }, () => one),
        ];
      }),
    ),
    ...Object.fromEntries(Object.entries(words).map(([name, { otherwise }]) => [name, otherwise])),
  } as unknown as MeshRecipe;
};
