<script lang="ts">
  import ProjectWall from '#ui/wall/ProjectWall.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Projects · Wicked Veil</title></svelte:head>
<ProjectWall projects={data.projects} starters={data.starters} />
