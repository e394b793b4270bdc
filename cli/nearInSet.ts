import { Matrix4 } from 'three';
import { standingIn } from '#core/analyse/standing.ts';
import type { Prop, StageDocument } from '#core/document/project.ts';
import type { Nearby } from '#core/evaluate/points/nearest.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import type { Volume } from '#core/meshes/volume.ts';
import { bakeVolume, OpenMeshError, volumeKey } from '#stage/field/bakeVolume.ts';
import { bakedScale, rigid } from '#stage/field/rigid.ts';

/** What was baked, or found to be open, of a mesh as large as it stands: a folder has one in several sets. */
const baked = new Map<string, Volume | null>();

/**
 * What counts for distances from a prop of a set, as the stage has it, each mesh baked once.
 * @returns of a prop: what is near it, in the world; undefined where a mesh is not here to be baked
 */
export const nearInSet = (set: StageDocument): ((asking: string) => readonly Nearby[] | undefined) => {
  const volumeOf = ({ id, unsigned = false }: Prop, world: Matrix4): Volume | null => {
    const order = { ...standingIn(set, id)!.mesh, unsigned, scale: bakedScale(world) };
    const key = volumeKey(order);
    const known = baked.get(key);
    if (known !== undefined) return known;
    let made: Volume | null = null;
    try {
      made = bakeVolume(order);
    } catch (error) {
      // It counts as nowhere, and a check says so.
      if (!(error instanceof OpenMeshError)) throw error;
    }
    baked.set(key, made);
    return made;
  };
  return (asking) => {
    const near = set.props.filter(({ id, hidden, fieldless }) => id !== asking && !hidden && !fieldless);
    if (near.some(({ mesh }) => broughtFor(mesh)?.isHere === false)) return undefined;
    return near.flatMap((prop): Nearby[] => {
      const world = new Matrix4().fromArray(standingIn(set, prop.id)!.placement);
      const volume = volumeOf(prop, world);
      return volume ? [{ volume, toMesh: rigid(world).place.invert().elements }] : [];
    });
  };
};
