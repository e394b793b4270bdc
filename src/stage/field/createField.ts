import {
  Box3,
  ClampToEdgeWrapping,
  Data3DTexture,
  DataUtils,
  HalfFloatType,
  LinearFilter,
  Matrix4,
  RedFormat,
  Vector3,
  WebGL3DRenderTarget,
  WebGLRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { atRest } from '#core/meshes/imported.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import type { Meshes } from '../scene/meshes.ts';
import type { PlacedProp } from '../scene/props.ts';
import { createBakery, type Baking } from './bakery.ts';
import type { Refused } from './bake.worker.ts';
import { PLACES, volumeKey, type ToBake } from './bakeVolume.ts';
import { bakedScale, rigid } from './rigid.ts';
import { createDistances, type PlacedVolume } from './distances.ts';
import { filled } from '#core/numbers/filled.ts';
import type { Triple } from '#core/numbers/vectors.ts';
import type { Cut, LeftOut } from '../stage.ts';
import type { Nearby } from '#core/evaluate/points/nearest.ts';
import { shapeOf, type Volume } from '#core/meshes/volume.ts';

/** Places along the longest side of what an asking prop reads, along its shortest, and in all of it. */
const MOST = 160;
const FEWEST = 4;
const MOST_PLACES = PLACES ** 3;
/** Places along the longer side of a plane that is looked at, and how far it reaches beyond all that counts, as a share of its longest side. */
const MOST_CUT = 512;
const AROUND = 0.2;
/** What it reads reaches so far beyond the prop, as a share of its longest side. */
const BEYOND = 0.03;
const textureOf = ({ size: [x, y, z], values }: Volume): Data3DTexture => {
  const halves = filled(new Uint16Array(values.length), (i) => DataUtils.toHalfFloat(values[i]!));
  const texture = new Data3DTexture(halves, x, y, z);
  texture.format = RedFormat;
  texture.type = HalfFloatType;
  texture.minFilter = texture.magFilter = LinearFilter;
  texture.wrapS = texture.wrapT = texture.wrapR = ClampToEdgeWrapping;
  texture.unpackAlignment = 2;
  texture.needsUpdate = true;
  return texture;
};

const isNear = ({ hidden, object, recipe }: PlacedProp): boolean =>
  !hidden && object.userData['inField'] === true && (broughtFor(recipe)?.isHere ?? true);

/** A prop that counts, what its volume is baked of, and the key of that. */
interface Near {
  readonly each: PlacedProp;
  readonly order: ToBake;
  readonly key: string;
}
/** What one asking prop reads, and what it was made of last. */
interface Read {
  target: WebGL3DRenderTarget;
  frame: Matrix4;
  made: string;
}

/** A plane through the set, with the distances on it: its corner and its sides in the world. */
export interface CutPlane {
  readonly map: Texture;
  readonly low: Vector3;
  readonly right: Vector3;
  readonly up: Vector3;
  /** The box of all that counts. */
  readonly reach: readonly [Triple, Triple];
}

/** How far the nearest surface of other props is, for each prop whose shader asks: a volume around that prop. */
export const createField = (
  renderer: WebGLRenderer,
  meshes: Meshes,
  events: {
    readonly onChanged: () => void;
    /** What an asking prop reads was drawn anew: pictures of its steps made before are old. */
    readonly onRead: () => void;
    readonly onBaking: (baking: Baking | null) => void;
    /** Those that would count and cannot: all of them, whenever they are others. */
    readonly onLeftOut: (props: readonly LeftOut[]) => void;
    /** Whether what was not kept is baked. */
    readonly bakes: boolean;
  },
) => {
  const volumes = new Map<string, { readonly volume: Volume; readonly texture: Data3DTexture }>();
  const reads = new Map<string, Read>();
  const refused = new Map<string, Refused>();
  let leftOut: readonly LeftOut[] = [];
  const distances = createDistances(renderer);
  let plane: WebGLRenderTarget | null = null;
  /** The meshes that stood when baking was given up: until others do, it stays given up. */
  let cancelled: string | null = null;
  let standing = '';
  const bakery = createBakery({
    bakes: events.bakes,
    onVolume: (key, volume) => {
      volumes.set(key, { volume, texture: textureOf(volume) });
      events.onChanged();
    },
    onRefused: (key, why) => {
      refused.set(key, why);
      events.onChanged();
    },
    onProgress: (baking) => {
      events.onBaking(baking);
      if (!baking) events.onChanged();
    },
  });

  const nearOf = (each: PlacedProp): Near => {
    const { positions, indices } = meshes.meshFor(atRest(each.recipe));
    const { matrixWorld, userData } = each.object;
    const order = {
      ...{ positions, indices },
      scale: bakedScale(matrixWorld),
      unsigned: userData['unsigned'] === true,
    };
    return { each, order, key: volumeKey(order) };
  };
  const tellLeftOut = (near: readonly Near[]): void => {
    const now = near.flatMap(({ each, key }): LeftOut[] => {
      const why = refused.get(key);
      return why ? [{ prop: each.id, ...why }] : [];
    });
    if (JSON.stringify(now) === JSON.stringify(leftOut)) return;
    leftOut = now;
    events.onLeftOut(now);
  };
  /** The box of the world that an asking prop reads, as a map from the volume's own unit box: layers along its thinnest side. */
  const boxOf = ({ object }: PlacedProp): { readonly box: Box3; readonly order: readonly number[] } => {
    const moved = object.userData['movedBox'] as Box3 | null | undefined;
    const box = (object.geometry.boundingBox ?? new Box3()).clone().applyMatrix4(object.matrixWorld);
    if (moved) box.union(moved);
    const sides = box.getSize(new Vector3()).toArray();
    box.expandByScalar(Math.max(...sides) * BEYOND + 1e-3);
    return { box, order: [0, 1, 2].sort((a, b) => sides[b]! - sides[a]!) };
  };
  const placedOf = (told: readonly Near[]): readonly PlacedVolume[] =>
    told.map(({ each, key }) => ({
      ...{ id: each.id, ...volumes.get(key)! },
      toMesh: rigid(each.object.matrixWorld).place.invert(),
    }));
  const draw = (prop: PlacedProp, near: readonly Near[]): void => {
    const { box, order } = boxOf(prop);
    const told = near.filter(({ each, key }) => each !== prop && volumes.has(key));
    const made = JSON.stringify([
      ...[box.min.toArray(), box.max.toArray()],
      ...told.map(({ each, key }) => [key, each.object.matrixWorld.elements]),
    ]);
    const before = reads.get(prop.id);
    if (before?.made === made) return;
    const [low, high] = [box.min.toArray(), box.max.toArray()];
    const [first, last] = [low, high].map((each) => order.map((c) => each[c]!)) as unknown as [
      Triple,
      Triple,
    ];
    // A wall is thin, and is told finely along its sides; what is as deep as it is wide, no finer than a mesh's own volume.
    let size = shapeOf(first, last, MOST, FEWEST);
    const over = (size[0] * size[1] * size[2]) / MOST_PLACES;
    if (over > 1) size = shapeOf(first, last, Math.floor(MOST / Math.cbrt(over)), FEWEST);
    let target = before?.target;
    if (!target || target.width !== size[0] || target.height !== size[1] || target.depth !== size[2]) {
      target?.dispose();
      target = new WebGL3DRenderTarget(...size, { depthBuffer: false });
      target.texture.format = RedFormat;
      target.texture.type = HalfFloatType;
      target.texture.minFilter = target.texture.magFilter = LinearFilter;
    }
    // The unit box's own axes, along the world's in the order of their length.
    const toWorld = new Matrix4().makeBasis(
      ...(order.map((c) => new Vector3().setComponent(c, high[c]! - low[c]!)) as [Vector3, Vector3, Vector3]),
    );
    toWorld.setPosition(box.min);
    distances.draw(target, size[2], toWorld, placedOf(told));
    const frame = toWorld.clone().invert();
    reads.set(prop.id, { target, frame, made });
    prop.object.userData['field'] = { map: target.texture as Texture, frame };
    events.onRead();
  };

  return {
    /**
     * Bakes what is missing and brings what asking props read in step with where the others stand.
     * @param asking those of them that read distances
     * @param isCut whether the distances themselves are looked at, whoever asks for them
     */
    update: (props: readonly PlacedProp[], asking: readonly PlacedProp[], isCut: boolean): void => {
      for (const [id, read] of reads)
        if (!asking.some((each) => each.id === id)) {
          read.target.dispose();
          reads.delete(id);
        }
      if (!isCut) {
        plane?.dispose();
        plane = null;
      }
      if (!asking.length && !isCut) {
        bakery.want(new Map());
        if (leftOut.length) tellLeftOut([]);
        return;
      }
      const near = props.filter(isNear).map(nearOf);
      const wanted = new Set(near.map(({ key }) => key));
      standing = [...wanted].sort().join();
      if (cancelled !== standing) cancelled = null;
      for (const [key, { texture }] of volumes)
        if (!wanted.has(key)) {
          texture.dispose();
          volumes.delete(key);
        }
      for (const key of refused.keys()) if (!wanted.has(key)) refused.delete(key);
      const missing = near.filter(
        ({ each, key }) =>
          (isCut || asking.some((prop) => prop !== each)) && !volumes.has(key) && !refused.has(key),
      );
      bakery.want(cancelled === null ? new Map(missing.map(({ key, order }) => [key, order])) : new Map());
      tellLeftOut(near);
      for (const each of asking) draw(each, near);
      distances.keepOnly((id) => props.some((each) => each.id === id));
    },
    /** What counts for a prop that asks; undefined of one that does not, and while something of it is on its way. */
    near: (props: readonly PlacedProp[], prop: PlacedProp): readonly Nearby[] | undefined =>
      prop.asksNear && !bakery.isBaking()
        ? props.filter(isNear).flatMap((each) => {
            const known = each === prop ? undefined : volumes.get(nearOf(each).key);
            return known
              ? [
                  {
                    volume: known.volume,
                    toMesh: rigid(each.object.matrixWorld).place.invert().elements,
                  },
                ]
              : [];
          })
        : undefined,
    /** The distances to all that counts on a plane square to an axis of the world; null where nothing counts. */
    cut: (props: readonly PlacedProp[], { axis, at }: Cut): CutPlane | null => {
      const near = props.filter(isNear).map(nearOf);
      const box = new Box3();
      for (const { each } of near) box.union(boxOf(each).box);
      if (box.isEmpty()) return null;
      box.expandByScalar(AROUND * Math.max(...box.getSize(new Vector3()).toArray()));
      const size = box.getSize(new Vector3());
      const [right, up] = [(axis + 1) % 3, (axis + 2) % 3].map((c) =>
        new Vector3().setComponent(c, size.getComponent(c)),
      ) as [Vector3, Vector3];
      const low = box.min.clone().setComponent(axis, at);
      const step = Math.max(right.length(), up.length()) / MOST_CUT;
      const sides = [right, up].map((side) => Math.max(FEWEST, Math.round(side.length() / step)));
      plane ??= new WebGLRenderTarget(1, 1, {
        ...{ depthBuffer: false, type: HalfFloatType, format: RedFormat },
        ...{ minFilter: LinearFilter, magFilter: LinearFilter },
      });
      plane.setSize(...(sides as [number, number]));
      const toWorld = new Matrix4().makeBasis(right, up, new Vector3()).setPosition(low);
      distances.draw(plane, 1, toWorld, placedOf(near.filter(({ key }) => volumes.has(key))));
      return { map: plane.texture, low, right, up, reach: [box.min.toArray(), box.max.toArray()] };
    },
    isBaking: bakery.isBaking,
    settled: bakery.settled,
    /** Draws again what is read: what was on the GPU is gone. */
    redraw: (): void => {
      for (const read of reads.values()) read.made = '';
    },
    /** Gives up baking until what stands there has other meshes. */
    cancel: (): void => {
      cancelled = standing;
      bakery.want(new Map());
    },
    dispose: (): void => {
      bakery.dispose();
      for (const { texture } of volumes.values()) texture.dispose();
      for (const { target } of reads.values()) target.dispose();
      plane?.dispose();
      distances.dispose();
    },
  };
};
export type Field = ReturnType<typeof createField>;
