<script lang="ts">
  import { materialsOn } from '#core/document/materialsOn.ts';
  import { changeStep } from '#core/edits/textureEdits.ts';
  import type { Session } from '../state/session.svelte.ts';
  import FrameHandles from './FrameHandles.svelte';
  import { createLens } from './lens.svelte.ts';
  import type { Making } from './making.svelte.ts';

  /** The texture in hand, over the stage: alone, three by three, by channel, or with its edges drawn plainer; or the stage that reads it. */
  let { session, making }: { session: Session; making: Making } = $props();
  const VIEWS = ['One', '3 × 3', 'On the prop', 'Red', 'Green', 'Blue', 'Alpha', 'Seam × 8'] as const;
  let wanted = $state<(typeof VIEWS)[number] | 'Frame'>('One');
  const texture = $derived(session.texture);
  const preview = $derived(texture && making.previews.get(texture.id));
  /** Of the one in hand. */
  const shareOf = (made: Making['underWay']) => (made && made.id === texture?.id ? made.share : undefined);
  const share = $derived(shareOf(making.underWay));
  const nearShare = $derived(shareOf(making.nearUnderWay));
  const step = $derived(preview?.steps.find(({ id }) => id === session.textureStep) ?? preview?.steps.at(-1));
  /** A step whose frame or corners can be dragged, over what it is given. */
  const framed = $derived.by(() => {
    const steps = texture?.body.steps ?? [];
    const at = steps.findIndex(({ id }) => id === step?.id);
    const own = steps[at];
    const given = preview?.steps[at - 1];
    return own && given && (own.step === 'crop' || own.step === 'straighten') ? { own, given } : null;
  });
  const view = $derived(wanted === 'Frame' && !framed ? 'One' : wanted);
  const small = $derived(view === 'Frame' ? framed!.given : step);
  const shown = $derived(small && texture && (making.nearOf(texture.id, small.id) ?? small));
  const times = $derived(view === '3 × 3' ? 3 : 1);
  /** Whether a material on the stage reads it, itself or in another texture. */
  const isHere = $derived.by(() => {
    const on = session.stage ? materialsOn(session.stage.body) : new Set<string>();
    return (
      texture !== null &&
      session.materials.some(
        ({ id, body }) =>
          on.has(id) && Object.values(body.made ?? {}).some((made) => making.reaches(made, texture.id)),
      )
    );
  });
  let canvas = $state<HTMLCanvasElement>();
  let [wide, high] = $state([0, 0]);
  const lens = createLens();
  /** Pixels of the screen for one that is shown, and for one of the whole texture. */
  const drawnAt = $derived(
    shown ? (Math.min(wide / shown.width, high / shown.height) * lens.zoom) / times : 1,
  );
  const percent = $derived(shown ? ((drawnAt * shown.width) / shown.whole[0]) * 100 : 100);

  /** Looked at nearer than it was made for, it is made larger. */
  const TIMES = 1.5;
  const LARGEST = 2048;
  $effect(() => {
    const most = small ? Math.max(...small.whole) : 0;
    const seen = Math.min((percent / 100) * most * devicePixelRatio, most, LARGEST);
    const isNear =
      texture && small && view !== 'On the prop' && seen > TIMES * Math.max(small.width, small.height);
    const longest = Math.min(2 ** Math.ceil(Math.log2(seen)), most);
    making.look(isNear ? { id: texture.id, step: small.id, longest } : null);
  });

  /** One channel as grey, or all of them; where edges meet what differs is drawn eight times as strong. */
  const drawn = (pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): ImageData => {
    const isAsItIs = view === 'One' || view === '3 × 3' || view === 'Frame';
    if (isAsItIs) return new ImageData(pixels, width, height);
    const made = new ImageData(width, height);
    const channel = ['Red', 'Green', 'Blue', 'Alpha'].indexOf(view);
    const at = (x: number, y: number, c: number): number =>
      pixels[(((y + height) % height) * width + ((x + width) % width)) * 4 + c]!;
    for (let y = 0; y < height; y += 1)
      for (let x = 0; x < width; x += 1) {
        const to = (y * width + x) * 4;
        if (view === 'Seam × 8') {
          // Moved by half, the edges meet in the middle.
          const [sx, sy] = [x - (width >> 1), y - (height >> 1)];
          for (let c = 0; c < 3; c += 1) {
            const step =
              Math.abs(at(sx + 1, sy, c) - at(sx, sy, c)) + Math.abs(at(sx, sy + 1, c) - at(sx, sy, c));
            made.data[to + c] = Math.min(step * 8, 255);
          }
          made.data[to + 3] = 255;
        } else for (let c = 0; c < 4; c += 1) made.data[to + c] = c === 3 ? 255 : at(x, y, channel);
      }
    return made;
  };
  $effect(() => {
    if (!canvas || !shown) return;
    const { width, height, pixels } = shown;
    [canvas.width, canvas.height] = [width * times, height * times];
    const pen = canvas.getContext('2d')!;
    const one = drawn(pixels, width, height);
    for (let y = 0; y < times; y += 1)
      for (let x = 0; x < times; x += 1) pen.putImageData(one, x * width, y * height);
  });
</script>

{#snippet button(name: string, isOn: boolean | undefined, label: string, press: () => void)}
  <button
    class="h-6 px-2.5 text-[12px] font-semibold {isOn
      ? 'bg-[#f1ede4] text-[#24211d]'
      : 'bg-black text-[#d8d8d8] hover:text-white'}"
    aria-label={label}
    aria-pressed={isOn}
    onclick={press}>{name}</button
  >
{/snippet}

<div
  class="absolute inset-0 z-10 overflow-hidden {view === 'On the prop'
    ? 'pointer-events-none'
    : 'grid place-items-center bg-surround'}"
  role="region"
  aria-label="The texture"
>
  {#if texture}
    {#if view === 'On the prop'}
      <!-- The stage is seen, and has the pointer. -->
      {#if !isHere}
        <p class="absolute bottom-11 left-3 rounded-sm bg-[#000c] px-2 py-0.5 text-[12px] text-[#d8d8d8]">
          No prop of this set reads {texture.name}.
        </p>
      {/if}
    {:else if shown}
      <div
        class="absolute top-9 left-6 h-[calc(100%-6rem)] w-[calc(100%-3rem)] {lens.zoom === 1
          ? ''
          : 'cursor-move'}"
        role="presentation"
        bind:clientWidth={wide}
        bind:clientHeight={high}
        {...lens.hands}
      >
        <div class="absolute inset-0" style:transform={lens.transform}>
          <canvas
            bind:this={canvas}
            class="h-full w-full object-contain"
            style:image-rendering={drawnAt > 2.5 ? 'pixelated' : 'auto'}
            data-testid="texture"
            aria-label="{texture.name}, {view}"
          ></canvas>
          {#if view === '3 × 3'}
            <svg
              class="pointer-events-none absolute inset-0 h-full w-full"
              viewBox="0 0 {shown.width * 3} {shown.height * 3}"
              style:--zoom={lens.zoom}
              aria-hidden="true"
            >
              <rect x={shown.width} y={shown.height} width={shown.width} height={shown.height} class="tile" />
            </svg>
          {/if}
          {#if view === 'Frame' && framed}
            {@const { own, given } = framed}
            <FrameHandles
              step={own}
              width={given.width}
              height={given.height}
              zoom={lens.zoom}
              onchange={(name, value) =>
                session.apply(
                  changeStep(
                    texture,
                    own.id,
                    `Change ${own.step}`,
                    (each) => ({ ...each, numbers: { ...each.numbers, [name]: value } }),
                    name,
                  ),
                )}
              onsettle={session.settle}
            />
          {/if}
        </div>
      </div>
      <p class="absolute top-0 left-0 rounded-br-sm bg-surround py-2 pr-2 pl-3 text-[12px] text-[#b8b8b8]">
        texture {texture.name} · {shown.whole.join(' × ')} · {view}{share !== undefined
          ? ` · being made anew, ${(share * 100).toFixed(0)} %`
          : nearShare !== undefined
            ? ` · being made larger, ${(nearShare * 100).toFixed(0)} %`
            : ''}
      </p>
      <div class="absolute top-2.5 right-3 flex" role="group" aria-label="How large the texture is shown">
        {@render button('−', undefined, 'Smaller', () => lens.by(1 / lens.STEP))}
        {@render button(`${percent.toFixed(0)} %`, undefined, 'All of it', lens.fit)}
        {@render button('+', undefined, 'Larger', () => lens.by(lens.STEP))}
      </div>
    {:else}
      <p class="text-[#b8b8b8]">
        {#if !texture.body.steps.length}It has no step yet; add one that begins it.
        {:else if share === undefined}Being made…
        {:else}Being made, {(share * 100).toFixed(0)} %…{/if}
      </p>
    {/if}
    <div
      class="pointer-events-auto absolute bottom-3 left-3 flex"
      role="group"
      aria-label="How the texture is shown"
    >
      {#each framed ? (['Frame', ...VIEWS] as const) : VIEWS as each (each)}
        {@render button(each, view === each, each, () => (wanted = each))}
      {/each}
    </div>
  {:else}
    <p class="text-[#b8b8b8]">No texture yet.</p>
  {/if}
</div>

<style>
  .tile {
    fill: none;
    stroke: var(--limelight);
    stroke-width: calc(1.5px / var(--zoom));
    vector-effect: non-scaling-stroke;
  }
</style>
