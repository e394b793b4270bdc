<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { plotCsv } from '#core/taps/plot.ts';
  import { download, downloadFrom } from '../../parts/download.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import { MOST_LINES, parameterLine, type AgainstKey, type Plotting } from './plotting.svelte.ts';

  let { session, plotting }: { session: Session; plotting: Plotting } = $props();
  const chart = $derived(plotting.chart);
  const taps = $derived([...(session.shaderState?.good?.taps.keys() ?? [])]);
  const plotted = $derived('plotted' in plotting.made ? plotting.made.plotted : null);
  const word = $derived(plotting.against.replace(/^(parameter|pin) /, ''));
  const saveCsv = () => {
    if (plotted) download('plot.csv', 'text/csv', plotCsv(plotted, word, plotting.keys.map(plotting.nameOf)));
  };
  const savePng = () => {
    if (chart) downloadFrom('plot.png', chart.toBase64Image());
  };
</script>

<div class="ml-auto flex items-center gap-4">
  <label class="flex items-center gap-1.5 text-second"
    >against <select
      class="bg-transparent font-semibold text-ink"
      value={plotting.against}
      onchange={(event) => plotting.setAgainst(event.currentTarget.value as AgainstKey)}
    >
      {#each plotting.parameters as each (each.id)}<option value="parameter {each.name}">{each.name}</option
        >{/each}
      <option value="time">time</option>
      <option value="u">u</option>
      <option value="v">v</option>
      {#each plotting.ends as each (each.id)}<option value="pin {each.id}">the way to {each.name}</option
        >{/each}
    </select></label
  >
  {#if !plotting.isTrace}
    <span class="flex items-baseline gap-1.5 text-[12px] text-third"
      >from <NumberField
        plain
        value={plotting.range[0]}
        label="From"
        onchange={(x) => plotting.setRange(x, plotting.range[1])}
        onsettle={() => undefined}
      /> to <NumberField
        plain
        value={plotting.range[1]}
        label="To"
        onchange={(x) => plotting.setRange(plotting.range[0], x)}
        onsettle={() => undefined}
      /></span
    >
  {/if}
  <span class="max-w-48 truncate text-third"
    >{plotting.pin
      ? `at ${plotting.pin.name}`
      : plotting.prop
        ? `at the middle of ${plotting.prop.name}`
        : ''}</span
  >
  <button class="text-second hover:text-ink" disabled={!plotted} onclick={saveCsv}>CSV</button>
  <button class="text-second hover:text-ink" disabled={!chart} onclick={savePng}>PNG</button>
  <DropdownMenu.Root>
    <DropdownMenu.Trigger class="text-second hover:text-ink" disabled={plotting.keys.length >= MOST_LINES}
      >Add line</DropdownMenu.Trigger
    >
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="popup max-h-(--bits-dropdown-menu-content-available-height) min-w-44 overflow-y-auto py-1"
        align="end"
        sideOffset={6}
      >
        {#each taps as key (key)}
          <DropdownMenu.Item
            class="menu-item"
            disabled={plotting.keys.includes(key)}
            onSelect={() => plotting.add(key)}>{plotting.nameOf(key)}</DropdownMenu.Item
          >
        {/each}
        {#each plotting.numbered as { id, name } (id)}
          <DropdownMenu.Item
            class="menu-item"
            disabled={plotting.keys.includes(parameterLine(name))}
            onSelect={() => plotting.add(parameterLine(name))}
            >{name} <span class="ml-auto text-third">parameter</span></DropdownMenu.Item
          >
        {/each}
        {#each plotting.readings as { key, name } (key)}
          <DropdownMenu.Item
            class="menu-item"
            disabled={plotting.keys.includes(key)}
            onSelect={() => plotting.add(key)}
            >{name} <span class="ml-auto text-third">reading</span></DropdownMenu.Item
          >
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
</div>
