import { BACKDROP, SURROUND, SURROUND_LIGHT } from './backdrop.ts';
import { createFullFrame } from './fullFrame.ts';
import type { PassDeclaration } from './pass.ts';

/**
 * The last pass, and the only one that maps tones. Finished: scene and bloom, exposed, through a filmic curve
 * (K. Narkowicz's fit of the ACES curve, 2016) to sRGB. Tap: the value as it is, striped where it leaves 0–1,
 * chequered where it is not a number.
 */
const FINISH = `uniform sampler2D source; uniform sampler2D bloom; uniform sampler2D depth;
uniform float bloomIntensity; uniform float exposure; uniform int components; uniform vec3 surround;
vec3 filmic(vec3 x) { return clamp((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14), 0.0, 1.0); }
vec3 encode(vec3 x) { return mix(x * 12.92, 1.055 * pow(max(x, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, x)); }
${BACKDROP}
bool broken(float x) { return isnan(x) || isinf(x); }
bool outside(float x) { return x < -1e-3 || x > 1.001; }
void main() {
  vec4 scene = texture(source, at);
  if (components == 0) {
    vec3 light = scene.rgb + backdrop() * (1.0 - scene.a) + texture(bloom, at).rgb * bloomIntensity * 0.2;
    color = vec4(encode(filmic(light * exposure)), 1.0);
    return;
  }
  if (texture(depth, at).r >= 1.0) { color = vec4(backdrop(), 1.0); return; }
  vec3 shown = components == 1 ? scene.rrr : components == 2 ? vec3(scene.rg, 0.0) : encode(clamp(scene.rgb, 0.0, 1.0));
  bool wrong = broken(scene.r) || (components > 1 && broken(scene.g)) || (components > 2 && broken(scene.b));
  bool out01 = outside(scene.r) || (components > 1 && outside(scene.g)) || (components > 2 && outside(scene.b));
  float stripe = mod(gl_FragCoord.x + gl_FragCoord.y, 10.0);
  vec2 chequer = mod(floor(gl_FragCoord.xy / 6.0), 2.0);
  vec3 oxblood = vec3(0.541, 0.122, 0.106);
  if (wrong) shown = chequer.x == chequer.y ? vec3(0.0) : oxblood;
  else if (out01 && stripe < 4.0) shown = oxblood;
  color = vec4(clamp(shown, 0.0, 1.0), 1.0);
}`;

export const finish: PassDeclaration = {
  name: 'finish',
  reads: ({ components }) => (components === 0 ? ['scene', 'bloom'] : ['scene', 'depth']),
  writes: ['picture'],
  create: (renderer) => {
    const frame = createFullFrame(
      renderer,
      ['source', 'depth', 'bloom', 'bloomIntensity', 'exposure', 'components', 'surround'],
      FINISH,
    );
    return {
      draw: ({ components, set }, { scene, depth, bloom }) =>
        frame.draw(
          {
            ...{ source: scene, depth, bloom: bloom ?? null, components },
            ...{ bloomIntensity: set.bloom.intensity, exposure: set.exposure },
            surround: components === 0 ? SURROUND_LIGHT : SURROUND,
          },
          null,
        ),
      dispose: frame.dispose,
    };
  },
};
