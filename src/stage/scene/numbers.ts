import type { MaterialNumbers } from './propMaterial.ts';
import type { createTextures } from './textures.ts';

/** A material's numbers, and where the picture of each texture comes from. */
export interface StageNumbers extends Omit<MaterialNumbers, 'textures'> {
  readonly pictures?: ReadonlyMap<string, string>;
}

/** Whether two maps hold the same under the same names. */
export const isSameMap = <V>(
  a: ReadonlyMap<string, V>,
  b: ReadonlyMap<string, V>,
  isSame: (one: V, other: V | undefined) => boolean,
): boolean => a.size === b.size && [...a].every(([name, value]) => isSame(value, b.get(name)));
const isSameRow = (a: ArrayLike<number>, b: ArrayLike<number> | undefined): boolean =>
  a === b || (a.length === b?.length && Array.prototype.every.call(a, (x, i) => x === b[i]));
/** Whether both are the same numbers, so that what was saved is not drawn again for coming back. */
export const isSameNumbers = (a: StageNumbers, b: StageNumbers): boolean =>
  isSameMap(a.parameters, b.parameters, isSameRow) &&
  isSameMap(a.knobs, b.knobs, isSameRow) &&
  isSameMap<ArrayLike<number>>(a.tables ?? new Map(), b.tables ?? new Map(), isSameRow) &&
  isSameMap(a.pictures ?? new Map(), b.pictures ?? new Map(), Object.is);

/** What each material is drawn with: its numbers, and the pictures it reads. */
export const createNumbers = (textures: ReturnType<typeof createTextures>) => {
  const kept = new Map<string, { readonly told: StageNumbers; readonly drawn: MaterialNumbers }>();
  return {
    of: (material: string): MaterialNumbers | undefined => kept.get(material)?.drawn,
    /** @returns false where they are what they were */
    set: (material: string, told: StageNumbers): boolean => {
      const before = kept.get(material);
      if (before && isSameNumbers(before.told, told)) return false;
      const { pictures = new Map<string, string>(), ...numbers } = told;
      const sampled = new Map([...pictures].map(([name, address]) => [name, textures.textureAt(address)]));
      kept.set(material, { told, drawn: { ...numbers, textures: sampled } });
      return true;
    },
    /** Lets go of all other materials', and of pictures that none reads any more. */
    keepOnly: (isWanted: (material: string) => boolean): void => {
      for (const material of kept.keys()) if (!isWanted(material)) kept.delete(material);
      textures.keepOnly(
        new Set([...kept.values()].flatMap(({ told }) => [...(told.pictures?.values() ?? [])])),
      );
    },
  };
};
