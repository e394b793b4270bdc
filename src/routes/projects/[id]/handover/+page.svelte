<script lang="ts">
  import { page } from '$app/state';
  import HandoverPage from '#ui/handover/HandoverPage.svelte';
  import { sessionHere } from '#ui/workshop/ProjectSession.svelte';

  const session = sessionHere();
</script>

<svelte:head><title>Handover · {session.name}</title></svelte:head>
<HandoverPage project={session} first={page.url.searchParams.get('shader')} />
