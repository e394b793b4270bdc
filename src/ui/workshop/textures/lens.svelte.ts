/** As near as one comes, and how much nearer at a press. */
const [MOST, STEP] = [32, 1.5] as const;

/** Looks nearer at what is drawn in a box: about the pointer by the wheel, moved by dragging. Nothing is smaller than the whole. */
export const createLens = () => {
  let zoom = $state(1);
  let [x, y] = $state([0, 0]);
  let dragged: number | null = null;
  /** @param about from the middle of the box, in pixels of the screen */
  const by = (times: number, about: readonly [number, number] = [0, 0]): void => {
    const next = Math.min(Math.max(zoom * times, 1), MOST);
    const grown = next / zoom;
    [x, y] = next === 1 ? [0, 0] : [about[0] - (about[0] - x) * grown, about[1] - (about[1] - y) * grown];
    zoom = next;
  };
  const release = (): void => {
    dragged = null;
  };
  return {
    STEP,
    get zoom() {
      return zoom;
    },
    get transform() {
      return `translate(${x}px, ${y}px) scale(${zoom})`;
    },
    by,
    fit: () => by(0),
    hands: {
      onwheel: (event: WheelEvent & { currentTarget: HTMLElement }) => {
        event.preventDefault();
        const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
        by(2 ** (-event.deltaY / 300), [event.clientX - left - width / 2, event.clientY - top - height / 2]);
      },
      onpointerdown: (event: PointerEvent & { currentTarget: HTMLElement }) => {
        // What lies on it and is dragged itself is left to be.
        if (zoom === 1 || (event.target as Element).closest('[role=slider]')) return;
        dragged = event.pointerId;
        event.currentTarget.setPointerCapture(dragged);
      },
      onpointermove: (event: PointerEvent) => {
        if (dragged === event.pointerId) [x, y] = [x + event.movementX, y + event.movementY];
      },
      onpointerup: release,
      onpointercancel: release,
    },
  };
};
