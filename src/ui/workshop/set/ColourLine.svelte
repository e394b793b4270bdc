<script lang="ts">
  import { fromHex, toHex } from '#core/numbers/colour.ts';

  /** A linear colour, chosen as it looks, and a word for it. */
  interface Props {
    word: string;
    label: string;
    value: readonly [number, number, number];
    onchange: (value: readonly [number, number, number]) => void;
    onsettle: () => void;
  }
  let { word, label, value, onchange, onsettle }: Props = $props();
</script>

<label class="flex h-[17px] items-center gap-2 text-[12px] text-third"
  ><input
    type="color"
    class="h-3.5 w-8"
    aria-label="{label}, as it looks"
    value={toHex(value)}
    oninput={(event) => onchange(fromHex(event.currentTarget.value))}
    onchange={onsettle}
  />{word}</label
>
