<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import { DropdownMenu } from 'bits-ui';
  import { tick, untrack } from 'svelte';
  import type { PartOf, TextureStep } from '#core/document/project.ts';
  import { MOST_IMAGE_STEPS } from '#core/document/kinds/texture.ts';
  import { namedBy, WORD_KINDS, type Argument } from '#core/images/declareStep.ts';
  import { IMAGE_STEPS } from '#core/images/imageSteps.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import { duplicatePart, newPartOf, namePart, removePart } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { addStep, deleteStep, duplicateStep, shiftStep, stepInHand, switchStep } from './doToTexture.ts';
  import type { Making } from './making.svelte.ts';
  import StepPicture from './StepPicture.svelte';

  let { session, making }: { session: Session; making: Making } = $props();
  type Texture = PartOf<'texture'>;
  const texture = $derived(session.texture);
  const step = $derived(stepInHand(session));
  const shownOf = ({ id }: Texture, of: string) =>
    making.previews.get(id)?.steps.find((each) => each.id === of);

  /** How large it comes to be. */
  const sizeWords = ({ id, body }: Texture): string => {
    const [width, height] = making.previews.get(id)?.steps.at(-1)?.whole ?? body.size;
    return width === height ? String(width) : `${width} × ${height}`;
  };

  let rows = $state<HTMLElement>();
  // The one in hand is seen, also where it was begun or taken in hand elsewhere.
  $effect(() => {
    if (texture) rows?.querySelector('.row.inhand')?.scrollIntoView({ block: 'nearest' });
  });

  let naming = $state<string | null>(null);
  let field = $state<HTMLInputElement>();
  const name = (id: string) => {
    naming = id;
    void tick().then(() => field?.select());
  };
  const named = (of: Texture, wanted: string) => {
    naming = null;
    if (wanted.trim() !== of.name) void namePart(session, of, wanted);
  };

  /** What a step’s word names: a part, or a strand or prop of one. */
  const nameOf = (word: string): string => {
    const { id, inner } = namedBy(word);
    const part = session.part(id);
    if (!part) return 'what is gone';
    const shader = part.kind === 'material' ? session.part(part.body.shader) : part;
    const within =
      part.kind === 'stage' ? part.body.props : shader?.kind === 'shader' ? shader.body.strands : [];
    return inner === undefined
      ? part.name
      : (within.find((each) => each.id === inner)?.name ?? 'what is gone');
  };
  /** What a card tells of its step: its numbers and words that are not as they start. */
  const told = ({ step: word, numbers, words }: TextureStep): string =>
    Object.entries(IMAGE_STEPS.get(word)?.arguments ?? {})
      .flatMap(([argument, asked]: [string, Argument]) => {
        const { kind } = asked;
        if ((WORD_KINDS as readonly string[]).includes(kind))
          return kind !== 'picture' && words[argument] ? [nameOf(words[argument])] : [];
        if (words[argument]) return [words[argument]];
        const value = numbers[argument];
        if (!value || kind === 'curve' || kind === 'gradient') return [];
        if (kind === 'flag') return [`${argument} ${value[0] ? 'on' : 'off'}`];
        const isWhole = 'whole' in asked && asked.whole === true;
        return [`${argument} ${value.map(isWhole ? String : formatNumber).join(' ')}`];
      })
      .join(', ');
  const onCard = (event: KeyboardEvent, of: Texture, each: TextureStep) => {
    if (event.target !== event.currentTarget || session.tab !== 'textures') return;
    const cards = [...document.querySelectorAll<HTMLElement>('[data-image-step]')];
    const place = cards.indexOf(event.currentTarget as HTMLElement);
    if (event.altKey && event.key === 'ArrowLeft') shiftStep(session, of, each.id, -1);
    else if (event.altKey && event.key === 'ArrowRight') shiftStep(session, of, each.id, 1);
    else if (event.key === 'ArrowLeft') cards[place - 1]?.focus();
    else if (event.key === 'ArrowRight') cards[place + 1]?.focus();
    else if (event.key === 'Delete') deleteStep(session, of, each);
    else if (event.key === 'd') duplicateStep(session, of, each);
    else if (event.key === 'h') switchStep(session, of, each);
    else if (event.key === 'Enter' || event.key === ' ') session.holdTexture(of.id, each.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onName = (event: KeyboardEvent, of: Texture) => {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'F2') name(of.id);
    else if (event.key === 'd') void duplicatePart(session, of);
    else if (event.key === 'Delete') void removePart(session, of);
    else if (event.key === 'Enter') session.holdTexture(of.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
</script>

{#snippet addMenu(to: Texture)}
  <DropdownMenu.Root>
    <DropdownMenu.Trigger
      class="grid size-9 flex-none place-items-center border border-dashed border-rule text-second hover:text-ink"
      aria-label="Add a step to {to.name}"
      disabled={to.body.steps.length >= MOST_IMAGE_STEPS}><Plus size={14} /></DropdownMenu.Trigger
    >
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="popup max-h-(--bits-dropdown-menu-content-available-height) w-72 overflow-y-auto py-1"
        align="start"
      >
        {#each [...IMAGE_STEPS.values()].filter(({ isSource }) => Boolean(isSource) === !to.body.steps.length) as each (each.name)}
          <DropdownMenu.Item
            class="menu-item"
            onSelect={() => addStep(session, to, each.name)}
            title={each.summary}
            ><span class="font-semibold">{each.name}</span>&nbsp;<span class="truncate text-second"
              >{each.summary}</span
            ></DropdownMenu.Item
          >
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
{/snippet}

<div class="h-full overflow-auto" bind:this={rows}>
  {#each session.textures as each (each.id)}
    {@const loss = making.lossOf(each)}
    <section
      class="row"
      class:inhand={each.id === texture?.id}
      aria-label="Texture {each.name}"
      {@attach (row) => untrack(() => making.watch(row, each.id))}
    >
      <div
        class="margin"
        role="button"
        tabindex="0"
        aria-pressed={each.id === texture?.id}
        data-texture={each.name}
        onclick={() => session.holdTexture(each.id)}
        ondblclick={() => name(each.id)}
        onkeydown={(event) => onName(event, each)}
      >
        {#if naming === each.id}
          <input
            bind:this={field}
            class="field w-full"
            aria-label="Name of the texture"
            value={each.name}
            onblur={(event) => named(each, event.currentTarget.value)}
            onkeydown={(event) => {
              if (event.key === 'Escape') event.currentTarget.value = each.name;
              if (event.key === 'Escape' || event.key === 'Enter') event.currentTarget.blur();
              event.stopPropagation();
            }}
          />
        {:else}<span class="block truncate text-[15px] font-semibold">{each.name}</span>{/if}
        <span class="text-[12px] text-second"
          >{each.body.holds === 'color' ? 'colour' : each.body.holds} · {sizeWords(each)}</span
        >
        {#if each.body.baked && making.isStale(each)}<span class="block text-[12px] text-second"
            >{making.baking.baking === each.id ? 'is being baked' : 'changed since it was baked'}</span
          >{/if}
        {#if loss}<span class="block text-[12px] text-oxblood" title={loss}>more than it keeps</span>{/if}
      </div>
      <div class="flex flex-1 items-center gap-2 overflow-x-auto px-3 py-2">
        {#each each.body.steps as one (one.id)}
          {@const made = shownOf(each, one.id)}
          <div
            class="card"
            class:inhand={each.id === texture?.id && one.id === step?.id}
            class:opacity-50={one.off}
            role="button"
            tabindex="0"
            aria-label="{one.step} of {each.name}"
            aria-pressed={each.id === texture?.id && one.id === step?.id}
            data-image-step={one.id}
            title={IMAGE_STEPS.get(one.step)?.summary}
            onclick={() => session.holdTexture(each.id, one.id)}
            onkeydown={(event) => onCard(event, each, one)}
          >
            <StepPicture step={made} />
            <div class="min-w-0">
              <div class="font-semibold">{one.step}</div>
              <div class="mono truncate text-[11.5px] text-second">{told(one)}</div>
              {#if made?.mistake && !one.off && making.underWay?.id !== each.id}
                <div class="w-44 text-[12px] whitespace-normal text-oxblood" role="alert">
                  {made.mistake}
                </div>
              {:else if made}
                <div
                  class="bar"
                  title="{formatNumber(made.range[0])} to {formatNumber(made.range[1])}, as it is shown here"
                >
                  <i
                    style:left="{Math.min(Math.max(made.range[0], 0), 1) * 100}%"
                    style:right="{(1 - Math.min(Math.max(made.range[1], 0), 1)) * 100}%"
                  ></i>
                </div>
              {/if}
            </div>
          </div>
        {/each}
        {@render addMenu(each)}
      </div>
    </section>
  {:else}
    <p class="p-4 text-second">
      No texture yet. A texture is a row of image steps: the first makes or brings a picture, the others
      change it.
      <button class="underline" onclick={() => void newPartOf(session, 'texture')}>Begin one</button>
    </p>
  {/each}
</div>

<style>
  .row {
    display: flex;
    border-bottom: 1px solid var(--rule);
  }
  .margin {
    flex: none;
    width: 150px;
    padding: 8px 10px 8px 14px;
    border-right: 1px solid var(--rule);
    cursor: default;
  }
  .row.inhand .margin {
    box-shadow: inset 3px 0 var(--ink);
  }
  .card {
    display: flex;
    flex: none;
    gap: 8px;
    max-width: 270px;
    padding: 5px 8px 5px 5px;
    border: 1px solid var(--rule);
    border-radius: 2px;
    background: var(--sheet);
    cursor: default;
  }
  .card.inhand {
    border-color: var(--ink);
    box-shadow: inset 0 2px var(--limelight);
  }
  .bar {
    position: relative;
    width: 96px;
    height: 3px;
    margin-top: 6px;
    background: var(--hairline);
  }
  .bar i {
    position: absolute;
    inset-block: 0;
    min-width: 2px;
    background: var(--ink);
  }
</style>
