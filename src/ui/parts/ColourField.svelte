<script lang="ts">
  import { Popover } from 'bits-ui';
  import { fromHex, toHex } from '#core/numbers/colour.ts';
  import NumberField from './NumberField.svelte';

  interface Props {
    /** Linear red, green, blue, and intensity in stops. */
    value: readonly number[];
    label: string;
    onchange: (value: readonly number[]) => void;
    onsettle: () => void;
  }
  let { value, label, onchange, onsettle }: Props = $props();
  const at = (stops: number) => toHex(value.slice(0, 3).map((c) => Math.min(c * 2 ** stops, 1)));
  const outside = $derived(value.slice(0, 3).some((c) => c < 0 || c > 1));
  const set = (i: number, x: number) => onchange(value.map((each, k) => (k === i ? x : each)));
</script>

<Popover.Root>
  <Popover.Trigger
    class="block h-3.5 w-full border border-rule"
    aria-label="{label}: linear {value
      .slice(0, 3)
      .map((c) => c.toFixed(3))
      .join(', ')}, {value[3]} stops. Edit."
    style="background: linear-gradient(90deg, #000, {at(-3)} 22%, {at(0)} 60%, {at(2)} 85%, {at(4)})"
  ></Popover.Trigger>
  <Popover.Portal>
    <Popover.Content class="popup w-64 p-3" sideOffset={6} align="start" collisionPadding={8}>
      <div class="flex items-center gap-3">
        <input
          type="color"
          class="h-9 w-12 border border-rule bg-sheet"
          aria-label="{label}, picked as it looks"
          value={toHex(value)}
          oninput={(event) => onchange([...fromHex(event.currentTarget.value), value[3] ?? 0])}
          onchange={onsettle}
        />
        <p class="text-[12px] text-second">Linear values; intensity doubles with every stop.</p>
      </div>
      <div class="mt-3 grid grid-cols-[1fr_5rem] items-center gap-1.5">
        {#each ['red', 'green', 'blue'] as name, i (name)}
          <span>{name}</span>
          <NumberField
            value={value[i]!}
            label="{label} {name}"
            step={0.004}
            onchange={(x) => set(i, x)}
            {onsettle}
          />
        {/each}
        <span>intensity</span>
        <NumberField
          value={value[3] ?? 0}
          label="{label} intensity"
          step={0.02}
          unit=" st"
          onchange={(x) => set(3, x)}
          {onsettle}
        />
      </div>
      {#if outside}
        <p class="mt-2 text-[12px] text-oxblood">
          Outside 0–1: more than a screen’s colours can be. Keep the hue inside and raise the intensity.
        </p>
      {/if}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
