import { BACKDROP, SURROUND, surroundOf } from './backdrop.ts';
import type { StageDocument } from '#core/document/project.ts';
import { createFullFrame } from './fullFrame.ts';
import type { PassDeclaration } from './pass.ts';

/**
 * The last pass, and the only one that maps tones. Finished: scene and bloom, exposed, through a filmic curve
 * (K. Narkowicz's fit of the ACES curve, 2016), glTF's neutral one (Khronos, "PBR Neutral Tone Mapper", 2024) or none, to sRGB;
 * dithered by less than a step of eight bits (J. Jimenez's gradient noise, 2014), so that dark greys show no bands. Tap: the value as it is, striped where it leaves 0–1,
 * chequered where it is not a number.
 */
const FINISH = `uniform sampler2D source; uniform sampler2D bloom; uniform sampler2D depth;
uniform float bloomIntensity; uniform float exposure; uniform int components; uniform int mapping;
vec3 neutral(vec3 c) {
  float least = min(c.r, min(c.g, c.b));
  c -= least < 0.08 ? least - 6.25 * least * least : 0.04;
  float peak = max(c.r, max(c.g, c.b));
  if (peak < 0.76) return c;
  float held = 1.0 - 0.0576 / (peak - 0.52);
  return mix(c * held / peak, vec3(held), 1.0 - 1.0 / (0.15 * (peak - held) + 1.0));
}
float dither(vec2 p) { return fract(52.9829189 * fract(dot(p, vec2(0.06711056, 0.00583715)))) - 0.5; }
vec3 filmic(vec3 x) { return clamp((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14), 0.0, 1.0); }
vec3 encode(vec3 x) { return mix(x * 12.92, 1.055 * pow(max(x, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, x)); }
${BACKDROP}
bool broken(float x) { return isnan(x) || isinf(x); }
bool outside(float x) { return x < -1e-3 || x > 1.001; }
void main() {
  vec4 scene = texture(source, at);
  if (components == 0) {
    vec3 light = scene.rgb + backdrop() * (1.0 - scene.a) + texture(bloom, at).rgb * bloomIntensity * 0.2;
    vec3 exposed = light * exposure;
    vec3 mapped = mapping == 0 ? filmic(exposed) : mapping == 1 ? neutral(exposed) : clamp(exposed, 0.0, 1.0);
    color = vec4(encode(mapped) + dither(gl_FragCoord.xy) / 255.0, 1.0);
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

/** In the order the pass knows them by. */
const MAPPINGS: readonly NonNullable<StageDocument['toneMapping']>[] = ['filmic', 'neutral', 'none'];

export const finish: PassDeclaration = {
  name: 'finish',
  reads: ({ components, set }) => {
    if (components > 0) return ['scene', 'depth'];
    return set.bloom.intensity > 0 ? ['scene', 'bloom'] : ['scene'];
  },
  writes: ['picture'],
  create: (renderer) => {
    const frame = createFullFrame(
      renderer,
      ['source', 'depth', 'bloom', 'bloomIntensity', 'exposure', 'components', 'surround', 'mapping'],
      FINISH,
    );
    return {
      draw: ({ components, set }, { scene, depth, bloom }) =>
        frame.draw(
          {
            ...{ source: scene, depth, bloom: bloom ?? null, components },
            mapping: MAPPINGS.indexOf(set.toneMapping ?? 'filmic'),
            ...{ bloomIntensity: set.bloom.intensity, exposure: set.exposure },
            surround: components === 0 ? surroundOf(set) : SURROUND,
          },
          null,
        ),
      dispose: frame.dispose,
    };
  },
};
