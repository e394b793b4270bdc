import {
  Group,
  Mesh as MeshObject,
  type Object3D,
  type PerspectiveCamera,
  type Matrix4,
  type Scene,
  type Texture,
  type Vector3,
} from 'three';
import { prepareMovedBounds } from '#core/analyse/movedBounds.ts';
import type { StageDocument } from '#core/document/project.ts';
import { broughtFor, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { createPoses } from './poses.ts';
import { faceCamera } from './faceCamera.ts';
import type { Meshes } from './meshes.ts';
import { NOWHERE, type CameraFrame, type PropMaterial } from './propMaterial.ts';

type Prop = StageDocument['props'][number];

export interface PlacedProp {
  readonly id: string;
  readonly material: string;
  /** Its place: what stands on it stands in here, whether it is seen itself or not. */
  readonly node: Group;
  readonly object: MeshObject;
  readonly recipe: MeshRecipe;
  readonly hidden: boolean;
  readonly locked: boolean;
  readonly solid: boolean;
  /** Its shader reads how far the surfaces of others are. */
  readonly asksNear: boolean;
  /** Finds where its offset takes it, for what its shader is now. */
  readonly moved: ReturnType<typeof prepareMovedBounds> | null;
}
interface Kept extends PlacedProp {
  readonly authored: Prop;
  readonly drawnBy: PropMaterial;
}

const RADIANS = Math.PI / 180;

/** What a program reads of the prop that it draws, and not of its material alone. */
const OF_PROPS: readonly string[] = ['boundsLow', 'boundsHigh', 'surfaceDistanceMap', 'surfaceDistanceFrame'];

/** Hands a program what it reads of its prop before that is drawn; one that reads nothing keeps what its material has. */
export const handsOver = (
  object: MeshObject,
  { shader, needs }: PropMaterial,
): MeshObject['onBeforeRender'] => {
  if (!shader.live.builtIn.some((name) => OF_PROPS.includes(name))) return () => undefined;
  return (_renderer, _scene, _camera, _geometry, material) => {
    const { uniforms } = material as PropMaterial['surface'];
    // What only tells how far it is reads none of this.
    if (!uniforms['boundsLow']) return;
    // Its own bounds, also where a coarser mesh stands for it.
    const { min, max } = object.geometry.boundingBox!;
    (uniforms['boundsLow'].value as Vector3).copy(min);
    (uniforms['boundsHigh']!.value as Vector3).copy(max);
    if (needs.has('surfaceDistance')) {
      const read = object.userData['field'] as { readonly map: Texture; readonly frame: Matrix4 } | undefined;
      uniforms['surfaceDistanceMap']!.value = read?.map ?? NOWHERE;
      if (read) (uniforms['surfaceDistanceFrame']!.value as Matrix4).copy(read.frame);
    }
    (material as PropMaterial['surface']).uniformsNeedUpdate = true;
  };
};

/** Whoever moves a node says so by `updateMatrix`: most stand still, and are not worked out anew each frame. */
const standingNode = (onMoved: () => void): Group => {
  const node = new Group();
  node.matrixAutoUpdate = false;
  node.updateMatrix = () => {
    Group.prototype.updateMatrix.call(node);
    onMoved();
  };
  return node;
};

const inOrder = (placed: readonly Kept[], { position, back }: CameraFrame): readonly MeshObject[] =>
  placed
    .map(({ object, drawnBy }) => {
      const [x, y, z] = object.matrixWorld.elements.slice(12, 15) as [number, number, number];
      const ahead = (position[0] - x) * back[0] + (position[1] - y) * back[1] + (position[2] - z) * back[2];
      return { object, ahead, program: drawnBy.surface.id };
    })
    .sort((a, b) => a.program - b.program || a.ahead - b.ahead)
    .map(({ object }) => object);

/** Keeps what stands on the stage in step with its document, prop by prop: an edit touches what it names. */
export const createProps = (scene: Scene, meshes: Meshes) => {
  let placed: readonly Kept[] = [];
  let isMoved = true;
  /** What places stand in. It is no part of the scene: to draw a mesh, nobody has to walk through the places it hangs in. */
  const ground = new Group();
  let facing: readonly Kept[] = [];
  let asking: readonly Kept[] = [];
  const poses = createPoses(meshes);
  /** Every prop's place, also of those without a program yet: others may stand on them. */
  const nodes = new Map<string, Group>();

  /** Joints that props hang on, by the prop. */
  const hooks = new Map<string, Group>();
  const hookFor = (id: string, rest: readonly number[], carrier: Object3D): Group => {
    const hook = hooks.get(id) ?? new Group();
    hooks.set(id, hook);
    hook.matrixAutoUpdate = false;
    const row = (r: number) => [rest[r]!, rest[3 + r]!, rest[6 + r]!, rest[9 + r]!] as const;
    hook.matrix.set(...row(0), ...row(1), ...row(2), 0, 0, 0, 1);
    hook.matrixWorldNeedsUpdate = true;
    if (hook.parent !== carrier) carrier.add(hook);
    return hook;
  };

  const standUp = (authored: readonly Prop[]): void => {
    for (const [id, node] of nodes)
      if (!authored.some((each) => each.id === id)) {
        node.removeFromParent();
        nodes.delete(id);
      }
    for (const { id } of authored)
      if (!nodes.has(id))
        nodes.set(
          id,
          standingNode(() => (isMoved = true)),
        );
    for (const [id, hook] of hooks)
      if (!authored.some((each) => each.id === id && each.joint)) {
        hook.removeFromParent();
        hooks.delete(id);
      }
    for (const { id, parent, joint, position, rotation, scale } of authored) {
      const node = nodes.get(id)!;
      node.position.fromArray([...position]);
      const [x, y, z] = rotation;
      node.rotation.set(x * RADIANS, y * RADIANS, z * RADIANS);
      node.scale.fromArray([...(scale ?? [1, 1, 1])]);
      node.updateMatrix();
      const carrier = nodes.get(parent ?? '') ?? ground;
      const under = joint ? hookFor(id, joint.rest, carrier) : carrier;
      if (node.parent !== under) under.add(node);
    }
  };

  let drawn: ReadonlySet<Object3D> = new Set();
  let laidOutFor: CameraFrame | null = null;
  /** Each mesh hangs in its place, by which it knows where it is, and lies in the scene to be drawn. */
  const layOut = (objects: readonly MeshObject[]): void => {
    scene.children = [...scene.children.filter((each) => !drawn.has(each)), ...objects];
    drawn = new Set(objects);
  };

  const place = (authored: Prop, drawnBy: PropMaterial, before: Kept | undefined): Kept => {
    const object = before?.object ?? new MeshObject();
    const { mesh } = authored;
    const isPosed = mesh.kind === 'imported' && mesh.pose !== undefined;
    if (isPosed) {
      object.geometry = poses.geometryFor(authored.id, mesh);
      object.userData['movedBox'] = null;
    } else if (before?.authored.mesh !== mesh || broughtFor(mesh) !== null)
      object.geometry = meshes.geometryFor(mesh);
    object.userData['uncopied'] = authored.uncopied ?? false;
    object.userData['drawOrder'] = authored.drawOrder ?? 0;
    object.userData['inField'] = !authored.fieldless;
    object.userData['unsigned'] = authored.unsigned ?? false;
    object.userData['casts'] = !authored.hidden && !authored.shadowless && drawnBy.casts;
    let moved = before?.moved ?? null;
    if (before?.drawnBy !== drawnBy) {
      object.material = drawnBy.surface;
      object.userData['movedBox'] = null;
      object.userData['material'] = drawnBy;
      const offset = drawnBy.shader.program.outputs['vertexOffset'];
      // What an offset moves is looked for where it is, not where it was.
      object.frustumCulled = !offset;
      moved = offset ? prepareMovedBounds(offset) : null;
      object.onBeforeRender = handsOver(object, drawnBy);
    }
    const node = nodes.get(authored.id)!;
    if (object.parent !== node) node.add(object);
    if (!authored.faces && before?.authored.faces) {
      object.matrix.identity();
      object.matrixWorldNeedsUpdate = true;
    }
    object.matrixAutoUpdate = false;
    return {
      ...{ id: authored.id, material: authored.material, node, object, recipe: authored.mesh },
      ...{
        moved,
        authored,
        drawnBy,
        hidden: authored.hidden ?? false,
        locked: authored.locked ?? false,
        solid: !authored.passable,
        asksNear: drawnBy.needs.has('surfaceDistance'),
      },
    };
  };

  return {
    all: (): readonly PlacedProp[] => placed,
    /** Those that are to be drawn and read how far the surfaces of others are. */
    asking: (): readonly PlacedProp[] => asking,
    /** Puts the document's props on the stage: those whose material has a program. */
    sync: (props: readonly Prop[], programOf: (material: string) => PropMaterial | undefined): void => {
      const before = new Map(placed.map((each) => [each.id, each]));
      isMoved = true;
      standUp(props);
      placed = props.flatMap((authored) => {
        const drawnBy = programOf(authored.material);
        if (!drawnBy) return [];
        const known = before.get(authored.id);
        before.delete(authored.id);
        const isSame = known?.authored === authored && known.drawnBy === drawnBy;
        // What was imported may have arrived since.
        return known && isSame && broughtFor(authored.mesh) === null
          ? [known]
          : [place(authored, drawnBy, known)];
      });
      for (const { object } of before.values()) object.removeFromParent();
      facing = placed.filter(({ authored }) => authored.faces);
      asking = placed.filter(({ hidden, asksNear }) => !hidden && asksNear);
      layOut(placed.map(({ object }) => object));
      poses.keepOnly(props);
    },
    /**
     * Turns what faces the camera to where it is now, works out where all that was moved stands in the world, and lays
     * out what is drawn: program by program, for each of which the graphics card is set up anew, then from near to far.
     */
    settle: (camera: PerspectiveCamera, seenFrom: CameraFrame): void => {
      for (const { authored, node, object } of facing) {
        faceCamera(authored.faces!, node, object, camera);
        isMoved = true;
      }
      if (isMoved) ground.updateMatrixWorld();
      if (isMoved || laidOutFor !== seenFrom) layOut(inOrder(placed, seenFrom));
      laidOutFor = seenFrom;
      isMoved = false;
    },
  };
};
