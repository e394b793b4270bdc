<script lang="ts">
  import type { ShownStep } from '../../../workers/texture.worker.ts';

  /** A step’s picture, drawn as it was made. */
  let { step }: { step: ShownStep | undefined } = $props();
  let canvas = $state<HTMLCanvasElement>();
  $effect(() => {
    if (!canvas || !step) return;
    [canvas.width, canvas.height] = [step.width, step.height];
    canvas.getContext('2d')!.putImageData(new ImageData(step.pixels, step.width, step.height), 0, 0);
  });
</script>

<canvas bind:this={canvas} class="size-[52px] flex-none bg-surround object-contain" aria-hidden="true"
></canvas>
