import { expect, test, type Page } from '@playwright/test';
import { LIGHT_UNIFORMS, LIGHTING } from '#core/emit/glsl/lighting.ts';
import { LIGHTING as LIGHTING_WGSL } from '#core/emit/wgsl/lighting.ts';
import { createChance } from './probe.ts';
import { securePage } from './securePage.ts';

/** A surface under a light: what `lightSurface` is given, the eye, and where one light comes from. */
interface Case {
  readonly base: readonly number[];
  readonly metallic: number;
  readonly roughness: number;
  readonly normal: readonly number[];
  readonly view: readonly number[];
  readonly light: readonly number[];
}
/** The sky above and below, and the light's own colour. */
interface Surroundings {
  readonly up: readonly number[];
  readonly down: readonly number[];
  readonly color: readonly number[];
}
const numbersOf = ({ base, metallic, roughness, normal, view, light }: Case): number[] => [
  ...[...base, metallic],
  ...[...normal, roughness],
  ...[...view, 0],
  ...[...light, 0],
];

/** Runs in the page: the GLSL as it is handed over, for each case one pixel. */
const inGlsl = (given: {
  readonly lighting: string;
  readonly uniforms: readonly string[];
  readonly cases: readonly number[];
  readonly around: Surroundings;
}): number[] => {
  const count = given.cases.length / 16;
  const gl = new OffscreenCanvas(count, 1).getContext('webgl2')!;
  gl.getExtension('EXT_color_buffer_float');
  const texture = (width: number, data: Float32Array | null) => {
    const made = gl.createTexture();
    gl.bindTexture(gl.TEXTURE_2D, made);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA32F, width, 1, 0, gl.RGBA, gl.FLOAT, data);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    return made;
  };
  const target = texture(count, null);
  const cases = texture(count * 4, Float32Array.from(given.cases));
  const program = gl.createProgram();
  const fragment = `#version 300 es
precision highp float; precision highp int;
uniform highp sampler2D cases;
${given.uniforms.map((each) => `uniform ${each};`).join('\n')}
uniform vec3 sun;
out vec4 made;
${given.lighting.replaceAll('lightPosition[i]', 'vec4(lightDirection, 0.0)').replace('vec3 lightSurface', 'vec3 lightDirection;\nvec3 lightSurface')}
void main() {
  int i = int(gl_FragCoord.x) * 4;
  vec4 a = texelFetch(cases, ivec2(i, 0), 0), b = texelFetch(cases, ivec2(i + 1, 0), 0);
  lightDirection = texelFetch(cases, ivec2(i + 3, 0), 0).xyz;
  made = vec4(lightSurface(a.xyz, a.w, b.w, 1.0, b.xyz, texelFetch(cases, ivec2(i + 2, 0), 0).xyz, vec3(0.0)), 1.0);
}`;
  for (const [kind, text] of [
    [
      gl.VERTEX_SHADER,
      '#version 300 es\nin vec2 corner;\nvoid main() { gl_Position = vec4(corner, 0.0, 1.0); }',
    ],
    [gl.FRAGMENT_SHADER, fragment],
  ] as const) {
    const shader = gl.createShader(kind)!;
    gl.shaderSource(shader, text);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(shader) ?? '');
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  gl.useProgram(program);
  const at = (name: string) => gl.getUniformLocation(program, name);
  gl.uniform1i(at('lightCount'), 1);
  gl.uniform3fv(at('lightColor'), [...given.around.color]);
  gl.uniform3fv(at('ambientUp'), [...given.around.up]);
  gl.uniform3fv(at('ambientDown'), [...given.around.down]);
  gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
  gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
  gl.bindTexture(gl.TEXTURE_2D, cases);
  gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
  gl.bufferData(gl.ARRAY_BUFFER, Float32Array.of(-1, -1, 3, -1, -1, 3), gl.STATIC_DRAW);
  gl.enableVertexAttribArray(0);
  gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);
  gl.viewport(0, 0, count, 1);
  gl.drawArrays(gl.TRIANGLES, 0, 3);
  const made = new Float32Array(count * 4);
  gl.readPixels(0, 0, count, 1, gl.RGBA, gl.FLOAT, made);
  return [...made];
};

/** Runs in the page: the WGSL as it is handed over, for each case one invocation. */
const inWgsl = async (given: {
  readonly lighting: string;
  readonly cases: readonly number[];
  readonly around: Surroundings;
}): Promise<number[]> => {
  const device = await (await navigator.gpu.requestAdapter())!.requestDevice();
  const count = given.cases.length / 16;
  const code = `${given.lighting.replaceAll('lights.position[i]', 'vec4f(lightDirection, 0.0)')}
var<private> lightDirection: vec3f;
@group(0) @binding(0) var<storage, read> cases: array<vec4f>;
@group(0) @binding(1) var<storage, read_write> made: array<vec4f>;
@compute @workgroup_size(1) fn main(@builtin(global_invocation_id) at: vec3u) {
  let i = at.x * 4u;
  lightDirection = cases[i + 3u].xyz;
  made[at.x] = vec4f(lightSurface(cases[i].xyz, cases[i].w, cases[i + 1u].w, 1.0, cases[i + 1u].xyz, cases[i + 2u].xyz, vec3f(0.0)), 1.0);
}`;
  const bufferOf = (data: Float32Array<ArrayBuffer>, usage: number) => {
    const buffer = device.createBuffer({ size: data.byteLength, usage: usage | GPUBufferUsage.COPY_DST });
    device.queue.writeBuffer(buffer, 0, data);
    return buffer;
  };
  const { up, down, color } = given.around;
  const lights = new Float32Array(4 * 4 + 4 * 4 + 8);
  lights.set(color, 16);
  lights.set(up, 32);
  new Int32Array(lights.buffer)[35] = 1;
  lights.set(down, 36);
  device.pushErrorScope('validation');
  const pipeline = device.createComputePipeline({
    layout: 'auto',
    compute: { module: device.createShaderModule({ code }) },
  });
  const refused = await device.popErrorScope();
  if (refused) throw new Error(refused.message);
  const output = device.createBuffer({
    size: count * 16,
    usage: GPUBufferUsage.STORAGE | GPUBufferUsage.COPY_SRC,
  });
  const back = device.createBuffer({
    size: count * 16,
    usage: GPUBufferUsage.MAP_READ | GPUBufferUsage.COPY_DST,
  });
  const buffers = [
    bufferOf(Float32Array.from(given.cases), GPUBufferUsage.STORAGE),
    output,
    bufferOf(lights, GPUBufferUsage.UNIFORM),
  ];
  const encoder = device.createCommandEncoder();
  const pass = encoder.beginComputePass();
  pass.setPipeline(pipeline);
  const entries = buffers.map((buffer, binding) => ({ binding, resource: { buffer } }));
  pass.setBindGroup(0, device.createBindGroup({ layout: pipeline.getBindGroupLayout(0), entries }));
  pass.dispatchWorkgroups(count);
  pass.end();
  encoder.copyBufferToBuffer(output, 0, back, 0, count * 16);
  device.queue.submit([encoder.finish()]);
  await back.mapAsync(GPUMapMode.READ);
  return [...new Float32Array(back.getMappedRange())];
};

const dot = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, x, i) => sum + x * b[i]!, 0);
const unit = (a: readonly number[]): number[] => a.map((x) => x / Math.hypot(...a));

/** glTF 2.0, appendix B.3, in double precision: the material mix, GGX, Smith joint, Schlick; times N·L and the light. */
const byTheSpecification = (each: Case, color: readonly number[]): number[] => {
  const [n, v, l] = [each.normal, each.view, each.light];
  const h = unit(v.map((x, i) => x + l[i]!));
  const alpha = Math.max(each.roughness ** 2, 0.002);
  const [nl, nv] = [Math.max(dot(n, l), 0), Math.max(dot(n, v), 1e-3)];
  const nh = Math.max(dot(n, h), 0);
  const d = (nh > 0 ? alpha ** 2 : 0) / (Math.PI * (nh ** 2 * (alpha ** 2 - 1) + 1) ** 2);
  const root = (x: number) => Math.sqrt(alpha ** 2 + (1 - alpha ** 2) * x ** 2);
  // V = G / (4 |N·L| |N·V|), G as the product over both directions, height-correlated.
  const visibility = 0.5 / (nl * root(nv) + nv * root(nl));
  return each.base.map((base, c) => {
    const f0 = 0.04 * (1 - each.metallic) + base * each.metallic;
    const fresnel = f0 + (1 - f0) * (1 - Math.max(dot(v, h), 0)) ** 5;
    const diffuse = (base * (1 - each.metallic)) / Math.PI;
    return ((1 - fresnel) * diffuse + fresnel * visibility * d) * nl * color[c]!;
  });
};

const BLACK: Surroundings = { up: [0, 0, 0], down: [0, 0, 0], color: [2, 1.5, 0.7] };
const WHITE: Surroundings = { up: [1, 1, 1], down: [1, 1, 1], color: [0, 0, 0] };

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await securePage(browser);
});
test.afterAll(() => page.close());

const both = async (cases: readonly Case[], around: Surroundings): Promise<readonly number[][]> => {
  const given = { cases: cases.flatMap(numbersOf), around };
  return [
    await page.evaluate(inGlsl, { ...given, lighting: LIGHTING, uniforms: LIGHT_UNIFORMS }),
    await page.evaluate(inWgsl, { ...given, lighting: LIGHTING_WGSL }),
  ];
};

test('a lit surface reflects what glTF’s appendix B says, in GLSL and in WGSL', async () => {
  const chance = createChance(12);
  const direction = () => unit([chance() - 0.5, chance() - 0.5, chance() - 0.5]);
  const cases = Array.from({ length: 400 }, (): Case => {
    const normal = direction();
    const above = (way: number[]) => (dot(way, normal) < 0 ? way.map((x) => -x) : way);
    return {
      ...{ base: [chance(), chance(), chance()], metallic: Math.round(chance() * 4) / 4, normal },
      ...{ roughness: 0.1 + 0.9 * chance(), view: above(direction()), light: direction() },
    };
  });
  for (const made of await both(cases, BLACK))
    cases.forEach((each, i) => {
      byTheSpecification(each, BLACK.color).forEach((wanted, c) => {
        const apart = Math.abs(made[i * 4 + c]! - wanted);
        expect(apart, `${JSON.stringify(each)}: ${made[i * 4 + c]}, not ${wanted}`).toBeLessThan(
          2e-3 * Math.max(wanted, 0.05),
        );
      });
    });
});

test('in a white sky white plaster and white metal are white; a mirror shows the sky, a rough one what it gathers of it', async () => {
  const normal = [0, 1, 0];
  const view = (nv: number) => [Math.sqrt(1 - nv * nv), nv, 0];
  const steps = [0.05, 0.2, 0.35, 0.5, 0.65, 0.8, 0.95];
  const furnace = steps.flatMap((roughness) =>
    steps.flatMap((nv) =>
      [0, 1].map((metallic): Case => ({
        ...{ base: [1, 1, 1], metallic, roughness, normal, view: view(nv), light: normal },
      })),
    ),
  );
  for (const made of await both(furnace, WHITE))
    furnace.forEach((each, i) => {
      for (const c of [0, 1, 2])
        expect(Math.abs(made[i * 4 + c]! - 1), `${JSON.stringify(each)}: ${made[i * 4 + c]}`).toBeLessThan(
          2e-3,
        );
    });

  // Straight at a metal under a sky that is bright above: what GGX gathers, summed over its facets (t = cos² of one).
  const mirrors = [0.05, 0.3, 0.5, 0.7, 0.85, 1].map((roughness): Case => ({
    ...{ base: [1, 1, 1], metallic: 1, roughness, normal, view: normal, light: normal },
  }));
  const sky = { up: [1, 1, 1], down: [0, 0, 0], color: [0, 0, 0] };
  for (const made of await both(mirrors, sky))
    mirrors.forEach(({ roughness }, i) => {
      let [sum, weight] = [0, 0];
      for (let k = 0; k < 20_000; k += 1) {
        const u = (k + 0.5) / 20_000;
        const t = (1 - u) / (1 + (roughness ** 4 - 1) * u);
        const nl = 2 * t - 1;
        if (nl <= 0) continue;
        sum += nl * (0.5 + 0.5 * nl);
        weight += nl;
      }
      // What bounces twice comes evenly from the half above: five sixths of it.
      expect(made[i * 4]!, `roughness ${roughness}`).toBeGreaterThan(Math.min(sum / weight, 5 / 6) - 0.015);
      expect(made[i * 4]!, `roughness ${roughness}`).toBeLessThan(Math.max(sum / weight, 5 / 6) + 0.015);
      if (roughness < 0.4) expect(Math.abs(made[i * 4]! - sum / weight)).toBeLessThan(0.015);
    });
});
