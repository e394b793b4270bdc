<script lang="ts">
  import { Popover } from 'bits-ui';
  import { curveAt } from '#core/numbers/curve.ts';
  import { addKey, keysIn, putKey, removeKey, type Key } from '#core/numbers/keys.ts';
  import { createDrag } from './drag.ts';
  import NumberField from './NumberField.svelte';

  interface Props {
    /** Four numbers for each key: x, y, and the slopes before and after it. */
    value: readonly number[];
    label: string;
    onchange: (value: readonly number[]) => void;
    onsettle: () => void;
  }
  let { value, label, onchange, onsettle }: Props = $props();
  const [WIDTH, HEIGHT] = [300, 150];
  /** Room around the board, so that keys at its ends are whole. */
  const EDGE = 7;
  let at = $state(0);
  let board = $state<SVGSVGElement>();

  const keys = $derived(keysIn(value));
  const held = $derived(Math.min(at, keys.length - 1));
  const span = $derived.by(() => {
    const ys = Array.from({ length: 65 }, (_, i) => curveAt(value, i / 64));
    const [low, high] = [Math.min(0, ...ys), Math.max(1, ...ys)];
    const room = (high - low) * 0.06;
    return { low: low - room, high: high + room };
  });
  const py = (y: number, height = HEIGHT) => height - ((y - span.low) / (span.high - span.low)) * height;
  const path = (width: number, height: number) =>
    Array.from({ length: 97 }, (_, i) => {
      const x = i / 96;
      return `${i ? 'L' : 'M'}${(x * width).toFixed(1)} ${py(curveAt(value, x), height).toFixed(1)}`;
    }).join('');

  const put = (list: readonly Key[]) => onchange(list.flat());
  const move = (i: number, x: number, y: number) => put(putKey(keys, i, [x, y, ...keys[i]!.slice(2)]));
  const setPart = (part: number, x: number) => put(putKey(keys, held, keys[held]!.with(part, x)));
  const add = (x: number) => {
    const e = 1e-3;
    const slope = (curveAt(value, Math.min(x + e, 1)) - curveAt(value, Math.max(x - e, 0))) / (2 * e);
    const added = addKey(keys, [x, curveAt(value, x), slope, slope]);
    if (!added) return;
    put(added.keys);
    at = added.place;
    onsettle();
  };
  const remove = () => {
    const left = removeKey(keys, held);
    if (!left) return;
    put(left);
    at = Math.max(held - 1, 0);
    onsettle();
  };
  const pointOf = (event: PointerEvent | MouseEvent) => {
    const box = board!.getBoundingClientRect();
    const across = ((event.clientX - box.left) / box.width) * (WIDTH + 2 * EDGE) - EDGE;
    const down = ((event.clientY - box.top) / box.height) * (HEIGHT + 2 * EDGE) - EDGE;
    const x = Math.min(Math.max(across / WIDTH, 0), 1);
    const y = span.high - (down / HEIGHT) * (span.high - span.low);
    return [Number(x.toFixed(3)), Number(y.toFixed(3))] as const;
  };
  const dragging = createDrag(
    () => value,
    (was) => onchange(was),
    () => onsettle(),
  );
  const grab = (event: PointerEvent, i: number) => {
    at = i;
    dragging.begin(event);
    event.stopPropagation();
  };
  const drag = (event: PointerEvent, i: number) => {
    if (dragging.held) move(i, ...pointOf(event));
  };
  const nudge = (event: KeyboardEvent, i: number) => {
    const way = { ArrowLeft: [-0.01, 0], ArrowRight: [0.01, 0], ArrowUp: [0, 0.01], ArrowDown: [0, -0.01] }[
      event.key
    ];
    if (event.key === 'Escape' && dragging.held) dragging.cancel();
    else if (event.key === 'Delete') remove();
    else if (way) move(i, keys[i]![0]! + way[0]!, keys[i]![1]! + way[1]!);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const parts = ['x', 'y', 'slope before', 'slope after'];
</script>

<Popover.Root>
  <Popover.Trigger
    class="block h-6 w-full border border-rule bg-sheet"
    aria-label="{label}: a curve of {keys.length} keys. Edit."
  >
    <svg viewBox="0 0 120 22" preserveAspectRatio="none" class="h-full w-full"
      ><path
        d={path(120, 22)}
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.4"
        vector-effect="non-scaling-stroke"
      /></svg
    >
  </Popover.Trigger>
  <Popover.Portal>
    <Popover.Content class="popup w-[21rem] p-3" sideOffset={6} align="end" collisionPadding={8}>
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <svg
        bind:this={board}
        viewBox="{-EDGE} {-EDGE} {WIDTH + 2 * EDGE} {HEIGHT + 2 * EDGE}"
        class="block w-full border border-hairline bg-page"
        ondblclick={(event) => add(pointOf(event)[0])}
      >
        {#each [0, 1] as y (y)}<line
            x1="0"
            x2={WIDTH}
            y1={py(y)}
            y2={py(y)}
            stroke="var(--rule)"
            stroke-dasharray="3 3"
          />{/each}
        <path d={path(WIDTH, HEIGHT)} fill="none" stroke="var(--ink)" stroke-width="1.6" />
        {#each keys as key, i (i)}
          <rect
            x={key[0]! * WIDTH - 4}
            y={py(key[1]!) - 4}
            width="8"
            height="8"
            fill={i === held ? 'var(--ink)' : 'var(--sheet)'}
            stroke="var(--ink)"
            role="slider"
            tabindex="0"
            aria-label="Key {i + 1}"
            aria-valuenow={key[1]}
            class="cursor-grab"
            onfocus={() => (at = i)}
            onpointerdown={(event) => grab(event, i)}
            onpointermove={(event) => drag(event, i)}
            onpointerup={dragging.release}
            onpointercancel={dragging.cancel}
            onkeydown={(event) => nudge(event, i)}
          />
        {/each}
      </svg>
      <div class="mt-2 grid grid-cols-4 gap-1.5">
        {#each parts as part, i (part)}
          <div>
            <div class="text-[11px] text-third">{part}</div>
            <NumberField
              value={keys[held]![i]!}
              label="{label} key {part}"
              step={0.01}
              {...i === 0 ? { min: 0, max: 1, hard: true } : {}}
              onchange={(x) => setPart(i, x)}
              {onsettle}
            />
          </div>
        {/each}
      </div>
      <div class="mt-2 flex items-center gap-2 text-[12px] text-second">
        Double-click adds a key.
        <button class="btn ml-auto h-6" disabled={keys.length < 2} onclick={remove}>Delete key</button>
      </div>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
