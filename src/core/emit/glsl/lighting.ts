/** How many lights a lit surface reads. */
export const LIGHTS = 4;

/**
 * The lit surface: glTF 2.0's metallic-roughness model (specification, appendix B): GGX distribution, Smith's
 * height-correlated visibility, Schlick's Fresnel. Light colours are linear, already times their intensity; a
 * light's `w` is 0 for a direction and 1 for a point that fades with the square of its distance.
 */
export const LIGHTING = `vec3 lightSurface(vec3 baseColor, float metallic, float roughness, float occlusion, vec3 n, vec3 v, vec3 at) {
  float a = max(roughness * roughness, 0.002);
  vec3 f0 = mix(vec3(0.04), baseColor, metallic);
  vec3 diffuse = baseColor * (1.0 - metallic) / 3.14159265;
  float nv = max(dot(n, v), 1e-3);
  vec3 ambient = mix(ambientDown, ambientUp, n.y * 0.5 + 0.5) * occlusion;
  vec3 sum = ambient * (baseColor * (1.0 - metallic) + f0 * 0.5);
  for (int i = 0; i < lightCount; ++i) {
    vec3 toLight = lightPosition[i].xyz - at * lightPosition[i].w;
    float fade = lightPosition[i].w > 0.0 ? 1.0 / max(dot(toLight, toLight), 1e-4) : 1.0;
    vec3 l = normalize(toLight);
    float nl = max(dot(n, l), 0.0);
    vec3 h = normalize(l + v);
    float nh = max(dot(n, h), 0.0);
    float d = (nh * a * a - nh) * nh + 1.0;
    float distribution = a * a / (3.14159265 * d * d);
    float visibility = 0.5 / max(nl * sqrt(nv * nv * (1.0 - a * a) + a * a) + nv * sqrt(nl * nl * (1.0 - a * a) + a * a), 1e-5);
    vec3 fresnel = f0 + (1.0 - f0) * pow(1.0 - max(dot(v, h), 0.0), 5.0);
    sum += ((1.0 - fresnel) * diffuse + fresnel * distribution * visibility) * nl * fade * lightColor[i];
  }
  return sum;
}`;

/** What whoever draws hands over for it. */
export const LIGHT_UNIFORMS: readonly string[] = [
  'int lightCount',
  `vec4 lightPosition[${LIGHTS}]`,
  `vec3 lightColor[${LIGHTS}]`,
  'vec3 ambientUp',
  'vec3 ambientDown',
];
