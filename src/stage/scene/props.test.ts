import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Group, MeshBasicMaterial, PerspectiveCamera, Scene, Vector3 } from 'three';
import type { StageDocument } from '#core/document/project.ts';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { toGeometry } from './geometry.ts';
import type { Meshes } from './meshes.ts';
import type { CameraFrame, PropMaterial } from './propMaterial.ts';
import { createProps } from './props.ts';

type Prop = StageDocument['props'][number];
const MESH: MeshRecipe = { kind: 'plane', size: [1, 1], divisions: [1, 1] };
const prop = (id: string, more: Partial<Prop> = {}): Prop => ({
  ...{ id, name: id, material: 'm', mesh: MESH, position: [0, 0, 0], rotation: [0, 0, 0] },
  ...more,
});
const program = (): PropMaterial =>
  ({
    ...{ surface: new MeshBasicMaterial(), casts: true, needs: new Set() },
    shader: { live: { builtIn: [] }, program: { outputs: {} } },
  }) as unknown as PropMaterial;
const [drawnBy, later] = [program(), program()];
const ahead: CameraFrame = { position: [0, 0, 5], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] };
const meshes = {
  geometryFor: (recipe: MeshRecipe) => toGeometry(makeMesh(recipe)),
  meshFor: makeMesh,
} as unknown as Meshes;

/** Props on a scene. */
const stand = () => {
  const scene = new Scene();
  const props = createProps(scene, meshes);
  const camera = new PerspectiveCamera();
  camera.position.set(0, 0, 5);
  return {
    ...{ props, camera, scene },
    /** Counts how often it is worked out where a prop stands. */
    counts: (id: string) => {
      let worked = 0;
      const { node } = props.all().find((each) => each.id === id)!;
      const update = node.updateMatrixWorld.bind(node);
      node.updateMatrixWorld = (force) => {
        worked += 1;
        update(force);
      };
      return () => worked;
    },
    sync: (...all: Prop[]) =>
      props.sync(all, (id) => (id === 'm' ? drawnBy : id === 'n' ? later : undefined)),
    settle: (seenFrom: CameraFrame = ahead) => props.settle(camera, seenFrom),
    /** Where a corner of its own axes stands as it is drawn. */
    at: (id: string, x: number, y: number, z: number) =>
      new Vector3(x, y, z).applyMatrix4(props.all().find((each) => each.id === id)!.object.matrixWorld),
  };
};
const near = (found: Vector3, wanted: readonly number[]): void =>
  wanted.forEach((x, i) =>
    assert.ok(Math.abs(found.getComponent(i) - x) < 1e-6, `${found.toArray()} is not ${wanted}`),
  );

test('what is moved takes along what stands on it; what stands still is not worked out again', () => {
  const { props, sync, settle, at, counts, scene } = stand();
  const carried = prop('lid', { parent: 'chest', position: [0, 1, 0] });
  sync(prop('chest', { position: [2, 0, 0], rotation: [0, 0, 90] }), carried);
  const worked = counts('chest');
  settle();
  near(at('chest', 1, 0, 0), [2, 1, 0]);
  near(at('lid', 1, 0, 0), [1, 1, 0]);
  settle();
  settle();
  assert.equal(worked(), 1);
  // Dragged: whoever moves a node says so.
  const { node } = props.all()[0]!;
  node.position.set(0, 0, 3);
  node.updateMatrix();
  settle();
  near(at('lid', 0, 0, 0), [-1, 0, 3]);
  assert.equal(worked(), 2);
  // Another document: it stands as that has it, and on nothing any more.
  sync(prop('chest', { scale: [2, 2, 2] }), { ...carried, parent: undefined } as unknown as Prop);
  settle();
  near(at('chest', 1, 0, 0), [2, 0, 0]);
  near(at('lid', 0, 0, 0), [0, 1, 0]);
  // What is drawn is the meshes alone, beside what others put there, and goes with its prop.
  const lamp = new Group();
  scene.add(lamp);
  sync(prop('chest'));
  assert.deepEqual(scene.children, [lamp, props.all()[0]!.object]);
  sync();
  assert.deepEqual(scene.children, [lamp]);
});

test('a prop without a program carries others still; one that faces the camera turns with it', () => {
  const { camera, sync, settle, at, props } = stand();
  sync(
    prop('bare', { material: 'none', position: [0, 0, -5] }),
    prop('sign', { parent: 'bare', faces: 'upright' }),
  );
  assert.deepEqual(
    props.all().map(({ id }) => id),
    ['sign'],
  );
  settle();
  near(at('sign', 1, 0, 0), [1, 0, -5]);
  camera.position.set(10, 7, -5);
  camera.updateMatrixWorld();
  settle();
  near(at('sign', 1, 0, 0), [0, 0, -6]);
  sync(prop('bare', { material: 'none', position: [0, 0, -5] }), prop('sign', { parent: 'bare' }));
  settle();
  near(at('sign', 1, 0, 0), [1, 0, -5]);
});

test('what is drawn lies program by program and from near to far, anew where the camera or a prop was moved', () => {
  const { sync, settle, scene, props } = stand();
  const lies = () =>
    scene.children.map((each) => props.all().find(({ object }) => object === each)!.id).join(' ');
  sync(
    prop('last', { material: 'n', position: [0, 0, 4] }),
    prop('far', { position: [0, 0, -3] }),
    prop('near', { position: [0, 0, 2] }),
    prop('mid', { position: [9, 0, 0] }),
  );
  settle();
  assert.equal(lies(), 'near mid far last');
  // From behind, looking the other way.
  settle({ position: [0, 0, -9], right: [-1, 0, 0], up: [0, 1, 0], back: [0, 0, -1] });
  assert.equal(lies(), 'far mid near last');
  const { node } = props.all().find(({ id }) => id === 'near')!;
  node.position.z = -5;
  node.updateMatrix();
  settle({ position: [0, 0, -9], right: [-1, 0, 0], up: [0, 1, 0], back: [0, 0, -1] });
  assert.equal(lies(), 'near far mid last');
});
