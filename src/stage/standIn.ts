import { CapsuleGeometry, GLSL3, Mesh, RawShaderMaterial, type Scene } from 'three';
import { WALKER } from '#core/time/walk.ts';
import type { Triple } from '#core/numbers/vectors.ts';

const VERTEX = `
precision highp float;
in vec3 position;
in vec3 normal;
uniform mat4 modelMatrix, viewMatrix, projectionMatrix;
out vec3 v_normal;
void main() {
  v_normal = normal;
  gl_Position = projectionMatrix * viewMatrix * modelMatrix * vec4(position, 1.0);
}`;
/** Light from above, in linear light: whoever looks knows which way is up, and no more. */
const FRAGMENT = `
precision highp float;
in vec3 v_normal;
out vec4 color;
void main() {
  color = vec4(mix(vec3(0.03, 0.03, 0.035), vec3(0.22, 0.21, 0.2), normalize(v_normal).y * 0.5 + 0.5), 1.0);
}`;

/** The figure that is seen where the walker is followed from behind; it is no prop, and throws no shadow. */
export const createStandIn = (scene: Scene) => {
  let figure: Mesh<CapsuleGeometry, RawShaderMaterial> | null = null;
  const make = () => {
    const { radius, eyes } = WALKER;
    const tall = eyes + 0.12;
    const made = new Mesh(
      new CapsuleGeometry(radius, tall - 2 * radius, 6, 20),
      new RawShaderMaterial({ glslVersion: GLSL3, vertexShader: VERTEX, fragmentShader: FRAGMENT }),
    );
    made.geometry.translate(0, tall / 2, 0);
    return made;
  };
  return {
    /** Stands on a point; null stands nowhere. */
    place: (feet: Triple | null): void => {
      if (!feet) return void figure?.removeFromParent();
      figure ??= make();
      scene.add(figure);
      figure.position.set(...feet);
      figure.updateMatrixWorld();
    },
    show: (isSeen: boolean): void => {
      if (figure) figure.visible = isSeen;
    },
    dispose: (): void => {
      figure?.geometry.dispose();
      figure?.material.dispose();
    },
  };
};
