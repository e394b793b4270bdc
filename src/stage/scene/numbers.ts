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

interface Kept {
  readonly told: StageNumbers;
  /** The address of the picture that each texture reads by now. */
  readonly read: ReadonlyMap<string, string>;
  readonly drawn: MaterialNumbers;
}

/** What each material is drawn with: its numbers, and the pictures it reads. */
export const createNumbers = (
  textures: Pick<ReturnType<typeof createTextures>, 'textureAt' | 'isOnItsWay' | 'keepOnly'>,
) => {
  const kept = new Map<string, Kept>();
  /** Where a picture takes the place of another that was read, the old one is read until the new one is here. */
  const keep = (told: StageNumbers, before: Kept | undefined): Kept => {
    const { pictures = new Map<string, string>(), ...numbers } = told;
    for (const address of pictures.values()) textures.textureAt(address);
    const read = new Map(
      [...pictures].map(([name, address]) => [
        name,
        textures.isOnItsWay(address) ? (before?.read.get(name) ?? address) : address,
      ]),
    );
    const sampled = new Map([...read].map(([name, address]) => [name, textures.textureAt(address)]));
    return { told, read, drawn: { ...numbers, textures: sampled } };
  };
  const letGo = (): void =>
    textures.keepOnly(
      new Set(
        [...kept.values()].flatMap(({ told, read }) => [
          ...(told.pictures?.values() ?? []),
          ...read.values(),
        ]),
      ),
    );
  return {
    of: (material: string): MaterialNumbers | undefined => kept.get(material)?.drawn,
    /** @returns false where they are what they were */
    set: (material: string, told: StageNumbers): boolean => {
      const before = kept.get(material);
      if (before && isSameNumbers(before.told, told)) return false;
      kept.set(material, keep(told, before));
      return true;
    },
    /** A picture is here, or will never be: what waits for it reads it, and what nothing reads any more is let go. */
    arrived: (): void => {
      for (const [material, each] of kept)
        if ([...each.read].some(([name, address]) => each.told.pictures?.get(name) !== address))
          kept.set(material, keep(each.told, each));
      letGo();
    },
    /** Lets go of all other materials', and of pictures that none reads any more. */
    keepOnly: (isWanted: (material: string) => boolean): void => {
      for (const material of kept.keys()) if (!isWanted(material)) kept.delete(material);
      letGo();
    },
  };
};
