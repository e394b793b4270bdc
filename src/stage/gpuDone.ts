/** Resolves when the graphics card has done all it was given so far; the page goes on meanwhile. */
export const gpuDone = async (gl: WebGL2RenderingContext, isOver: () => boolean): Promise<void> => {
  const fence = gl.isContextLost() ? null : gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
  if (!fence) return;
  gl.flush();
  const look = (): boolean =>
    isOver() || gl.isContextLost() || gl.clientWaitSync(fence, 0, 0) !== gl.TIMEOUT_EXPIRED;
  for (let wait = 1; ; wait = 4) {
    await new Promise((next) => setTimeout(next, wait));
    if (look()) break;
  }
  gl.deleteSync(fence);
};
