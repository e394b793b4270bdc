#version 300 es
// The playhouse's curtain by hand, unlit, as a person would write it for one game: same look, same noise.
precision highp float;
precision highp int;
in vec2 v_uv;
out vec4 fragColor;
uniform float burn, edgeWidth, flicker, cells, time, orderBy, mending;
uniform vec3 heat, mendHeat;
uniform int seed, period;
uniform sampler2D orderPicture;

vec2 hash(ivec2 p, uint s) {
  uvec3 v = uvec3(uint(p.x), uint(p.y), s) * 1664525u + 1013904223u;
  v.x += v.y * v.z; v.y += v.z * v.x; v.z += v.x * v.y;
  v ^= v >> 16u;
  v.x += v.y * v.z; v.y += v.z * v.x;
  return vec2(v.xy >> 8u) * 5.9604645e-8;
}
vec2 wrap(vec2 c, float n) { return c - floor((c + 0.5) / n) * n; }
float worley(vec2 p, uint s, float n) {
  vec2 c = floor(p), f = p - c;
  float d = 8.0;
  for (int y = -1; y <= 1; ++y)
    for (int x = -1; x <= 1; ++x) {
      vec2 o = vec2(x, y);
      vec2 r = o + hash(ivec2(wrap(c + o, n)), s) - f;
      d = min(d, dot(r, r));
    }
  return sqrt(d);
}
float gradient(vec2 p, uint s) {
  vec2 c = floor(p), f = p - c, t = f * f * f * (f * (f * 6.0 - 15.0) + 10.0);
  ivec2 i = ivec2(c);
  float a = dot(normalize(hash(i, s) * 2.0 - 1.0), f);
  float b = dot(normalize(hash(i + ivec2(1, 0), s) * 2.0 - 1.0), f - vec2(1.0, 0.0));
  float d = dot(normalize(hash(i + ivec2(0, 1), s) * 2.0 - 1.0), f - vec2(0.0, 1.0));
  float e = dot(normalize(hash(i + ivec2(1), s) * 2.0 - 1.0), f - 1.0);
  return mix(mix(a, b, t.x), mix(d, e, t.x), t.y) * 1.4142135;
}
void main() {
  vec2 uv = v_uv;
  float fbm = (gradient(uv * 6.0, 0u) + gradient(uv * 12.0, 1u) * 0.5 + gradient(uv * 24.0, 2u) * 0.25 + gradient(uv * 48.0, 3u) * 0.125) / 1.875;
  float order = (worley(uv * vec2(cells * 1.6, cells), uint(seed), period > 0 ? float(period) : 16777216.0) + fbm * 0.5 + uv.y * 0.4 + 0.1) / 1.6;
  order = mix(order, uv.y, clamp(orderBy, 0.0, 1.0));
  order = mix(order, texture(orderPicture, uv).r, clamp(orderBy - 1.0, 0.0, 1.0));
  float front = order - mix(-edgeWidth, 1.0, burn);
  float rim = pow(clamp(1.0 - front / edgeWidth, 0.0, 1.0), 2.2);
  rim *= 1.0 - flicker * (sin((time * 3.0 + order * 5.0) * 6.2831853) * 0.5 + 0.5);
  float weave = (sin(uv.x * 620.0) * sin(uv.y * 460.0) + 1.0) * 0.15 + 0.7;
  float hem = clamp((uv.y - 0.07) * 1e4, 0.0, 1.0) * clamp((0.092 - uv.y) * 1e4, 0.0, 1.0);
  vec3 cloth = mix(vec3(0.2, 0.006, 0.018), vec3(0.6, 0.33, 0.08), hem) * weave * smoothstep(0.0, edgeWidth * 2.5, front);
  float fringe = step(0.004, uv.y - 0.045 * (sin(uv.x * 34.0 * 6.2831853) * 0.5 + 0.5));
  fragColor = vec4(cloth + rim * mix(heat, mendHeat, mending), step(0.0, front) * fringe);
}
