import type { GIVEN_FIELDS } from '#core/emit/wgsl/inputReads.ts';

/** Pixels along a side of what is drawn. */
export const SIDE = 16;

const SIZES: Readonly<Record<string, readonly [floats: number, align: number]>> = {
  mat4x4f: [16, 4],
  mat3x3f: [12, 4],
  vec3f: [3, 4],
  vec2f: [2, 2],
  f32: [1, 1],
};
/** The world is the screen: every matrix is the identity, and the camera stands three metres before it. */
const identity = (rows: number): number[] => Array.from({ length: rows * 4 }, (_, i) => Number(i % 5 === 0));
export const GIVEN: Readonly<Record<string, readonly number[]>> = {
  ...{ modelMatrix: identity(4), viewMatrix: identity(4), projectionMatrix: identity(4) },
  ...{ normalMatrix: identity(3), surfaceDistanceFrame: identity(4) },
  ...{ cameraPosition: [0.2, 0.1, 3], time: [1], timeStep: [1 / 60], resolution: [SIDE, SIDE] },
  ...{ boundsLow: [-1, -1, 0], boundsHigh: [1, 1, 0] },
};

/** The block of what whoever draws gives, laid out as the module declares it (WGSL specification, section 14.4.1). */
export const givenBlock = (code: string): number[] => {
  const struct = /struct Given \{([^}]*)\}/.exec(code)![1]!;
  const block: number[] = [];
  for (const [, name, type] of struct.matchAll(/(\w+): (\w+),/g)) {
    const [floats, align] = SIZES[type!]!;
    while (block.length % align) block.push(0);
    block.push(...GIVEN[name as keyof typeof GIVEN_FIELDS]!.slice(0, floats));
  }
  while (block.length % 4) block.push(0);
  return block;
};

export interface Modules {
  readonly vertex: string;
  readonly fragment: string;
  readonly wgsl: string;
  readonly block: readonly number[];
  readonly given: Readonly<Record<string, readonly number[]>>;
  readonly side: number;
}

/**
 * Runs in the page: draws one triangle over all of a square with GLSL in WebGL 2 and with WGSL in WebGPU.
 * @returns the numbers of both, four a pixel, rows from the bottom; or what a driver said
 */
export const drawModules = async (made: Modules): Promise<readonly [number[], number[]] | string> => {
  const { side } = made;
  const corners = [0, 1, 2].map((i) => {
    const [u, v] = [i === 1 ? 2 : 0, i === 2 ? 2 : 0];
    return { a_position: [u * 2 - 1, v * 2 - 1, 0], a_normal: [0, 0, 1], a_uv: [u, v], a_uv2: [u, v] };
  });
  const drawGlsl = (): number[] | string => {
    const gl = new OffscreenCanvas(side, side).getContext('webgl2')!;
    gl.getExtension('EXT_color_buffer_float');
    const program = gl.createProgram();
    for (const [kind, text] of [
      [gl.VERTEX_SHADER, made.vertex],
      [gl.FRAGMENT_SHADER, made.fragment],
    ] as const) {
      const shader = gl.createShader(kind)!;
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) return gl.getShaderInfoLog(shader) ?? '?';
      gl.attachShader(program, shader);
    }
    gl.linkProgram(program);
    gl.useProgram(program);
    for (const [name, numbers] of Object.entries(made.given)) {
      const at = gl.getUniformLocation(program, name);
      if (numbers.length === 16) gl.uniformMatrix4fv(at, false, numbers);
      else if (numbers.length === 3) gl.uniform3fv(at, numbers);
      else if (numbers.length === 2) gl.uniform2fv(at, numbers);
      else if (numbers.length === 1) gl.uniform1fv(at, numbers);
    }
    gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, side, side);
    gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
    const target = gl.getParameter(gl.TEXTURE_BINDING_2D) as WebGLTexture;
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
    gl.viewport(0, 0, side, side);
    for (const name of ['a_position', 'a_normal', 'a_uv', 'a_uv2'] as const) {
      const at = gl.getAttribLocation(program, name);
      if (at < 0) continue;
      gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
      gl.bufferData(
        gl.ARRAY_BUFFER,
        Float32Array.from(corners.flatMap((each) => each[name])),
        gl.STATIC_DRAW,
      );
      gl.enableVertexAttribArray(at);
      gl.vertexAttribPointer(at, corners[0]![name].length, gl.FLOAT, false, 0, 0);
    }
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    const numbers = new Float32Array(side * side * 4);
    gl.readPixels(0, 0, side, side, gl.RGBA, gl.FLOAT, numbers);
    return [...numbers];
  };
  const drawWgsl = async (): Promise<number[] | string> => {
    const page = globalThis as unknown as { drawingDevice?: GPUDevice };
    page.drawingDevice ??= await (await navigator.gpu.requestAdapter())!.requestDevice();
    const device = page.drawingDevice;
    const bufferOf = (numbers: readonly number[], usage: number): GPUBuffer => {
      const buffer = device.createBuffer({
        size: numbers.length * 4,
        usage: usage | GPUBufferUsage.COPY_DST,
      });
      device.queue.writeBuffer(buffer, 0, Float32Array.from(numbers));
      return buffer;
    };
    device.pushErrorScope('validation');
    const module = device.createShaderModule({ code: made.wgsl });
    const sizes = [3, 3, 2, 2, 4, 4, 2];
    const pipeline = device.createRenderPipeline({
      layout: 'auto',
      vertex: {
        module,
        buffers: [
          {
            arrayStride: 80,
            attributes: sizes.map((n, i) => ({
              shaderLocation: i,
              format: `float32x${n}` as GPUVertexFormat,
              offset: sizes.slice(0, i).reduce((sum, each) => sum + each * 4, 0),
            })),
          },
        ],
      },
      fragment: { module, targets: [{ format: 'rgba32float' }] },
    });
    const target = device.createTexture({
      size: [side, side],
      format: 'rgba32float',
      usage: GPUTextureUsage.RENDER_ATTACHMENT | GPUTextureUsage.COPY_SRC,
    });
    const encoder = device.createCommandEncoder();
    const pass = encoder.beginRenderPass({
      colorAttachments: [{ view: target.createView(), loadOp: 'clear', storeOp: 'store' }],
    });
    pass.setPipeline(pipeline);
    const given = bufferOf(made.block, GPUBufferUsage.UNIFORM);
    pass.setBindGroup(
      0,
      device.createBindGroup({
        layout: pipeline.getBindGroupLayout(0),
        entries: [{ binding: 0, resource: { buffer: given } }],
      }),
    );
    pass.setVertexBuffer(
      0,
      bufferOf(
        corners.flatMap((each) => [
          ...[...each.a_position, ...each.a_normal, ...each.a_uv, ...each.a_uv2],
          ...[1, 0, 0, 1, 1, 1, 1, 1, 1, 1],
        ]),
        GPUBufferUsage.VERTEX,
      ),
    );
    pass.draw(3);
    pass.end();
    const stride = Math.max(side * 16, 256);
    const back = device.createBuffer({
      size: stride * side,
      usage: GPUBufferUsage.COPY_DST | GPUBufferUsage.MAP_READ,
    });
    encoder.copyTextureToBuffer({ texture: target }, { buffer: back, bytesPerRow: stride }, [side, side]);
    device.queue.submit([encoder.finish()]);
    const refused = await device.popErrorScope();
    if (refused) return refused.message;
    await back.mapAsync(GPUMapMode.READ);
    const bytes = back.getMappedRange();
    // WebGPU's first row is the top one.
    return Array.from({ length: side }, (_, y) => [
      ...new Float32Array(bytes, (side - 1 - y) * stride, side * 4),
    ]).flat();
  };
  const [glsl, wgsl] = [drawGlsl(), await drawWgsl()];
  if (typeof glsl === 'string') return `WebGL 2: ${glsl}`;
  if (typeof wgsl === 'string') return `WebGPU: ${wgsl}`;
  return [glsl, wgsl];
};
