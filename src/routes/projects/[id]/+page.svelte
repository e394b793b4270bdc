<script lang="ts">
  import Workshop from '#ui/workshop/Workshop.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.project.name} · Wicked Veil</title></svelte:head>
<Workshop />
