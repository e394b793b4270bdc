<script lang="ts" generics="P extends Record<string, unknown>">
  import type { Component } from 'svelte';
  import { toast } from 'svelte-sonner';

  /** A part of the page that is fetched only when it is first wanted. */
  type Props = P & { readonly bring: () => Promise<{ readonly default: Component<P> }> };
  let { bring, ...rest }: Props = $props();
  const told = (): null => {
    toast.error('This part of the workshop did not arrive; reload the page to ask again.');
    return null;
  };
  // Asked for once: what it is given may change, what it is does not.
  // svelte-ignore state_referenced_locally
  const brought = bring().then((found) => found.default, told);
</script>

{#await brought then What}{#if What}<What {...rest as unknown as P} />{/if}{/await}
