/** What a browser tells of how long the graphics card takes; milliseconds are null until a frame was measured. */
export type GpuTime =
  { readonly isOffered: false } | { readonly isOffered: true; readonly milliseconds: number | null };

/** The parts of `EXT_disjoint_timer_query_webgl2` that are used (Khronos, WebGL extension registry). */
interface TimerQueries {
  readonly TIME_ELAPSED_EXT: number;
  readonly GPU_DISJOINT_EXT: number;
}

/** Measures how long the graphics card takes for a frame, where the browser offers that. Nothing waits for the answer. */
export const createGpuTimer = (gl: WebGL2RenderingContext) => {
  let queries = gl.getExtension('EXT_disjoint_timer_query_webgl2') as TimerQueries | null;
  let asked: WebGLQuery | null = null;
  let milliseconds: number | null = null;
  const look = (): void => {
    if (!queries || !asked || !gl.getQueryParameter(asked, gl.QUERY_RESULT_AVAILABLE)) return;
    // What else the card was given meanwhile may have made the clock jump: such an answer is none.
    const isTrue = !gl.getParameter(queries.GPU_DISJOINT_EXT);
    if (isTrue) milliseconds = Number(gl.getQueryParameter(asked, gl.QUERY_RESULT)) / 1e6;
    gl.deleteQuery(asked);
    asked = null;
  };
  return {
    /** Draws, and asks how long it takes; the newest frame that is asked for is the one that is told. */
    around: (draw: () => void): void => {
      if (!queries) return draw();
      look();
      if (asked) gl.deleteQuery(asked);
      asked = gl.createQuery();
      if (!asked) return draw();
      gl.beginQuery(queries.TIME_ELAPSED_EXT, asked);
      try {
        draw();
      } finally {
        gl.endQuery(queries.TIME_ELAPSED_EXT);
      }
    },
    read: (): GpuTime => {
      look();
      return queries ? { isOffered: true, milliseconds } : { isOffered: false };
    },
    /** A card that came back knows nothing of what was asked before. */
    renew: (): void => {
      queries = gl.getExtension('EXT_disjoint_timer_query_webgl2') as TimerQueries | null;
      [asked, milliseconds] = [null, null];
    },
    dispose: (): void => {
      if (asked) gl.deleteQuery(asked);
      asked = null;
    },
  };
};
