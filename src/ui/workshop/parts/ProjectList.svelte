<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import Plus from '@lucide/svelte/icons/plus';
  import { DropdownMenu, Popover } from 'bits-ui';
  import { tick } from 'svelte';
  import type { Part, PartKind } from '#core/document/project.ts';
  import type { StarterKind } from '#core/document/starter.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import { usersOf } from '#core/document/users.ts';
  import { KIND_WORDS } from '#core/edits/partEdits.ts';
  import type { PartDeed } from '../commands/onPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { focusStop, partStop } from '../score/stops.ts';
  import { createInSight } from '../../parts/inSight.svelte.ts';
  import { namePart, newPartOf } from './doToPart.ts';
  import PartRow from './PartRow.svelte';
  import type { Portraits } from './portraits.svelte.ts';

  interface Props {
    session: Session;
    portraits: Portraits;
    open: boolean;
    /** The part whose name is being written. */
    naming: string | null;
    ondeed: (part: Part, deed: PartDeed) => void;
  }
  let { session, portraits, open = $bindable(), naming = $bindable(), ondeed }: Props = $props();

  /** In the order of the work; the tables that are made by themselves last. */
  const ORDER: readonly {
    readonly kind: PartKind;
    readonly heading: string;
    readonly begins?: StarterKind;
  }[] = [
    { kind: 'stage', heading: 'Sets', begins: 'stage' },
    { kind: 'shader', heading: 'Shaders', begins: 'shader' },
    { kind: 'material', heading: 'Materials', begins: 'material' },
    { kind: 'motif', heading: 'Motifs', begins: 'motif' },
    { kind: 'script', heading: 'Scripts', begins: 'script' },
    { kind: 'texture', heading: 'Textures', begins: 'texture' },
    { kind: 'take', heading: 'Takes' },
    { kind: 'shared', heading: 'Shared' },
  ];
  let wanted = $state('');
  const matches = (part: Part): boolean => {
    const text = `${part.name} ${KIND_WORDS[part.kind]}`.toLowerCase();
    return wanted
      .toLowerCase()
      .split(/\s+/)
      .every((word) => text.includes(word));
  };
  const groups = $derived(
    ORDER.map((each) => ({
      ...each,
      parts: (each.kind === 'stage' ? session.sets : session.parts).filter(
        (part) => part.kind === each.kind && matches(part),
      ),
    })),
  );
  const found = $derived(groups.flatMap((each) => each.parts));

  /** Only what can be seen of it is drawn, and what is soon scrolled to. */
  const inSight = createInSight('120px');
  $effect(() => {
    if (!open) return;
    void session.shaders;
    const pictured = found.filter(
      ({ id, kind }) => inSight.ids.has(id) && !['script', 'texture', 'take', 'shared'].includes(kind),
    );
    // A set takes longest, with all its materials.
    const turn = ({ kind }: Part): number => (kind === 'stage' ? 1 : 0);
    return portraits.ask(pictured.toSorted((a, b) => turn(a) - turn(b)).map(({ id }) => id));
  });

  const usersText = (part: Part): string => {
    if (part.kind === 'stage' || part.kind === 'take' || part.kind === 'shared') return '';
    const users = usersOf(session.parts, part.id);
    if (!users.length) return part.kind === 'script' ? '' : 'not used yet';
    const more = users.length - 2;
    return `used by ${users.slice(0, 2).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
  };
  const counted = (n: number, word: string): string => `${n || 'no'} ${word}${n === 1 ? '' : 's'}`;
  const about = (part: Part): string => {
    switch (part.kind) {
      case 'stage':
        return counted(part.body.props.length, 'prop');
      case 'shader':
        return counted(part.body.parameters.length, 'parameter');
      case 'material':
        return `of ${session.part(part.body.shader)?.name ?? 'no shader'}`;
      case 'motif':
        return counted(part.body.parameters.length, 'input');
      case 'script':
        return `${counted(part.body.source.split('\n').length, 'line')}${session.played.includes(part) ? ', plays in the set' : ''}`;
      case 'texture':
        return counted(part.body.steps.length, 'step');
      case 'take':
        return `${formatNumber(part.body.ticks / 60)} s of ${session.part(part.body.set)?.name ?? 'a set that is gone'}`;
      case 'shared':
        return counted(Object.keys(part.body.values).length, 'value');
    }
  };
  const isOpen = (part: Part): boolean =>
    [session.stage?.id, session.material?.id, session.score?.id].includes(part.id) ||
    (session.tab === 'script' && session.script?.id === part.id) ||
    (session.tab === 'textures' && session.texture?.id === part.id);

  const focusPart = async (id: string | undefined) => {
    await tick();
    if (id !== undefined) focusStop(partStop(id));
  };
  const walk = (from: Part, way: -1 | 1) => {
    const next = found[found.indexOf(from) + way];
    if (next) void focusPart(next.id);
  };
  const begin = async (kind: StarterKind) => {
    const id = await newPartOf(session, kind);
    if (id === null) return;
    wanted = '';
    naming = id;
  };
  /** While a material is dragged the list lets the stage be seen and dropped on; a source that is gone ends a drag. */
  let dragging = $state(false);
  const drag = (on: boolean) => {
    if (on) setTimeout(() => (dragging = true));
    else dragging = open = false;
  };
  const deed = (part: Part, what: PartDeed) => {
    ondeed(part, what);
    if (what === 'open') open = false;
    if (what === 'delete') void focusPart(found[found.indexOf(part) + 1]?.id ?? found[0]?.id);
  };
</script>

<Popover.Root bind:open>
  <Popover.Trigger
    class="flex min-w-0 items-center gap-2 text-[14px] font-semibold hover:text-second"
    title="Every part of the project (Ctrl O)"
  >
    <span class="sr-only">Parts of the project</span>
    <span class="truncate">{session.name}</span>
    <span class="text-third">/</span>
    <span class="truncate">{session.shader?.name ?? 'no shader'}</span>
    {#if session.openMotif}
      <span class="text-third">/</span><span class="truncate">{session.openMotif.name}</span>
    {/if}
    <ChevronDown size={14} class="flex-none text-third" />
  </Popover.Trigger>
  <Popover.Portal>
    <Popover.Content
      class="popup flex max-h-[min(36rem,84vh)] w-[44rem] max-w-[96vw] flex-col {dragging
        ? 'pointer-events-none opacity-0'
        : ''}"
      align="start"
      sideOffset={14}
      collisionPadding={8}
      aria-label="Parts of the project"
      onOpenAutoFocus={(event) => naming !== null && event.preventDefault()}
      onCloseAutoFocus={(event) => event.preventDefault()}
    >
      <div class="flex flex-none items-center gap-3 border-b border-hairline pr-3">
        <input
          class="min-w-0 flex-1 bg-transparent px-3 py-2 outline-none"
          placeholder="Search parts"
          aria-label="Search parts"
          bind:value={wanted}
          onkeydown={(event) => {
            if (event.key === 'ArrowDown') void focusPart(found[0]?.id);
            else if (event.key === 'Enter' && found[0]) deed(found[0], 'open');
            else return;
            event.preventDefault();
          }}
        />
        <DropdownMenu.Root>
          <DropdownMenu.Trigger class="btn h-7"><Plus size={13} /> New</DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content class="popup min-w-44 py-1" align="end" sideOffset={4}>
              {#each ORDER as { kind, begins } (kind)}
                {#if begins}
                  <DropdownMenu.Item
                    class="menu-item"
                    onSelect={() => setTimeout(() => void begin(begins), 30)}
                    ><span>{KIND_WORDS[kind]}</span>{#if begins === 'material' && session.shader}<span
                        class="text-third">of {session.shader.name}</span
                      >{/if}</DropdownMenu.Item
                  >
                {/if}
              {/each}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </div>
      <div class="min-h-0 flex-1 overflow-y-auto py-1">
        {#each groups as { kind, heading, parts } (kind)}
          {#if parts.length}
            <h3 class="px-3 pt-2 pb-0.5 text-[12px] text-third">{heading}</h3>
            <div class="grid grid-cols-2">
              {#each parts as part (part.id)}
                <PartRow
                  {part}
                  picture={portraits.all.get(part.id)}
                  watch={inSight.watch}
                  users={usersText(part)}
                  about={about(part)}
                  isOpen={isOpen(part)}
                  naming={naming === part.id}
                  onname={(name) => namePart(session, part, name)}
                  onnamed={() => {
                    naming = null;
                    void focusPart(part.id);
                  }}
                  ondeed={(what) => deed(part, what)}
                  onwalk={(way) => walk(part, way)}
                  ondrag={drag}
                />
              {/each}
            </div>
          {/if}
        {/each}
        {#if !found.length}
          <p class="px-3 py-2 text-second">No part is called “{wanted}”.</p>
        {/if}
      </div>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
