import { Vector2, type WebGLRenderTarget } from 'three';
import { createFullFrame, hdrTarget } from './fullFrame.ts';
import type { PassDeclaration } from './pass.ts';

/*
 * Bloom: light above a threshold, halved again and again with a 13-tap filter, then gathered back up with a tent
 * (J. Jimenez, "Next Generation Post Processing in Call of Duty", SIGGRAPH 2014, describes both filters).
 */
const BRIGHT = `uniform sampler2D source; uniform float threshold;
void main() {
  vec3 c = min(texture(source, at).rgb, vec3(64.0));
  float light = dot(c, vec3(0.2126, 0.7152, 0.0722));
  float knee = smoothstep(threshold * 0.6, threshold * 1.4 + 1e-3, light);
  color = vec4(c * knee * max(light - threshold * 0.6, 0.0) / max(light, 1e-4), 1.0);
}`;
const DOWN = `uniform sampler2D source; uniform vec2 texel;
vec3 s(float x, float y) { return texture(source, at + texel * vec2(x, y)).rgb; }
void main() {
  vec3 inner = s(-1.0, -1.0) + s(1.0, -1.0) + s(-1.0, 1.0) + s(1.0, 1.0);
  vec3 outer = s(-2.0, -2.0) + s(2.0, -2.0) + s(-2.0, 2.0) + s(2.0, 2.0);
  vec3 cross = s(0.0, -2.0) + s(-2.0, 0.0) + s(2.0, 0.0) + s(0.0, 2.0);
  color = vec4(s(0.0, 0.0) * 0.125 + inner * 0.125 + outer * 0.03125 + cross * 0.0625, 1.0);
}`;
const UP = `uniform sampler2D source; uniform sampler2D finer; uniform vec2 texel; uniform float radius;
vec3 s(float x, float y) { return texture(source, at + texel * vec2(x, y)).rgb; }
void main() {
  vec3 tent = s(0.0, 0.0) * 4.0 + (s(-1.0, 0.0) + s(1.0, 0.0) + s(0.0, -1.0) + s(0.0, 1.0)) * 2.0
    + s(-1.0, -1.0) + s(1.0, -1.0) + s(-1.0, 1.0) + s(1.0, 1.0);
  color = vec4(texture(finer, at).rgb + tent * (radius / 16.0), 1.0);
}`;

const LEVELS = 5;

/** Spreads the light of the scene above the set's threshold; what it gathers is half the scene's size. */
export const bloom: PassDeclaration = {
  name: 'bloom',
  reads: () => ['scene'],
  writes: ['bloom'],
  create: (renderer) => {
    const bright = createFullFrame(renderer, ['source', 'threshold'], BRIGHT);
    const down = createFullFrame(renderer, ['source', 'texel'], DOWN);
    const up = createFullFrame(renderer, ['source', 'finer', 'texel', 'radius'], UP);
    let chain: WebGLRenderTarget[] = [];
    let gathered: WebGLRenderTarget[] = [];
    let size = '';
    const free = () => [...chain, ...gathered].forEach((target) => target.dispose());
    const texel = (target: WebGLRenderTarget) => new Vector2(1 / target.width, 1 / target.height);
    const resize = (width: number, height: number) => {
      if (size === `${width}x${height}`) return;
      size = `${width}x${height}`;
      free();
      const level = (i: number) => hdrTarget(Math.max(1, width >> (i + 1)), Math.max(1, height >> (i + 1)));
      chain = Array.from({ length: LEVELS }, (_, i) => level(i));
      gathered = Array.from({ length: LEVELS - 1 }, (_, i) => level(i));
    };
    return {
      draw: ({ target, set }, buffers) => {
        resize(target.width, target.height);
        bright.draw({ source: buffers.scene, threshold: set.bloom.threshold }, chain[0]!);
        for (let i = 1; i < LEVELS; i += 1)
          down.draw({ source: chain[i - 1]!.texture, texel: texel(chain[i - 1]!) }, chain[i]!);
        let below = chain[LEVELS - 1]!;
        for (let i = LEVELS - 2; i >= 0; i -= 1) {
          up.draw(
            {
              source: below.texture,
              finer: chain[i]!.texture,
              texel: texel(below),
              radius: set.bloom.radius ?? 1,
            },
            gathered[i]!,
          );
          below = gathered[i]!;
        }
        buffers.bloom = below.texture;
      },
      dispose: () => {
        free();
        for (const each of [bright, down, up]) each.dispose();
      },
    };
  },
};
