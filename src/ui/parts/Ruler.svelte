<script lang="ts">
  import { createDrag } from './drag.ts';
  import { snap } from '#core/numbers/format.ts';

  interface Props {
    value: number;
    min: number;
    max: number;
    label: string;
    whole?: boolean;
    live?: boolean;
    onchange: (value: number) => void;
    onsettle: () => void;
  }
  let { value, min, max, label, whole = false, live = false, onchange, onsettle }: Props = $props();
  let track: HTMLDivElement;
  const dragging = createDrag(
    () => value,
    (was) => onchange(was),
    () => onsettle(),
  );

  const span = $derived(Math.max(max - min, 1e-9));
  const at = $derived(Math.min(Math.max((value - min) / span, 0), 1) * 100);
  const beyond = $derived(value < min || value > max);

  const set = (x: number, step: number) => {
    const inside = Math.min(Math.max(x, min), max);
    onchange(whole ? Math.round(inside) : snap(inside, step));
  };
  const follow = (event: PointerEvent) => {
    const { left, width } = track.getBoundingClientRect();
    set(min + ((event.clientX - left) / width) * span, span / 1000);
  };
  const onkeydown = (event: KeyboardEvent) => {
    if (event.key === 'Escape' && dragging.held) {
      event.preventDefault();
      event.stopPropagation();
      dragging.cancel();
      return;
    }
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[
      event.key
    ];
    const step = whole ? 1 : (span / 100) * (event.shiftKey ? 0.1 : 1);
    if (way) set(value + way * step, whole ? 1 : step);
    else if (event.key === 'Home') set(min, span / 1000);
    else if (event.key === 'End') set(max, span / 1000);
    else return;
    event.preventDefault();
    onsettle();
  };
</script>

<div
  bind:this={track}
  class="ruler"
  class:live
  class:beyond
  role="slider"
  tabindex="0"
  aria-label={label}
  aria-valuemin={min}
  aria-valuemax={max}
  aria-valuenow={value}
  onpointerdown={(event) => {
    dragging.begin(event);
    follow(event);
  }}
  onpointermove={(event) => dragging.held && follow(event)}
  onpointercancel={dragging.cancel}
  onpointerup={dragging.release}
  {onkeydown}
>
  <svg width="100%" height="18" aria-hidden="true">
    {#each { length: 17 } as _, i (i)}
      <line
        x1="{(i / 16) * 100}%"
        x2="{(i / 16) * 100}%"
        y1={i % 4 === 0 ? 4 : 9}
        y2="13"
        stroke="var(--rule)"
      />
    {/each}
    <line x1="0" x2="100%" y1="13.5" y2="13.5" stroke="var(--third)" />
    <line class="done" x1="0" x2="{at}%" y1="13" y2="13" stroke-width="3" />
  </svg>
  <i style="left: {at}%"></i>
</div>

<style>
  .ruler {
    position: relative;
    height: 18px;
    cursor: ew-resize;
    touch-action: none;
    --pen: var(--ink);
  }
  .ruler.live {
    --pen: var(--limelight-ink);
  }
  .ruler svg {
    overflow: visible;
  }
  .done {
    stroke: var(--pen);
  }
  i {
    position: absolute;
    top: 3px;
    width: 9px;
    height: 13px;
    margin-left: -4.5px;
    background: var(--pen);
    clip-path: polygon(50% 0, 100% 35%, 100% 100%, 0 100%, 0 35%);
  }
  .beyond i {
    opacity: 0.5;
  }
</style>
