<script lang="ts">
  import type { TextureStep } from '#core/document/project.ts';
  import { IMAGE_STEPS } from '#core/images/imageSteps.ts';

  /** The frame of a crop, or the four corners of a straightening, over the picture that it is made from. */
  interface Props {
    step: TextureStep;
    width: number;
    height: number;
    /** How much larger than it is it stands on the screen. */
    zoom: number;
    onchange: (name: string, value: readonly number[]) => void;
    onsettle: () => void;
  }
  let { step, width, height, zoom, onchange, onsettle }: Props = $props();
  const name = $derived(step.step === 'crop' ? 'frame' : 'corners');
  const value = $derived(
    step.numbers[name] ??
      (IMAGE_STEPS.get(step.step)!.arguments[name] as { readonly start: readonly number[] }).start,
  );
  /** Places in shares of the picture, from its upper left. */
  const corners = $derived.by((): readonly (readonly [number, number])[] => {
    const [a = 0, b = 0, c = 1, d = 1] = value;
    if (name === 'frame')
      return [
        [a, b],
        [a + c, b + d],
      ];
    return [0, 1, 2, 3].map((i) => [value[i * 2]!, value[i * 2 + 1]!] as const);
  });
  const outline = $derived(
    name === 'frame'
      ? [corners[0]!, [corners[1]![0], corners[0]![1]], corners[1]!, [corners[0]![0], corners[1]![1]]]
      : corners,
  );
  const WORDS = $derived(
    name === 'frame'
      ? ['Upper left of the frame', 'Lower right of the frame']
      : ['Upper left', 'Upper right', 'Lower right', 'Lower left'],
  );
  let picture = $state<SVGSVGElement>();
  let dragged = $state<number | null>(null);
  const held = (x: number): number => Math.round(Math.min(Math.max(x, 0), 1) * 1e4) / 1e4;
  const put = (i: number, x: number, y: number) => {
    if (name !== 'frame') onchange(name, value.with(i * 2, held(x)).with(i * 2 + 1, held(y)));
    else {
      const [[l, t], [r, b]] = corners as [readonly [number, number], readonly [number, number]];
      const [left, top] = i === 0 ? [Math.min(held(x), r - 0.01), Math.min(held(y), b - 0.01)] : [l, t];
      const [right, low] = i === 1 ? [Math.max(held(x), l + 0.01), Math.max(held(y), t + 0.01)] : [r, b];
      onchange(
        name,
        [left, top, right - left, low - top].map((n) => Math.round(n * 1e4) / 1e4),
      );
    }
  };
  const drag = (event: PointerEvent, i: number) => {
    const map = dragged === i && picture?.getScreenCTM()?.inverse();
    if (!map) return;
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(map);
    put(i, x / width, y / height);
  };
  const WAYS: Readonly<Record<string, readonly [number, number]>> = {
    ...{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] },
  };
  const nudge = (event: KeyboardEvent, i: number) => {
    const way = WAYS[event.key];
    if (!way) return;
    const [x, y] = corners[i]!;
    const by = event.shiftKey ? 0.001 : 0.01;
    put(i, x + way[0] * by, y + way[1] * by);
    event.preventDefault();
    event.stopPropagation();
  };
  const settle = () => {
    dragged = null;
    onsettle();
  };
</script>

<svg
  bind:this={picture}
  class="absolute inset-0 h-full w-full overflow-visible"
  viewBox="0 0 {width} {height}"
  preserveAspectRatio="xMidYMid meet"
  role="group"
  aria-label="Frame of {step.step}"
  style:--zoom={zoom}
>
  <polygon points={outline.map(([x, y]) => `${x * width},${y * height}`).join(' ')} class="frame" />
  {#each corners as [x, y], i (i)}
    <circle
      cx={x * width}
      cy={y * height}
      r={Math.max(width, height) / 60 / zoom}
      class="corner"
      role="slider"
      tabindex="0"
      aria-label={WORDS[i]}
      aria-valuenow={x}
      aria-valuetext="{(x * 100).toFixed(1)} %, {(y * 100).toFixed(1)} %"
      onpointerdown={(event) => {
        dragged = i;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onpointermove={(event) => drag(event, i)}
      onpointerup={settle}
      onpointercancel={settle}
      onkeydown={(event) => nudge(event, i)}
      onkeyup={() => dragged === null && onsettle()}
    />
  {/each}
</svg>

<style>
  .frame {
    fill: none;
    stroke: var(--limelight);
    stroke-width: calc(1.5px / var(--zoom));
    vector-effect: non-scaling-stroke;
  }
  .corner {
    fill: #000;
    stroke: var(--limelight);
    stroke-width: calc(2px / var(--zoom));
    vector-effect: non-scaling-stroke;
    cursor: move;
    touch-action: none;
  }
  .corner:focus-visible {
    fill: var(--limelight);
    outline: none;
  }
</style>
