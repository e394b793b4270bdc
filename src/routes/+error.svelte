<script lang="ts">
  import { page } from '$app/state';
</script>

<svelte:head><title>{page.status} · Wicked Veil</title></svelte:head>
<main class="flex h-screen flex-col items-center justify-center gap-3">
  <h1 class="text-[22px] font-semibold">
    {page.status === 404 ? 'Nothing stands here' : 'This did not work'}
  </h1>
  <p class="text-second">{page.error?.message}</p>
  <div class="flex gap-2">
    {#if page.status >= 500}
      <button class="btn" onclick={() => location.reload()}>Try again</button>
    {/if}
    <a class="btn" href="/">All projects</a>
  </div>
</main>
