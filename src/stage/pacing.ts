import { gpuDone } from './gpuDone.ts';
import { BEST, PLAIN, spend, startBudget, startCoarse } from './budget.ts';
import { drawsWithoutCard } from './drawsWithoutCard.ts';

/** A resting picture that takes longer keeps the machine busy. */
const MOST_RESTING_MS = 250;
/** A plain frame that takes longer leaves no room for one of several samples. */
const ROOM_MS = 80;
/** While programs are on their way, frames take no more than about this share of the time: the rest is the driver's. */
const SHARE_WHILE_LINKING = 1 / 4;
/** How long a stage that has shown nothing yet waits for all of it, rather than show it bit by bit. */
const FIRST_WAIT_MS = 1000;
/** How long a stage at rest waits for the program that woke it, rather than show what the last one makes of the change. */
const WAKING_WAIT_MS = 300;

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
  isLinking: () => boolean = () => false,
) => {
  let budget = drawsWithoutCard(gl) ? startCoarse : startBudget;
  let scheduled = 0;
  let settle = 0;
  let stopped = false;

  let inFlight = false;
  let wanted = false;
  let frames = 0;
  /** One frame at a time: a queue of them would only make the picture late. */
  const drawAlone = (level: number, spent: (milliseconds: number) => void) => {
    wanted = false;
    inFlight = true;
    const began = performance.now();
    draw(level);
    void gpuDone(gl, () => stopped).then(() => {
      inFlight = false;
      frames += 1;
      canvas.dataset['frames'] = String(frames);
      spent(performance.now() - began);
      if (wanted) invalidate();
    });
  };
  /** How long the last plain frame took, and whether this machine draws one of several samples in good time. */
  let plainSpent = Infinity;
  let keepsUp = true;
  const noteSpent = (level: number, spent: number): void => {
    if (level === PLAIN) plainSpent = spent;
    if (level === BEST && spent > MOST_RESTING_MS) keepsUp = false;
  };
  /** The last frame: of the best quality, where a plain one has shown that there is room for it. */
  const rest = () => {
    if (scheduled || inFlight || wanted) return;
    const level = keepsUp && plainSpent <= ROOM_MS ? BEST : PLAIN;
    drawAlone(level, (spent) => {
      noteSpent(level, spent);
      const better = level === PLAIN && keepsUp && spent <= ROOM_MS;
      if (better || (level === BEST && !keepsUp)) rest();
      else if (!wanted && !isWaiting()) canvas.dataset['rests'] = 'yes';
    });
  };
  /** A frame before then would hold up the programs that it will be drawn again for. */
  let notBefore = performance.now() + FIRST_WAIT_MS;
  const onTick = () => {
    scheduled = 0;
    if (isLinking() && performance.now() < notBefore) {
      scheduled = requestAnimationFrame(onTick);
      return;
    }
    const { level } = budget;
    drawAlone(level, (spent) => {
      notBefore = performance.now() + spent * (1 / SHARE_WHILE_LINKING - 1);
      budget = spend(budget, spent);
      noteSpent(level, spent);
      // Once nothing has changed for a while, one last frame at full quality.
      clearTimeout(settle);
      settle = window.setTimeout(rest, 180);
    });
  };
  const invalidate = () => {
    wanted = true;
    if (canvas.dataset['rests'] === 'yes') notBefore = performance.now() + WAKING_WAIT_MS;
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
