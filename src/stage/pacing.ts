import { spend, startBudget } from './budget.ts';

/**
 * Draws only when something changed: one frame at a time, at a quality this machine keeps up with while things move,
 * and one last frame at the best quality when they rest.
 */
export const createPacer = (
  canvas: HTMLCanvasElement,
  gl: WebGL2RenderingContext,
  draw: (level: number) => void,
  /** Something is on its way that will ask for a frame: until then nothing rests. */
  isWaiting: () => boolean = () => false,
) => {
  let budget = startBudget;
  let scheduled = 0;
  let settle = 0;
  let stopped = false;

  /** Calls back when the graphics card has done all it was given so far. */
  const whenDone = (then: () => void) => {
    const fence = gl.isContextLost() ? null : gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    if (!fence) {
      then();
      return;
    }
    gl.flush();
    const look = () => {
      const state = stopped || gl.isContextLost() ? gl.ALREADY_SIGNALED : gl.clientWaitSync(fence, 0, 0);
      if (state === gl.TIMEOUT_EXPIRED) setTimeout(look, 4);
      else {
        gl.deleteSync(fence);
        then();
      }
    };
    setTimeout(look, 1);
  };

  let inFlight = false;
  let wanted = false;
  /** One frame at a time: a queue of them would only make the picture late. */
  const drawAlone = (level: number, spent: (milliseconds: number) => void) => {
    wanted = false;
    inFlight = true;
    const began = performance.now();
    draw(level);
    whenDone(() => {
      inFlight = false;
      spent(performance.now() - began);
      if (wanted) invalidate();
    });
  };
  /** The best quality this machine draws a resting picture with; stepped down once if that keeps it busy. */
  let resting = 0;
  const rest = () => {
    if (scheduled || inFlight || wanted) return;
    drawAlone(resting, (spent) => {
      if (spent > 250 && resting === 0) {
        resting = 1;
        rest();
      } else if (!wanted && !isWaiting()) canvas.dataset['rests'] = 'yes';
    });
  };
  const onTick = () => {
    scheduled = 0;
    drawAlone(budget.level, (spent) => {
      budget = spend(budget, spent);
      // Once nothing has changed for a while, one last frame at full quality.
      clearTimeout(settle);
      settle = window.setTimeout(rest, 180);
    });
  };
  const invalidate = () => {
    wanted = true;
    canvas.dataset['rests'] = 'no';
    clearTimeout(settle);
    if (!scheduled && !inFlight && !stopped) scheduled = requestAnimationFrame(onTick);
  };

  const stop = (): void => {
    stopped = true;
    cancelAnimationFrame(scheduled);
    clearTimeout(settle);
  };
  return { invalidate, stop };
};
