import { LIGHTS } from '../glsl/lighting.ts';

/** The lit surface, as in the GLSL: glTF 2.0's metallic-roughness model. */
export const LIGHTING = `struct Lights {
  position: array<vec4f, ${LIGHTS}>,
  color: array<vec4f, ${LIGHTS}>,
  ambientUp: vec3f,
  count: i32,
  ambientDown: vec3f,
}
@group(0) @binding(2) var<uniform> lights: Lights;

fn lightSurface(baseColor: vec3f, metallic: f32, roughness: f32, occlusion: f32, n: vec3f, v: vec3f, at: vec3f) -> vec3f {
  let rough = clamp(roughness, 0.0, 1.0);
  let a = max(rough * rough, 0.002);
  let f0 = mix(vec3f(0.04), baseColor, metallic);
  let diffuse = baseColor * (1.0 - metallic) / 3.14159265;
  let nv = max(dot(n, v), 1e-3);
  let gathered = 1.0 - a / 3.0 * (1.48 + 0.22 * a - 0.7 * a * a);
  let sky = mix(lights.ambientDown, lights.ambientUp, reflect(-v, n).y * gathered * 0.5 + 0.5);
  let around = mix(lights.ambientDown, lights.ambientUp, n.y / 3.0 + 0.5);
  let edge = min(pow(max(1.0 - nv, 0.0), 5.0) * (1.087 + rough * (-1.682 + rough * (-0.283 + 0.95 * rough))), 1.0);
  let lost = a * (0.408 + nv * (0.826 - 0.847 * nv) - a * (0.291 - nv * (0.337 + 0.287 * nv)));
  let once = f0 * (1.0 - lost - edge) + vec3f(edge);
  let mean = f0 + (vec3f(1.0) - f0) / 21.0;
  let again = lost * once * mean / (vec3f(1.0) - lost * mean);
  var sum = occlusion * (once * sky + (again + baseColor * (1.0 - metallic) * (vec3f(1.0) - once - again)) * around);
  for (var i: i32 = 0i; i < lights.count; i++) {
    let toLight = lights.position[i].xyz - at * lights.position[i].w;
    let far2 = dot(toLight, toLight);
    let fade = select(1.0, 1.0 / max(far2, 1e-4), lights.position[i].w > 0.0);
    let l = toLight * inverseSqrt(far2 + 1e-12);
    let nl = max(dot(n, l), 0.0);
    let h = normalize(l + v + n * 1e-6);
    let nh = max(dot(n, h), 0.0);
    let d = (nh * a * a - nh) * nh + 1.0;
    let distribution = a * a / (3.14159265 * d * d);
    let visibility = 0.5 / max(nl * sqrt(nv * nv * (1.0 - a * a) + a * a) + nv * sqrt(nl * nl * (1.0 - a * a) + a * a), 1e-5);
    let fresnel = f0 + (vec3f(1.0) - f0) * pow(max(1.0 - dot(v, h), 0.0), 5.0);
    sum += ((vec3f(1.0) - fresnel) * diffuse + fresnel * distribution * visibility) * nl * fade * lights.color[i].xyz;
  }
  return sum;
}`;
