<script lang="ts">
  import ProjectSession from '#ui/workshop/ProjectSession.svelte';

  let { data, children } = $props();
</script>

{#key data.project.id}
  <ProjectSession open={data}>{@render children()}</ProjectSession>
{/key}
