import { Matrix4, Vector2, Vector3, Vector4, type Texture } from 'three';
import type { StageDocument } from '#core/document/project.ts';
import { LIGHTS } from '#core/emit/glsl/lighting.ts';

/** The uniforms that all materials on a stage share. */
export const createLights = () => ({
  lightCount: { value: 0 },
  lightPosition: { value: Array.from({ length: LIGHTS }, () => new Vector4()) },
  lightColor: { value: Array.from({ length: LIGHTS }, () => new Vector3()) },
  ambientUp: { value: new Vector3() },
  ambientDown: { value: new Vector3() },
  /** What stands in the way of the first light, seen from it; written by the pass that draws it. */
  keyShadowMap: { value: null as Texture | null },
  keyShadowMatrix: { value: new Matrix4() },
  keyShadowSpread: { value: new Vector4() },
  /** What is gathered of the picture around, and the picture itself; written when one has arrived. */
  environmentMap: { value: null as Texture | null },
  environmentPicture: { value: null as Texture | null },
  environmentTurn: { value: new Vector4(1, 0, 1, 0) },
  /** Pixels across and down of what is drawn into. */
  resolution: { value: new Vector2(1, 1) },
  airColor: { value: new Vector4() },
  airLens: { value: new Vector4() },
});
export type Lights = ReturnType<typeof createLights>;

/** Lights a scene as its document says. */
export const setLights = (lights: Lights, stage: StageDocument) => {
  lights.lightCount.value = Math.min(stage.lights.length, LIGHTS);
  stage.lights.slice(0, LIGHTS).forEach((light, i) => {
    lights.lightPosition.value[i]!.set(...light.position, light.kind === 'point' ? 1 : 0);
    const [r, g, b] = light.color;
    lights.lightColor.value[i]!.set(r, g, b).multiplyScalar(light.intensity);
  });
  lights.ambientUp.value.fromArray([...stage.ambientUp]);
  lights.ambientDown.value.fromArray([...stage.ambientDown]);
  lights.airColor.value.set(...(stage.air?.color ?? [0, 0, 0]), stage.air?.density ?? 0);
};

/** What is reckoned with of the camera and of the picture's size in pixels. */
export const setLens = (
  { airLens, resolution }: Lights,
  camera: { readonly fov: number; readonly aspect: number },
  width: number,
  height: number,
): void => {
  const up = Math.tan((camera.fov * Math.PI) / 360);
  airLens.value.set(up * camera.aspect, up, 1 / width, 1 / height);
  resolution.value.set(width, height);
};
