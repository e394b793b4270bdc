<script lang="ts">
  import { toSrgb } from '#core/numbers/colour.ts';
  import { changeStep } from '#core/edits/textureEdits.ts';
  import type { Session } from '../state/session.svelte.ts';
  import FrameHandles from './FrameHandles.svelte';
  import type { Making } from './making.svelte.ts';

  /** The texture in hand, over the stage: alone, three by three, by channel, or with its edges drawn plainer. */
  let { session, making }: { session: Session; making: Making } = $props();
  const VIEWS = ['One', '3 × 3', 'Red', 'Green', 'Blue', 'Alpha', 'Seam × 8'] as const;
  let wanted = $state<(typeof VIEWS)[number] | 'Frame'>('One');
  const texture = $derived(session.texture);
  const preview = $derived(texture && making.previews.get(texture.id));
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
  const shown = $derived(view === 'Frame' ? framed!.given : step);
  let canvas = $state<HTMLCanvasElement>();

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
    const times = view === '3 × 3' ? 3 : 1;
    [canvas.width, canvas.height] = [width * times, height * times];
    const pen = canvas.getContext('2d')!;
    const one = drawn(pixels, width, height);
    for (let y = 0; y < times; y += 1)
      for (let x = 0; x < times; x += 1) pen.putImageData(one, x * width, y * height);
    if (times === 1) return;
    pen.strokeStyle = `rgb(${[0.62, 0.75, 0.06].map((x) => Math.round(toSrgb(x) * 255)).join(' ')})`;
    pen.lineWidth = Math.max(width / 128, 1);
    pen.strokeRect(width, height, width, height);
  });
</script>

<div class="absolute inset-0 z-10 grid place-items-center bg-surround" role="region" aria-label="The texture">
  {#if texture}
    <p class="absolute top-2 left-3 text-[12px] text-[#b8b8b8]">
      texture {texture.name} · {texture.body.size.join(' × ')}{step ? ` · ${view}` : ''}
    </p>
    {#if shown}
      <canvas
        bind:this={canvas}
        class="absolute top-9 left-6 h-[calc(100%-6rem)] w-[calc(100%-3rem)] object-contain"
        style:image-rendering={shown.width < 200 ? 'pixelated' : 'auto'}
        data-testid="texture"
        aria-label="{texture.name}, {view}"
      ></canvas>
      {#if view === 'Frame' && framed}
        {@const { own, given } = framed}
        <FrameHandles
          step={own}
          width={given.width}
          height={given.height}
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
    {:else}
      <p class="text-[#b8b8b8]">
        {texture.body.steps.length ? 'Being made…' : 'It has no step yet; add one that begins it.'}
      </p>
    {/if}
    <div class="absolute bottom-3 left-3 flex" role="group" aria-label="How the texture is shown">
      {#each framed ? (['Frame', ...VIEWS] as const) : VIEWS as each (each)}
        <button
          class="h-6 px-2.5 text-[12px] font-semibold {view === each
            ? 'bg-[#f1ede4] text-[#24211d]'
            : 'bg-black text-[#d8d8d8]'}"
          aria-pressed={view === each}
          onclick={() => (wanted = each)}>{each}</button
        >
      {/each}
    </div>
  {:else}
    <p class="text-[#b8b8b8]">No texture yet.</p>
  {/if}
</div>
