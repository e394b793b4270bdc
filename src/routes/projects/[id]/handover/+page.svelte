<script lang="ts">
  import { page } from '$app/state';
  import HandoverPage from '#ui/handover/HandoverPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Handover · {data.project.name}</title></svelte:head>
<HandoverPage project={data.project} first={page.url.searchParams.get('shader')} />
