import type { FrontSide } from 'three';
import {
  Box3,
  DataTexture,
  DepthTexture,
  DoubleSide,
  GLSL3,
  Matrix4,
  Mesh,
  NearestFilter,
  OrthographicCamera,
  PerspectiveCamera,
  RawShaderMaterial,
  UnsignedIntType,
  Vector3,
  WebGLRenderTarget,
  type Camera,
  type Material,
  type Object3D,
} from 'three';
import type { StageDocument } from '#core/document/project.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';
import type { PassDeclaration } from './pass.ts';

const SIDE = 1024;
/** How far a surface stands off itself, in texels of the map. */
const OFF = 1.6;
/** A light among the props sees no more than this at once, in degrees. */
const WIDEST = 140;

/** From clip space to the map. */
const TO_MAP = new Matrix4().makeTranslation(0.5, 0.5, 0.5).scale(new Vector3(0.5, 0.5, 0.5));

/** What is drawn of a prop that is opaque and stays where its mesh is: nothing but how far it is. */
const DEPTH_ONLY = {
  vertex: `precision highp float;
in vec3 a_position;
uniform mat4 modelMatrix; uniform mat4 viewMatrix; uniform mat4 projectionMatrix;
void main() { gl_Position = projectionMatrix * viewMatrix * modelMatrix * vec4(a_position, 1.0); }`,
  fragment: 'precision highp float;\nout vec4 color;\nvoid main() { color = vec4(1.0); }',
};

const castersOf = (scene: Object3D): Mesh[] => {
  const found: Mesh[] = [];
  scene.traverse((object) => {
    if (object instanceof Mesh && object.userData['casts'] === true) found.push(object);
  });
  return found;
};
/** Where casters are in the world, moved as their offsets move them. */
const boxOf = (casters: readonly Mesh[]): Box3 => {
  const all = new Box3();
  const one = new Box3();
  for (const mesh of casters) {
    const moved = mesh.userData['movedBox'] as Box3 | null | undefined;
    all.union(moved ?? one.copy(mesh.geometry.boundingBox!).applyMatrix4(mesh.matrixWorld));
  }
  return all;
};
const cornersOf = ({ min, max }: Box3): Vector3[] =>
  Array.from(
    { length: 8 },
    (_, i) => new Vector3(i & 1 ? max.x : min.x, i & 2 ? max.y : min.y, i & 4 ? max.z : min.z),
  );

type Light = StageDocument['lights'][number];
const UP = new Vector3(0, 1, 0);
const ASIDE = new Vector3(1, 0, 0);

/**
 * A camera where a light is, or far the way it comes from, that sees a box and no more.
 * @returns the camera, and how wide what it sees is, in metres, where it looks at the box's middle
 */
export const lightCamera = (light: Light, box: Box3): { readonly camera: Camera; readonly wide: number } => {
  const middle = box.getCenter(new Vector3());
  const radius = box.getSize(new Vector3()).length() / 2 + 1e-3;
  const from = new Vector3(...light.position);
  const isPoint = light.kind === 'point';
  const way = (isPoint ? from.clone().sub(middle) : from.clone()).normalize();
  const eye = isPoint ? from : middle.clone().addScaledVector(way, radius * 2);
  const view = new Matrix4().lookAt(eye, middle, Math.abs(way.y) > 0.99 ? ASIDE : UP).setPosition(eye);
  const seen = cornersOf(box).map((each) => each.applyMatrix4(view.clone().invert()));
  const [near, far] = [Math.min(...seen.map(({ z }) => -z)), Math.max(...seen.map(({ z }) => -z))];
  const away = eye.distanceTo(middle);
  let camera: OrthographicCamera | PerspectiveCamera;
  let wide: number;
  if (isPoint) {
    const half = seen.map(({ x, y, z }) =>
      z < 0 ? Math.atan(Math.max(Math.abs(x), Math.abs(y)) / -z) : Math.PI,
    );
    const angle = Math.min((Math.max(...half) * 360) / Math.PI + 1, WIDEST);
    camera = new PerspectiveCamera(angle, 1, Math.max(near, far * 1e-3, 1e-3), Math.max(far, 2e-3));
    wide = 2 * away * Math.tan((angle * Math.PI) / 360);
  } else {
    const reach = Math.max(...seen.flatMap(({ x, y }) => [Math.abs(x), Math.abs(y)])) * 1.02;
    camera = new OrthographicCamera(-reach, reach, reach, -reach, near - 1e-2, far + 1e-2);
    wide = 2 * reach;
  }
  camera.matrixAutoUpdate = false;
  camera.matrix.copy(view);
  camera.updateMatrixWorld(true);
  return { camera, wide };
};

/** Whether a set's first light throws a shadow. */
export const hasKeyShadow = ({ lights }: StageDocument): boolean => lights[0]?.shadow !== undefined;

/** What stands in the way of the first light: as far as it is drawn, cut out and moved as it is on the stage. */
export const keyShadow: PassDeclaration = {
  name: 'keyShadow',
  reads: () => [],
  writes: ['keyShadow'],
  create: (renderer, lights) => {
    const none = new DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
    none.needsUpdate = true;
    const target = new WebGLRenderTarget(SIDE, SIDE, { magFilter: NearestFilter, minFilter: NearestFilter });
    const depth = new DepthTexture(SIDE, SIDE, UnsignedIntType);
    target.depthTexture = depth;
    const plain = (side: typeof FrontSide | typeof DoubleSide) =>
      new RawShaderMaterial({
        ...{ glslVersion: GLSL3, vertexShader: DEPTH_ONLY.vertex, fragmentShader: DEPTH_ONLY.fragment, side },
        ...{ colorWrite: false, polygonOffset: true, polygonOffsetFactor: 1.5, polygonOffsetUnits: 4 },
      });
    const opaque = plain(DoubleSide);
    return {
      draw: ({ set, scene }, buffers) => {
        const light = set.lights[0]!;
        const casters = castersOf(scene);
        lights.keyShadowMap.value = none;
        lights.keyShadowSpread.value.setScalar(0);
        buffers.keyShadow = depth;
        if (!casters.length) return;
        const { camera, wide } = lightCamera(light, boxOf(casters));
        const before = new Map<
          Mesh,
          { readonly material: Material | Material[]; readonly visible: boolean }
        >();
        scene.traverse((object) => {
          if (!(object instanceof Mesh)) return;
          before.set(object, { material: object.material as Material, visible: object.visible });
          object.visible = object.userData['casts'] === true;
          const own = object.userData['material'] as PropMaterial;
          if (object.visible) object.material = own.caster ?? opaque;
        });
        renderer.setRenderTarget(target);
        renderer.clear(true, true, false);
        renderer.render(scene, camera);
        for (const [mesh, was] of before) Object.assign(mesh, was);
        lights.keyShadowMap.value = depth;
        lights.keyShadowMatrix.value
          .copy(TO_MAP)
          .multiply(camera.projectionMatrix)
          .multiply(camera.matrixWorldInverse);
        const spread = Math.max(light.shadow ?? 0, (wide / SIDE) * 0.7) / wide;
        lights.keyShadowSpread.value.set(spread, spread, (OFF * wide) / SIDE, 1);
      },
      dispose: () => {
        target.dispose();
        depth.dispose();
        none.dispose();
        opaque.dispose();
      },
    };
  },
};
