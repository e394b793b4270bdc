/** One program: its stages, and what its uniforms stand at by name; a list is read as far as the uniform is long. */
export interface Drawn {
  readonly vertex: string;
  readonly fragment: string;
  readonly uniforms: Readonly<Record<string, readonly number[]>>;
}

/**
 * Runs in the page: draws pairs of programs over a square in WebGL 2, into floats, and compares their pictures. Where
 * one discards, the other is to be see-through or to discard too; where the first is no number, anything will do.
 * @returns for each pair how much of the second is unlike the first, as a share of its numbers, or what the driver
 *   said of it
 */
export const compareDrawn = (given: {
  readonly side: number;
  readonly tolerance: number;
  readonly pairs: readonly {
    readonly pair: readonly [Drawn, Drawn];
    /** How many of the four numbers both have. */
    readonly size: 3 | 4;
  }[];
}): (number | string)[] => {
  const { side, pairs, tolerance } = given;
  const gl = new OffscreenCanvas(side, side).getContext('webgl2')!;
  gl.getExtension('EXT_color_buffer_float');
  const picture = gl.createTexture();
  gl.bindTexture(gl.TEXTURE_2D, picture);
  // Soft, so that where a rounding moves a place a little, little changes.
  const texels = Uint8Array.from({ length: 32 * 32 * 4 }, (_, i) => {
    const [x, y, c] = [(i >> 2) % 32, (i >> 7) % 32, i & 3];
    return 128 + 60 * Math.sin((x * (c + 1) * Math.PI) / 16) + 50 * Math.cos(((y + c) * Math.PI) / 8);
  });
  gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, 32, 32, 0, gl.RGBA, gl.UNSIGNED_BYTE, texels);
  gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.LINEAR);
  const target = gl.createTexture();
  gl.activeTexture(gl.TEXTURE1);
  gl.bindTexture(gl.TEXTURE_2D, target);
  gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, side, side);
  gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
  gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
  gl.viewport(0, 0, side, side);

  // One triangle that covers the square.
  gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
  gl.bufferData(gl.ARRAY_BUFFER, Float32Array.of(0, 0, 2, 0, 0, 2), gl.STATIC_DRAW);
  gl.enableVertexAttribArray(0);
  gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);

  const set = (program: WebGLProgram, { uniforms }: Drawn): void => {
    for (let i = 0; i < Number(gl.getProgramParameter(program, gl.ACTIVE_UNIFORMS)); i += 1) {
      const { name, type, size } = gl.getActiveUniform(program, i)!;
      const at = gl.getUniformLocation(program, name);
      const all = uniforms[name.replace(/\[0\]$/, '')] ?? [0];
      const numbers = (each: number): number[] =>
        Array.from({ length: each * size }, (_, k) => all[k % all.length]!);
      if (type === gl.FLOAT) gl.uniform1fv(at, numbers(1));
      else if (type === gl.FLOAT_VEC2) gl.uniform2fv(at, numbers(2));
      else if (type === gl.FLOAT_VEC3) gl.uniform3fv(at, numbers(3));
      else if (type === gl.FLOAT_VEC4) gl.uniform4fv(at, numbers(4));
      else if (type === gl.FLOAT_MAT3) gl.uniformMatrix3fv(at, false, numbers(9));
      else if (type === gl.FLOAT_MAT4) gl.uniformMatrix4fv(at, false, numbers(16));
      else if (type === gl.INT || type === gl.BOOL) gl.uniform1iv(at, numbers(1).map(Math.round));
    }
  };
  const link = (drawn: Drawn): WebGLProgram | string => {
    const program = gl.createProgram();
    for (const [kind, text] of [
      [gl.VERTEX_SHADER, drawn.vertex],
      [gl.FRAGMENT_SHADER, drawn.fragment],
    ] as const) {
      const shader = gl.createShader(kind)!;
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS))
        return gl.getShaderInfoLog(shader) ?? 'not compiled';
      gl.attachShader(program, shader);
    }
    gl.bindAttribLocation(program, 0, 'corner');
    gl.linkProgram(program);
    return gl.getProgramParameter(program, gl.LINK_STATUS)
      ? program
      : (gl.getProgramInfoLog(program) ?? 'not linked');
  };
  const NOTHING = -7;
  const draw = (drawn: Drawn): Float32Array | string => {
    const program = link(drawn);
    if (typeof program === 'string') return program;
    gl.useProgram(program);
    set(program, drawn);
    gl.clearColor(NOTHING, NOTHING, NOTHING, NOTHING);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    const numbers = new Float32Array(side * side * 4);
    gl.readPixels(0, 0, side, side, gl.RGBA, gl.FLOAT, numbers);
    return numbers;
  };
  return pairs.map(({ pair, size }) => {
    const [written, ours] = pair.map(draw);
    if (typeof written === 'string') return `as written: ${written}`;
    if (typeof ours === 'string') return `as it comes back: ${ours}`;
    let apart = 0;
    for (let p = 0; p < written!.length; p += 4) {
      if (written![p + 3] === NOTHING && (ours![p + 3] === NOTHING || ours![p + 3] === 0)) continue;
      for (let c = p; c < p + size; c += 1) {
        const x = written![c]!;
        const far = Math.abs(x - ours![c]!);
        if (Number.isFinite(x) && !(far <= tolerance * Math.max(1, Math.abs(x)))) apart += 1;
      }
    }
    return apart / written!.length;
  });
};
