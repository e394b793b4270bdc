<script lang="ts">
  import { PICTURE_SIZE, type StepPicture } from '../pictures.svelte.ts';

  let {
    picture,
    label,
    size = 52,
  }: { picture: StepPicture | undefined; label: string; size?: number } = $props();
  let canvas: HTMLCanvasElement;
  $effect(() => {
    if (picture) canvas.getContext('2d')!.putImageData(picture.image, 0, 0);
  });
</script>

<canvas
  bind:this={canvas}
  width={PICTURE_SIZE}
  height={PICTURE_SIZE}
  class="block bg-well"
  style="width: {size}px; height: {size}px"
  aria-label={label}
></canvas>
