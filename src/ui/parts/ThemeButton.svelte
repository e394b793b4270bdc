<script lang="ts">
  import { onMount } from 'svelte';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import { applyTheme, readTheme, type Theme } from './theme.ts';

  let theme = $state<Theme>('paper');
  onMount(() => {
    theme = readTheme();
  });
  const toggle = () => {
    theme = theme === 'paper' ? 'blackout' : 'paper';
    applyTheme(theme);
  };
</script>

<button
  class="flex h-7 w-7 items-center justify-center text-second hover:text-ink"
  aria-label={theme === 'paper' ? 'Blackout theme' : 'Paper theme'}
  title={theme === 'paper' ? 'Blackout theme' : 'Paper theme'}
  onclick={toggle}
>
  {#if theme === 'paper'}<Moon size={15} />{:else}<Sun size={15} />{/if}
</button>
