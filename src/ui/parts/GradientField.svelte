<script lang="ts">
  import { Popover } from 'bits-ui';
  import { fromHex, toHex } from '#core/numbers/colour.ts';
  import { gradientAt } from '#core/numbers/curve.ts';
  import { addKey, keysIn, putKey, removeKey, type Key } from '#core/numbers/keys.ts';
  import { createDrag } from './drag.ts';
  import NumberField from './NumberField.svelte';

  interface Props {
    /** Four numbers for each stop: where it stands, and its linear red, green and blue. */
    value: readonly number[];
    label: string;
    onchange: (value: readonly number[]) => void;
    onsettle: () => void;
  }
  let { value, label, onchange, onsettle }: Props = $props();
  let at = $state(0);
  let bar = $state<HTMLDivElement>();

  const stops = $derived(keysIn(value));
  const held = $derived(Math.min(at, stops.length - 1));
  /** Mixed in linear light, which a plain CSS gradient is not: enough steps that it does not show. */
  const css = $derived(
    `linear-gradient(90deg, ${Array.from({ length: 25 }, (_, i) => toHex(gradientAt(value, i / 24))).join(', ')})`,
  );
  const put = (list: readonly Key[]) => onchange(list.flat());
  const set = (i: number, changed: Key) => put(putKey(stops, i, changed));
  const move = (i: number, x: number) => set(i, stops[i]!.with(0, x));
  const add = (event: MouseEvent) => {
    if (event.target !== bar) return;
    const box = bar!.getBoundingClientRect();
    const x = Number(Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1).toFixed(3));
    const added = addKey(stops, [x, ...gradientAt(value, x)]);
    if (!added) return;
    put(added.keys);
    at = added.place;
    onsettle();
  };
  const remove = () => {
    const left = removeKey(stops, held);
    if (!left) return;
    put(left);
    at = Math.max(held - 1, 0);
    onsettle();
  };
  const dragging = createDrag(
    () => value,
    (was) => onchange(was),
    () => onsettle(),
  );
  const drag = (event: PointerEvent, i: number) => {
    if (!dragging.held) return;
    const box = bar!.getBoundingClientRect();
    move(i, Number(((event.clientX - box.left) / box.width).toFixed(3)));
  };
  const nudge = (event: KeyboardEvent, i: number) => {
    if (event.key === 'Escape' && dragging.held) dragging.cancel();
    else if (event.key === 'Delete') remove();
    else if (event.key === 'ArrowLeft') move(i, stops[i]![0]! - 0.01);
    else if (event.key === 'ArrowRight') move(i, stops[i]![0]! + 0.01);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
</script>

<Popover.Root>
  <Popover.Trigger
    class="block h-3.5 w-full border border-rule"
    style="background: {css}"
    aria-label="{label}: a gradient of {stops.length} stops. Edit."
  ></Popover.Trigger>
  <Popover.Portal>
    <Popover.Content class="popup w-[21rem] p-3" sideOffset={6} align="end" collisionPadding={8}>
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <div
        bind:this={bar}
        class="relative mb-4 h-8 border border-rule"
        style="background: {css}"
        ondblclick={add}
      >
        {#each stops as stop, i (i)}
          <button
            class="stop"
            class:held={i === held}
            style="left: {stop[0]! * 100}%; background: {toHex(stop.slice(1))}"
            aria-label="Stop {i + 1} at {stop[0]}"
            onfocus={() => (at = i)}
            onpointerdown={(event) => {
              at = i;
              dragging.begin(event);
            }}
            onpointermove={(event) => drag(event, i)}
            onpointerup={dragging.release}
            onpointercancel={dragging.cancel}
            onkeydown={(event) => nudge(event, i)}
          ></button>
        {/each}
      </div>
      <div class="grid grid-cols-[3rem_repeat(4,1fr)] items-end gap-1.5">
        <input
          type="color"
          class="h-6 w-full border border-rule bg-sheet"
          aria-label="{label} stop, picked as it looks"
          value={toHex(stops[held]!.slice(1))}
          oninput={(event) => set(held, [stops[held]![0]!, ...fromHex(event.currentTarget.value)])}
          onchange={onsettle}
        />
        {#each ['at', 'red', 'green', 'blue'] as name, i (name)}
          <div>
            <div class="text-[11px] text-third">{name}</div>
            <NumberField
              value={stops[held]![i]!}
              label="{label} stop {name}"
              step={0.005}
              {...i === 0 ? { min: 0, max: 1, hard: true } : {}}
              onchange={(x) =>
                i === 0
                  ? move(held, x)
                  : set(
                      held,
                      stops[held]!.map((each, c) => (c === i ? x : each)),
                    )}
              {onsettle}
            />
          </div>
        {/each}
      </div>
      <div class="mt-2 flex items-center gap-2 text-[12px] text-second">
        Linear values. Double-click adds a stop.
        <button class="btn ml-auto h-6" disabled={stops.length < 2} onclick={remove}>Delete stop</button>
      </div>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  .stop {
    position: absolute;
    top: 100%;
    width: 10px;
    height: 12px;
    margin-left: -5px;
    border: 1px solid var(--ink);
    cursor: ew-resize;
  }
  .stop.held {
    outline: 2px solid var(--ink);
    outline-offset: 1px;
  }
</style>
