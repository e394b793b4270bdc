import { Vector3, Vector4 } from 'three';
import type { StageDocument } from '#core/document/project.ts';
import { LIGHTS } from '#core/emit/glsl/lighting.ts';

/** The uniforms that all materials on a stage share. */
export const createLights = () => ({
  lightCount: { value: 0 },
  lightPosition: { value: Array.from({ length: LIGHTS }, () => new Vector4()) },
  lightColor: { value: Array.from({ length: LIGHTS }, () => new Vector3()) },
  ambientUp: { value: new Vector3() },
  ambientDown: { value: new Vector3() },
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
};
