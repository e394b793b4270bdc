import {
  Matrix3,
  Matrix4,
  Vector2,
  type PerspectiveCamera,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from 'three';
import { AROUND } from '#core/emit/glsl/around.ts';
import type { Lights } from '../scene/lights.ts';
import { createFullFrame } from './fullFrame.ts';
import type { Frame } from './pass.ts';

/**
 * The picture of everything around as it is seen, where nothing stands: its middle is upstage, at −z. `level`: the
 * coarseness at which a texel is as wide as a pixel in the middle of the frame.
 */
const SKY = `${AROUND}
uniform sampler2D around; uniform mat3 seen; uniform vec2 lens; uniform vec4 turned; uniform float level;
void main() {
  vec3 d = normalize(seen * vec3((at * 2.0 - 1.0) * lens, -1.0));
  color = vec4(textureLod(around, aroundPlace(turnedAround(d, turned.xy)), level).rgb * turned.z, 1.0);
}`;

/** Whether what is around is seen behind a set: air hides all of it. */
export const showsSky = ({ set, components, judged }: Frame): boolean =>
  set.environment?.seen === true &&
  components === 0 &&
  (judged === null || judged === 'range') &&
  !((set.air?.density ?? 0) > 0);

export const createSky = (renderer: WebGLRenderer, lights: Lights) => {
  const frame = createFullFrame(renderer, ['around', 'seen', 'lens', 'turned', 'level'], SKY);
  const seen = new Matrix3();
  return {
    draw: (target: WebGLRenderTarget, camera: PerspectiveCamera): void => {
      const around = lights.environmentPicture.value;
      if (!around) return;
      const up = Math.tan((camera.fov * Math.PI) / 360);
      const { height } = around.image as { readonly height: number };
      const texels = (height / Math.PI) * ((2 * up) / target.height);
      frame.draw(
        {
          ...{ around, turned: lights.environmentTurn.value, lens: new Vector2(up * camera.aspect, up) },
          seen: seen.setFromMatrix4(new Matrix4().extractRotation(camera.matrixWorld)),
          level: Math.max(0, Math.log2(texels)),
        },
        target,
      );
    },
    dispose: frame.dispose,
  };
};
