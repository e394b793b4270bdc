<script lang="ts">
  import '#ui/app.css';
  import { onMount } from 'svelte';
  import { Toaster } from 'svelte-sonner';
  import { applyTheme, readTheme } from '#ui/parts/theme.ts';

  let { children } = $props();
  onMount(() => applyTheme(readTheme()));
</script>

{@render children()}
<Toaster position="bottom-right" />
