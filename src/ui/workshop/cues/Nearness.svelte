<script lang="ts">
  import type { StageDocument } from '#core/document/project.ts';
  import { coarse, makeMesh } from '#core/meshes/makeMesh.ts';
  import NumberField from '../../parts/NumberField.svelte';

  /** How near is near: a ball about the other end, or a box in its own space. */
  type Sides = readonly [number, number, number];
  interface Near {
    readonly to?: string;
    readonly within?: number;
    readonly box?: Sides;
  }
  interface Props {
    props: StageDocument['props'];
    near: Near;
    /** @param merge joins a run of changes to one */
    onchange: (
      change: { readonly within: number | undefined; readonly box: Sides | undefined },
      merge?: string,
    ) => void;
    onsettle: () => void;
  }
  let { props, near, onchange, onsettle }: Props = $props();
  const FEW = 16;
  const now = $derived({ within: near.within, box: near.box });

  /** As large as what stands there, about its origin. */
  const sides = (): Sides => {
    const mesh = props.find(({ id }) => id === near.to)?.mesh;
    if (!mesh) return [1, 1, 1];
    const most = [0, 0, 0];
    makeMesh(coarse(mesh, FEW)).positions.forEach((x, i) => {
      most[i % 3] = Math.max(most[i % 3]!, Math.abs(x));
    });
    return most.map((x) => Math.max(Math.round(x * 200) / 100, 0.01)) as unknown as Sides;
  };
</script>

<select
  class="bg-transparent"
  aria-label="How near"
  value={near.box ? 'box' : 'ball'}
  onchange={(event) => {
    const isBox = event.currentTarget.value === 'box';
    onchange(isBox ? { within: 0, box: sides() } : { within: 1.5, box: undefined });
    onsettle();
  }}
>
  <option value="ball">within</option>
  <option value="box">in a box of</option>
</select>
{#if near.box}
  {#each ['width', 'height', 'depth'] as const as side, i (side)}
    <span class="w-[4.4rem]"
      ><NumberField
        value={near.box[i]!}
        label="Box {side}"
        min={0}
        max={1000}
        hard
        unit=" m"
        onchange={(x) => onchange({ ...now, box: near.box!.with(i, x) as unknown as Sides }, side)}
        {onsettle}
      /></span
    >
  {/each}
  or as far as
{/if}
<span class="w-16"
  ><NumberField
    value={near.within ?? (near.box ? 0 : 1)}
    label="Metres"
    min={0}
    max={1000}
    hard
    unit=" m"
    onchange={(within) => onchange({ ...now, within }, 'within')}
    {onsettle}
  /></span
>
