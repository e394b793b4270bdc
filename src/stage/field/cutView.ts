import {
  DoubleSide,
  GLSL3,
  GreaterDepth,
  LessEqualDepth,
  Mesh,
  NoBlending,
  Object3D,
  PlaneGeometry,
  RawShaderMaterial,
  Scene,
  type PerspectiveCamera,
  type WebGLRenderer,
} from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import { FAR } from '#core/evaluate/points/nearest.ts';
import type { Cut } from '../stage.ts';
import type { CutPlane } from './createField.ts';

const VERTEX = `precision highp float;
in vec3 position;
uniform mat4 viewMatrix, projectionMatrix;
uniform vec3 low, right, up;
out vec2 at;
void main() {
  at = position.xy + 0.5;
  gl_Position = projectionMatrix * viewMatrix * vec4(low + right * at.x + up * at.y, 1.0);
}`;
/** As it is shown, marked by an alpha of 2: the last pass leaves it as it is. */
const FRAGMENT = `precision highp float;
in vec2 at;
out vec4 color;
uniform sampler2D distances;
uniform float apart;
/** Whether what stands before it is seen between stripes of it. */
uniform bool behind;
/** How much of a line lies on a pixel, where one lies at each whole number. */
float lines(float x, float slope, float width) {
  float away = abs(fract(x - 0.5) - 0.5) / max(slope, 1e-6);
  return (1.0 - smoothstep(width - 0.5, width + 0.5, away)) * (1.0 - smoothstep(0.2, 0.5, slope));
}
void main() {
  bool isGap = behind && mod(gl_FragCoord.x + gl_FragCoord.y, 6.0) < 2.0;
  float d = texture(distances, at).r;
  float slope = fwidth(d);
  vec3 paper = mix(vec3(0.93, 0.9, 0.84), vec3(0.47, 0.45, 0.42), 1.0 - exp(-d));
  vec3 shown = d < 0.0 ? vec3(0.16, 0.15, 0.14) : paper;
  vec3 ink = d < 0.0 ? vec3(0.72, 0.69, 0.64) : vec3(0.14, 0.13, 0.12);
  float line = max(0.5 * lines(d / apart, slope / apart, 0.6), lines(d / apart / 5.0, slope / apart / 5.0, 0.9));
  shown = mix(shown, ink, line);
  float surface = 1.0 - smoothstep(1.0, 2.0, abs(d) / max(slope, 1e-6));
  shown = mix(shown, vec3(0.81, 0.88, 0.29), surface);
  if (d > ${(FAR / 2).toFixed(1)}) shown = vec3(0.3);
  if (isGap) discard;
  color = vec4(shown, 2.0);
}`;
const LIMELIGHT = 0xcfe04a;
const WHITE = 0xf2f2f2;

/**
 * The plane on which distances are seen, striped where something stands before it, and the handle it is dragged through
 * the set by.
 */
export const createCutView = (
  camera: PerspectiveCamera,
  canvas: HTMLCanvasElement,
  orbit: OrbitControls,
  events: { readonly onDragged: (at: number) => void; readonly invalidate: () => void },
) => {
  const uniforms = Object.fromEntries(
    ['distances', 'apart', 'low', 'right', 'up'].map((name) => [name, { value: null as unknown }]),
  );
  const square = new PlaneGeometry(1, 1);
  const scene = new Scene();
  const sheets = [LessEqualDepth, GreaterDepth].map((depthFunc) => {
    const sheet = new Mesh(
      square,
      new RawShaderMaterial({
        ...{ glslVersion: GLSL3, vertexShader: VERTEX, fragmentShader: FRAGMENT },
        uniforms: { ...uniforms, behind: { value: depthFunc === GreaterDepth } },
        ...{ blending: NoBlending, depthWrite: false, depthFunc, side: DoubleSide },
      }),
    );
    sheet.frustumCulled = false;
    scene.add(sheet);
    return sheet;
  });

  const over = new Scene();
  const holder = new Object3D();
  const controls = new TransformControls(camera, canvas);
  controls.setColors(WHITE, WHITE, WHITE, LIMELIGHT);
  controls.setSize(0.75);
  controls.attach(holder);
  over.add(holder, controls.getHelper());
  let axis: Cut['axis'] = 2;
  controls.addEventListener('change', events.invalidate);
  controls.addEventListener('dragging-changed', ({ value }) => (orbit.enabled = !value));
  controls.addEventListener('objectChange', () => events.onDragged(holder.position.getComponent(axis)));

  return {
    /** What the plane is drawn from, among what stands on the stage. */
    scene,
    get isHeld() {
      return controls.axis !== null;
    },
    /** Where it is not seen, it is not to be had by the pointer either. */
    setActive: (isActive: boolean): void => {
      if (controls.enabled !== isActive) controls.enabled = isActive;
      if (!isActive) controls.axis = null;
    },
    place: (cut: Cut, { map, low, right, up }: CutPlane): void => {
      axis = cut.axis;
      [controls.showX, controls.showY, controls.showZ] = [0, 1, 2].map((c) => c === axis) as [
        boolean,
        boolean,
        boolean,
      ];
      uniforms['distances']!.value = map;
      uniforms['apart']!.value = cut.apart;
      uniforms['low']!.value = low;
      uniforms['right']!.value = right;
      uniforms['up']!.value = up;
      for (const { material } of sheets) material.uniformsNeedUpdate = true;
      if (!controls.dragging) holder.position.copy(low).addScaledVector(right, 0.5).addScaledVector(up, 0.5);
      holder.updateMatrixWorld();
    },
    /** Draws the handle over the finished picture, onto the canvas. */
    drawHandle: (renderer: WebGLRenderer): void => {
      renderer.setRenderTarget(null);
      renderer.render(over, camera);
    },
    dispose: (): void => {
      controls.detach();
      controls.dispose();
      square.dispose();
      for (const { material } of sheets) material.dispose();
    },
  };
};
export type CutView = ReturnType<typeof createCutView>;
