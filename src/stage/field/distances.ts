import {
  Color,
  CustomBlending,
  type Data3DTexture,
  GLSL3,
  type Matrix4,
  Mesh,
  MinEquation,
  OneFactor,
  type PlaneGeometry,
  RawShaderMaterial,
  Scene,
  Vector3,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from 'three';
import { FAR } from '#core/evaluate/points/nearest.ts';
import type { Volume } from '#core/meshes/volume.ts';
import { corner, flat, FULL_FRAME } from '../passes/fullFrame.ts';

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

/** A volume of distances where its prop stands. */
export interface PlacedVolume {
  readonly id: string;
  readonly volume: Volume;
  readonly texture: Data3DTexture;
  /** From the world into the volume's space; keeps lengths. */
  readonly toMesh: Matrix4;
}

/** Draws the least of several volumes' distances, layer by layer. */
export const createDistances = (renderer: WebGLRenderer) => {
  const sources = new Map<string, Mesh<PlaneGeometry, RawShaderMaterial>>();
  const scene = new Scene();
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
  return {
    /** @param toWorld from the target's own box, 0 to 1 along each side, to the world */
    draw: (
      target: WebGLRenderTarget,
      layers: number,
      toWorld: Matrix4,
      volumes: readonly PlacedVolume[],
    ): void => {
      for (const source of sources.values()) source.visible = false;
      const drawn = volumes.map(({ id, volume, texture, toMesh }) => {
        const source = sourceFor(id);
        const { uniforms } = source.material;
        source.visible = true;
        uniforms['volume']!.value = texture;
        uniforms['toMesh']!.value = toMesh;
        uniforms['toWorld']!.value = toWorld;
        uniforms['low']!.value = new Vector3(...volume.low);
        uniforms['high']!.value = new Vector3(...volume.high);
        uniforms['places']!.value = new Vector3(...volume.size);
        return source.material;
      });
      const [cleared, alpha] = [renderer.getClearColor(new Color()), renderer.getClearAlpha()];
      for (let layer = 0; layer < layers; layer += 1) {
        for (const material of drawn) {
          material.uniforms['layer']!.value = (layer + 0.5) / layers;
          material.uniformsNeedUpdate = true;
        }
        renderer.setRenderTarget(target, layer);
        renderer.setClearColor(new Color(FAR, FAR, FAR), 1);
        renderer.clear(true, false, false);
        if (drawn.length) renderer.render(scene, flat);
      }
      renderer.setRenderTarget(null);
      renderer.setClearColor(cleared, alpha);
    },
    /** Lets go of what was drawn for others. */
    keepOnly: (keep: (id: string) => boolean): void => {
      for (const [id, source] of sources)
        if (!keep(id)) {
          scene.remove(source);
          source.material.dispose();
          sources.delete(id);
        }
    },
    dispose: (): void => {
      for (const source of sources.values()) source.material.dispose();
    },
  };
};
