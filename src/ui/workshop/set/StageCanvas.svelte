<script lang="ts">
  import type { Stage } from '#stage/stage.ts';

  /** Where a stage's canvas stands in the page. The stage brings it, and takes it out again when it goes. */
  interface Props {
    stage: Stage;
    /** What tests and tours find it by. */
    id: string;
    label: string;
    isCompiling?: boolean;
    takesKeys?: boolean;
  }
  let { stage, id, label, isCompiling = false, takesKeys = false }: Props = $props();

  const { canvas } = $derived(stage);
  $effect(() => {
    canvas.className = 'block h-full w-full';
    canvas.dataset['testid'] = id;
    canvas.ariaLabel = label;
    if (takesKeys) canvas.tabIndex = 0;
  });
  $effect(() => {
    canvas.dataset['compiled'] = isCompiling ? 'no' : 'yes';
    canvas.ariaBusy = String(isCompiling);
  });
</script>

<div class="contents" {@attach (place) => place.append(canvas)}></div>
