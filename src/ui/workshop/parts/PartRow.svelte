<script lang="ts">
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import { DropdownMenu } from 'bits-ui';
  import type { Part } from '#core/document/project.ts';
  import { chordOf, chordText } from '../commands/chords.ts';
  import { commandFor } from '../commands/command.ts';
  import { MATERIAL } from '../set/stageHands.ts';
  import { isStop, partStop } from '../score/stops.ts';
  import { ON_PART, type PartDeed, type PartHere } from '../commands/onPart.ts';

  interface Props {
    part: Part;
    /** The address of its small picture. */
    picture: string | undefined;
    /** Follows whether it can be seen. */
    watch: (row: Element, id: string) => () => void;
    /** Who uses it, in words. */
    users: string;
    /** What it is like, in a few words. */
    about: string;
    /** On the stage or in the score now. */
    isOpen: boolean;
    naming: boolean;
    onname: (name: string) => Promise<string | null>;
    onnamed: () => void;
    ondeed: (deed: PartDeed) => void;
    onwalk: (way: -1 | 1) => void;
    /** It is dragged out of the list, or was let go. */
    ondrag: (on: boolean) => void;
  }
  let { part, picture, watch, users, about, isOpen, naming, onname, onnamed, ondeed, onwalk, ondrag }: Props =
    $props();
  let problem = $state<string | null>(null);
  const here: PartHere = $derived({ part, do: ondeed });
  const commands = $derived(ON_PART.filter((each) => each.when?.(here) ?? true));
  const commit = async (field: HTMLInputElement) => {
    problem = await onname(field.value);
    if (problem === null) onnamed();
    else field.focus();
  };
  const onkeydown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const command = commandFor(ON_PART, chordOf(event), here);
    if (command) command.run(here);
    else if (/^Arrow(Down|Right)$/.test(event.key)) onwalk(1);
    else if (/^Arrow(Up|Left)$/.test(event.key)) onwalk(-1);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
</script>

<!-- A row is a stop of the keyboard with keys of its own. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="part"
  class:open={isOpen}
  role="group"
  aria-label="{part.name}, {part.kind === 'stage' ? 'set' : part.kind}"
  aria-current={isOpen ? 'true' : undefined}
  tabindex="0"
  data-part={part.id}
  draggable={part.kind === 'material' && !naming}
  ondragstart={(event) => {
    event.dataTransfer?.setData(MATERIAL, part.id);
    ondrag(true);
  }}
  ondragend={() => ondrag(false)}
  {@attach isStop(partStop(part.id))}
  {@attach (row: Element) => watch(row, part.id)}
  onclick={(event) => !(event.target as Element).closest('button, input') && ondeed('open')}
  {onkeydown}
>
  <div class="portrait">
    {#if picture}<img src={picture} alt="" />{:else if part.kind === 'script'}<pre
        class="mono">{part.body.source.slice(0, 240)}</pre>{/if}
  </div>
  <div class="min-w-0 flex-1">
    {#if naming}
      <input
        class="field h-6 w-full font-semibold"
        value={part.name}
        aria-label="Name of the part"
        aria-invalid={problem !== null}
        maxlength="120"
        {@attach (field: HTMLInputElement) => {
          field.focus();
          field.select();
        }}
        onblur={(event) => void commit(event.currentTarget)}
        onkeydown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') void commit(event.currentTarget);
          else if (event.key === 'Escape') {
            event.preventDefault();
            problem = null;
            event.currentTarget.value = part.name;
            onnamed();
          }
        }}
      />
    {:else}
      <div class="truncate font-semibold" title={part.name}>{part.name}</div>
    {/if}
    {#if problem}<p class="text-[12px] text-oxblood" role="alert">{problem}</p>{/if}
    <div class="truncate text-[12px] text-third" title={users}>
      {[about, users].filter(Boolean).join(' · ')}
    </div>
  </div>
  <DropdownMenu.Root>
    <DropdownMenu.Trigger class="px-1 text-third hover:text-ink" aria-label="More for {part.name}"
      ><Ellipsis size={15} /></DropdownMenu.Trigger
    >
    <DropdownMenu.Portal>
      <DropdownMenu.Content class="popup min-w-40 py-1" align="end" sideOffset={2}>
        {#each commands as command (command.deed)}
          <!-- The menu gives the focus back first. -->
          <DropdownMenu.Item class="menu-item" onSelect={() => setTimeout(() => command.run(here), 30)}>
            <span>{command.name}</span><kbd class="mono text-third">{chordText(command.keys![0]!)}</kbd>
          </DropdownMenu.Item>
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
</div>

<style>
  .part {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 4px 8px 4px 10px;
    cursor: default;
  }
  .part:hover {
    background: var(--well);
  }
  .part:focus-visible {
    outline: 2px solid var(--ink);
    outline-offset: -2px;
  }
  .part.open {
    box-shadow: inset 2px 0 0 var(--ink);
  }
  .portrait {
    flex: none;
    width: 64px;
    height: 36px;
    overflow: hidden;
    background: var(--well);
  }
  .portrait img {
    width: 100%;
    height: 100%;
    object-fit: cover;
  }
  .portrait pre {
    padding: 2px 3px;
    color: var(--third);
    font-size: 4.5px;
    line-height: 1.3;
  }
</style>
