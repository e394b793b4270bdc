import {
  Box3,
  ClampToEdgeWrapping,
  Color,
  CustomBlending,
  Data3DTexture,
  DataUtils,
  GLSL3,
  HalfFloatType,
  LinearFilter,
  Matrix4,
  Mesh,
  MinEquation,
  OneFactor,
  type PlaneGeometry,
  Quaternion,
  RawShaderMaterial,
  RedFormat,
  Scene,
  Vector3,
  WebGL3DRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { atRest } from '#core/meshes/imported.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import { corner, flat, FULL_FRAME } from '../passes/fullFrame.ts';
import type { Meshes } from '../scene/meshes.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';
import type { PlacedProp } from '../scene/props.ts';
import { createBakery, type Baking } from './bakery.ts';
import { PLACES, type MeshNumbers } from './bakeVolume.ts';
import { FAR, type Nearby } from '#core/evaluate/points/nearest.ts';
import { shapeOf, type Volume } from '#core/meshes/volume.ts';

/** Places along the longest side of what an asking prop reads, and along its shortest. */
const MOST = 160;
const FEWEST = 4;
/** What it reads reaches so far beyond the prop, as a share of its longest side. */
const BEYOND = 0.03;
/** As `distanceIn` says, on the GPU. */
const FRAGMENT = `precision highp float;
precision highp sampler3D;
in vec2 at;
out vec4 color;
uniform sampler3D volume;
uniform mat4 toMesh; uniform mat4 toWorld; uniform float layer;
uniform vec3 low; uniform vec3 high; uniform vec3 places;
float stored(vec3 p) { return texture(volume, (p - low) / (high - low)).r; }
void main() {
  vec3 p = (toMesh * toWorld * vec4(at, layer, 1.0)).xyz;
  vec3 pace = (high - low) / places;
  vec3 first = low + pace * 0.5, last = high - pace * 0.5;
  vec3 q = clamp(p, first, last);
  float d = stored(q);
  if (p != q) {
    vec3 surface = q;
    for (int turn = 0; turn < 3; ++turn) {
      vec3 slope;
      for (int c = 0; c < 3; ++c) {
        vec3 a = q, b = q;
        a[c] = max(q[c] - pace[c], first[c]);
        b[c] = min(q[c] + pace[c], last[c]);
        slope[c] = (stored(b) - stored(a)) / (b[c] - a[c]);
      }
      surface = clamp(q - slope / max(length(slope), 1e-6) * stored(q), first, last);
      vec3 way = p - surface;
      float share = 1.0;
      for (int c = 0; c < 3; ++c)
        if (way[c] != 0.0) share = min(share, ((way[c] > 0.0 ? last[c] : first[c]) - surface[c]) / way[c]);
      q = clamp(surface + way * share, first, last);
    }
    d = length(p - surface);
  }
  color = vec4(d, 0.0, 0.0, 1.0);
}`;

const textureOf = ({ size: [x, y, z], values }: Volume): Data3DTexture => {
  const texture = new Data3DTexture(Uint16Array.from(values, DataUtils.toHalfFloat), x, y, z);
  texture.format = RedFormat;
  texture.type = HalfFloatType;
  texture.minFilter = texture.magFilter = LinearFilter;
  texture.wrapS = texture.wrapT = texture.wrapR = ClampToEdgeWrapping;
  texture.unpackAlignment = 2;
  texture.needsUpdate = true;
  return texture;
};

/** A place without its size: distances are baked of the mesh as large as it stands, and stay as they are when it moves. */
const rigid = (world: Matrix4): { readonly place: Matrix4; readonly size: Vector3 } => {
  const [at, way, size] = [new Vector3(), new Quaternion(), new Vector3()];
  world.decompose(at, way, size);
  return { place: new Matrix4().compose(at, way, new Vector3(1, 1, 1)), size };
};
const keyOf = ({ recipe, object }: PlacedProp): string => {
  const { size } = rigid(object.matrixWorld);
  return `${PLACES} ${size.toArray().map((x) => x.toFixed(4))} ${JSON.stringify(atRest(recipe))}`;
};
const asks = ({ object }: PlacedProp): boolean =>
  (object.userData['material'] as PropMaterial | undefined)?.needs.has('surfaceDistance') ?? false;
const isNear = ({ hidden, object, recipe }: PlacedProp): boolean =>
  !hidden && object.userData['inField'] === true && (broughtFor(recipe)?.isHere ?? true);

/** A prop that counts, and what its volume is known by. */
interface Near {
  readonly each: PlacedProp;
  readonly key: string;
}
/** What one asking prop reads, and what it was made of last. */
interface Read {
  target: WebGL3DRenderTarget;
  frame: Matrix4;
  made: string;
}

/** How far the nearest surface of other props is, for each prop whose shader asks: a volume around that prop. */
export const createField = (
  renderer: WebGLRenderer,
  meshes: Meshes,
  events: {
    readonly onChanged: () => void;
    readonly onBaking: (baking: Baking | null) => void;
    readonly onRefused: (why: string) => void;
    /** Whether what was not kept is baked. */
    readonly bakes: boolean;
  },
) => {
  const volumes = new Map<string, { readonly volume: Volume; readonly texture: Data3DTexture }>();
  const reads = new Map<string, Read>();
  const sources = new Map<string, Mesh<PlaneGeometry, RawShaderMaterial>>();
  const scene = new Scene();
  /** The meshes that stood when baking was given up: until others do, it stays given up. */
  let cancelled: string | null = null;
  let standing = '';
  const bakery = createBakery({
    bakes: events.bakes,
    onVolume: (key, volume) => {
      volumes.set(key, { volume, texture: textureOf(volume) });
      events.onChanged();
    },
    onRefused: (_key, why) => events.onRefused(why),
    onProgress: (baking) => {
      events.onBaking(baking);
      if (!baking) events.onChanged();
    },
  });

  const grown = (prop: PlacedProp): MeshNumbers => {
    const { positions, indices } = meshes.meshFor(atRest(prop.recipe));
    const size = rigid(prop.object.matrixWorld).size.toArray();
    return { positions: positions.map((x, i) => x * size[i % 3]!), indices: indices.slice() };
  };
  const sourceFor = (id: string): Mesh<PlaneGeometry, RawShaderMaterial> => {
    const known = sources.get(id);
    if (known) return known;
    const uniforms = Object.fromEntries(
      ['volume', 'toMesh', 'toWorld', 'layer', 'low', 'high', 'places'].map((name) => [
        name,
        { value: null as unknown },
      ]),
    );
    const material = new RawShaderMaterial({
      ...{ glslVersion: GLSL3, vertexShader: FULL_FRAME, fragmentShader: FRAGMENT, uniforms },
      ...{ depthTest: false, depthWrite: false, transparent: true, blending: CustomBlending },
      ...{ blendEquation: MinEquation, blendSrc: OneFactor, blendDst: OneFactor },
    });
    const made = new Mesh(corner, material);
    made.frustumCulled = false;
    sources.set(id, made);
    scene.add(made);
    return made;
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
    const size = shapeOf(
      order.map((c) => low[c]!) as unknown as readonly [number, number, number],
      order.map((c) => high[c]!) as unknown as readonly [number, number, number],
      ...([MOST, FEWEST] as const),
    );
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
    for (const source of sources.values()) source.visible = false;
    const drawn = told.map(({ each, key }) => {
      const { volume, texture } = volumes.get(key)!;
      const source = sourceFor(each.id);
      const { uniforms } = source.material;
      source.visible = true;
      uniforms['volume']!.value = texture;
      uniforms['toMesh']!.value = rigid(each.object.matrixWorld).place.invert();
      uniforms['toWorld']!.value = toWorld;
      uniforms['low']!.value = new Vector3(...volume.low);
      uniforms['high']!.value = new Vector3(...volume.high);
      uniforms['places']!.value = new Vector3(...volume.size);
      return source.material;
    });
    const [cleared, alpha] = [renderer.getClearColor(new Color()), renderer.getClearAlpha()];
    for (let layer = 0; layer < size[2]; layer += 1) {
      for (const material of drawn) {
        material.uniforms['layer']!.value = (layer + 0.5) / size[2];
        material.uniformsNeedUpdate = true;
      }
      renderer.setRenderTarget(target, layer);
      renderer.setClearColor(new Color(FAR, FAR, FAR), 1);
      renderer.clear(true, false, false);
      if (drawn.length) renderer.render(scene, flat);
    }
    renderer.setRenderTarget(null);
    renderer.setClearColor(cleared, alpha);
    const frame = toWorld.clone().invert();
    reads.set(prop.id, { target, frame, made });
    prop.object.userData['field'] = { map: target.texture as Texture, frame };
  };

  return {
    /** Bakes what is missing and brings what asking props read in step with where the others stand. */
    update: (props: readonly PlacedProp[]): void => {
      const asking = props.filter((each) => !each.hidden && asks(each));
      for (const [id, read] of reads)
        if (!asking.some((each) => each.id === id)) {
          read.target.dispose();
          reads.delete(id);
        }
      if (!asking.length) return;
      const near = props.filter(isNear).map((each): Near => ({ each, key: keyOf(each) }));
      const wanted = new Set(near.map(({ key }) => key));
      standing = [...wanted].sort().join();
      if (cancelled !== standing) cancelled = null;
      for (const [key, { texture }] of volumes)
        if (!wanted.has(key)) {
          texture.dispose();
          volumes.delete(key);
          bakery.forget(key);
        }
      for (const { each, key } of near) {
        const others = asking.some((prop) => prop !== each);
        if (others && cancelled === null && !volumes.has(key)) bakery.ask(key, () => grown(each));
      }
      for (const each of asking) draw(each, near);
      for (const [id, source] of sources)
        if (!props.some((each) => each.id === id)) {
          scene.remove(source);
          source.material.dispose();
          sources.delete(id);
        }
    },
    /** What counts for a prop that asks, as far as it is known yet; undefined of one that does not ask. */
    near: (props: readonly PlacedProp[], prop: PlacedProp): readonly Nearby[] | undefined =>
      asks(prop)
        ? props.filter(isNear).flatMap((each) => {
            const known = each === prop ? undefined : volumes.get(keyOf(each));
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
    isBaking: bakery.isBaking,
    settled: bakery.settled,
    /** Draws again what is read: what was on the GPU is gone. */
    redraw: (): void => {
      for (const read of reads.values()) read.made = '';
    },
    /** Gives up baking until what stands there has other meshes. */
    cancel: (): void => {
      cancelled = standing;
      bakery.cancel();
    },
    dispose: (): void => {
      bakery.dispose();
      for (const { texture } of volumes.values()) texture.dispose();
      for (const { target } of reads.values()) target.dispose();
      for (const source of sources.values()) source.material.dispose();
    },
  };
};
export type Field = ReturnType<typeof createField>;
