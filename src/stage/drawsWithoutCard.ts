/** Whether the processor draws in place of a graphics card, as far as the driver's name tells. */
export const drawsWithoutCard = (gl: WebGL2RenderingContext): boolean => {
  const named = gl.getExtension('WEBGL_debug_renderer_info');
  const name: unknown = named && gl.getParameter(named.UNMASKED_RENDERER_WEBGL);
  return typeof name === 'string' && /swiftshader|llvmpipe|softpipe|software|basic render/i.test(name);
};
