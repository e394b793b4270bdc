<script lang="ts">
  import { toast } from 'svelte-sonner';
  import { keepBlob } from '../keepBlob.ts';

  /** A word that is pressed to choose a picture’s file; what is chosen is kept on the server first. */
  interface Props {
    words: string;
    /** What the picture is of: “Height picture of Hills”. */
    label: string;
    title?: string;
    accept: string;
    onchosen: (sha256: string) => void;
  }
  let { words, label, title, accept, onchosen }: Props = $props();
  let chooser: HTMLInputElement;
  export const open = (): void => chooser.click();

  const keep = async (file: File | undefined) => {
    if (!file) return;
    try {
      onchosen(await keepBlob(file, file.name));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
</script>

<button class="text-[11.5px] font-normal underline" {title} onclick={open}>{words}</button>
<input
  bind:this={chooser}
  type="file"
  class="hidden"
  aria-label={label}
  {accept}
  onchange={(event) => {
    void keep(event.currentTarget.files?.[0]);
    event.currentTarget.value = '';
  }}
/>
