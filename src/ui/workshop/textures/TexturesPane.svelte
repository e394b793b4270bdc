<script lang="ts">
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Copy from '@lucide/svelte/icons/copy';
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import { DropdownMenu } from 'bits-ui';
  import { tick } from 'svelte';
  import type { PartOf, TextureStep } from '#core/document/project.ts';
  import { MOST_IMAGE_STEPS } from '#core/document/kinds/texture.ts';
  import { usersOf } from '#core/document/users.ts';
  import { changeStep, changeTexture, moveStep, setSteps } from '#core/edits/textureEdits.ts';
  import { HOLDS } from '#core/images/encodePng.ts';
  import { IMAGE_STEPS } from '#core/images/imageSteps.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import { newId } from '../../parts/newId.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import { duplicatePart, newPartOf, namePart, removePart } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Making } from './making.svelte.ts';
  import StepArguments from './StepArguments.svelte';
  import StepPicture from './StepPicture.svelte';

  let { session, making }: { session: Session; making: Making } = $props();
  type Texture = PartOf<'texture'>;
  const texture = $derived(session.texture);
  const step = $derived(
    texture?.body.steps.find(({ id }) => id === session.textureStep) ?? texture?.body.steps.at(-1) ?? null,
  );
  const shownOf = ({ id }: Texture, of: string) =>
    making.previews.get(id)?.steps.find((each) => each.id === of);
  const shown = $derived(texture && step ? shownOf(texture, step.id) : undefined);
  const seam = $derived(texture ? making.previews.get(texture.id)?.seam : null);
  const percent = (x: number): string => `${(x * 100).toFixed(1)} %`;
  const users = $derived(texture ? usersOf(session.parts, texture.id) : []);

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

  const edit = (apply: () => void) => {
    apply();
    session.settle();
  };
  const add = (to: Texture, word: string, after: string | null) => {
    const made: TextureStep = { id: `step-${newId()}`, step: word, numbers: {}, words: {} };
    const at = to.body.steps.findIndex(({ id }) => id === after);
    const steps = to.body.steps.toSpliced(at < 0 ? to.body.steps.length : at + 1, 0, made);
    edit(() => session.apply(setSteps(to, `Add ${word}`, steps)));
    session.holdTexture(to.id, made.id);
  };
  const copy = (of: Texture, { id, ...rest }: TextureStep) => {
    const made = { ...rest, id: `step-${newId()}` };
    const at = of.body.steps.findIndex((each) => each.id === id);
    edit(() =>
      session.apply(setSteps(of, `Duplicate ${rest.step}`, of.body.steps.toSpliced(at + 1, 0, made))),
    );
    session.holdTexture(of.id, made.id);
  };
  const remove = (of: Texture, { id, step: word }: TextureStep) => {
    const at = of.body.steps.findIndex((each) => each.id === id);
    edit(() =>
      session.apply(
        setSteps(
          of,
          `Delete ${word}`,
          of.body.steps.filter((each) => each.id !== id),
        ),
      ),
    );
    session.holdTexture(of.id, of.body.steps[at - 1]?.id ?? null);
  };
  const hide = (of: Texture, { id, step: word, off }: TextureStep) =>
    edit(() =>
      session.apply(
        changeStep(of, id, off ? `Take ${word} in` : `Leave ${word} out`, ({ off: _, ...each }) =>
          off ? each : { ...each, off: true },
        ),
      ),
    );
  const move = (of: Texture, id: string, way: -1 | 1) => edit(() => session.apply(moveStep(of, id, way)));
  /** What a card tells of its step: its numbers and words that are not as they start. */
  const told = ({ step: word, numbers, words }: TextureStep): string =>
    Object.entries(IMAGE_STEPS.get(word)?.arguments ?? {})
      .flatMap(([argument, { kind }]) => {
        if (kind === 'texture')
          return words[argument] ? [session.part(words[argument])?.name ?? 'what is gone'] : [];
        if (words[argument]) return kind === 'picture' ? [] : [words[argument]];
        const value = numbers[argument];
        return value && kind !== 'curve' && kind !== 'gradient'
          ? [`${argument} ${value.map(formatNumber).join(' ')}`]
          : [];
      })
      .join(', ');
  const onCard = (event: KeyboardEvent, of: Texture, each: TextureStep) => {
    if (event.target !== event.currentTarget || session.tab !== 'textures') return;
    const cards = [...document.querySelectorAll<HTMLElement>('[data-image-step]')];
    const place = cards.indexOf(event.currentTarget as HTMLElement);
    if (event.altKey && event.key === 'ArrowLeft') move(of, each.id, -1);
    else if (event.altKey && event.key === 'ArrowRight') move(of, each.id, 1);
    else if (event.key === 'ArrowLeft') cards[place - 1]?.focus();
    else if (event.key === 'ArrowRight') cards[place + 1]?.focus();
    else if (event.key === 'Delete') remove(of, each);
    else if (event.key === 'd') copy(of, each);
    else if (event.key === 'h') hide(of, each);
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
  const put = (label: string, change: Partial<Texture['body']>, merge?: string) => {
    if (texture) session.apply(changeTexture(texture, label, change, merge));
    if (merge === undefined) session.settle();
  };
</script>

{#snippet addMenu(to: Texture, after: string | null)}
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
          <DropdownMenu.Item class="menu-item" onSelect={() => add(to, each.name, after)} title={each.summary}
            ><span class="font-semibold">{each.name}</span>&nbsp;<span class="truncate text-second"
              >{each.summary}</span
            ></DropdownMenu.Item
          >
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
{/snippet}

<div class="flex h-full">
  <div class="min-w-0 flex-1 overflow-auto">
    {#each session.textures as each (each.id)}
      <section class="row" class:inhand={each.id === texture?.id} aria-label="Texture {each.name}">
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
            >{each.body.holds === 'color' ? 'colour' : each.body.holds} · {each.body.size[0] ===
            each.body.size[1]
              ? each.body.size[0]
              : each.body.size.join(' × ')}</span
          >
          {#if each.body.baked && making.isStale(each)}<span class="block text-[12px] text-second"
              >changed since it was baked</span
            >{/if}
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
                {#if made?.mistake && !one.off}
                  <div class="w-44 text-[12px] whitespace-normal text-oxblood" role="alert">
                    {made.mistake}
                  </div>
                {:else if made}
                  <div class="bar" title="{formatNumber(made.range[0])} to {formatNumber(made.range[1])}">
                    <i
                      style:left="{Math.min(Math.max(made.range[0], 0), 1) * 100}%"
                      style:right="{(1 - Math.min(Math.max(made.range[1], 0), 1)) * 100}%"
                    ></i>
                  </div>
                {/if}
              </div>
            </div>
          {/each}
          {@render addMenu(each, null)}
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
  {#if texture}
    <aside
      class="w-80 flex-none overflow-auto border-l border-rule bg-page px-3 py-2"
      aria-label="Texture in hand"
    >
      {#if step}
        <div class="flex items-center gap-2">
          <h3 class="min-w-0 flex-1 truncate text-[14px] font-semibold">{step.step}</h3>
          <button class="tool" aria-label="Move the step earlier" onclick={() => move(texture, step.id, -1)}
            ><ChevronLeft size={14} /></button
          >
          <button class="tool" aria-label="Move the step later" onclick={() => move(texture, step.id, 1)}
            ><ChevronRight size={14} /></button
          >
          <button
            class="tool"
            aria-label={step.off ? 'Take the step in' : 'Leave the step out'}
            onclick={() => hide(texture, step)}
            >{#if step.off}<EyeOff size={13} />{:else}<Eye size={13} />{/if}</button
          >
          <button class="tool" aria-label="Duplicate the step" onclick={() => copy(texture, step)}
            ><Copy size={13} /></button
          >
          <button class="tool" aria-label="Delete the step" onclick={() => remove(texture, step)}
            ><Trash2 size={13} /></button
          >
        </div>
        <p class="mt-0.5 mb-1.5 text-[12px] text-second">
          {IMAGE_STEPS.get(step.step)?.summary}{shown?.note ? ` This one is ${shown.note}.` : ''}
        </p>
        <StepArguments {session} {making} {texture} {step} />
        {#if shown}
          <h4 class="mt-3 mb-1 text-third">Levels here</h4>
          <svg
            class="h-14 w-full border-b border-rule"
            viewBox="0 0 64 20"
            preserveAspectRatio="none"
            aria-hidden="true"
          >
            {#each shown.histogram as bars, c (c)}
              {@const most = Math.max(...shown.histogram.flat(), 1e-6)}
              <path
                d="M0 20{bars
                  .map(
                    (x, i) =>
                      `L${i} ${20 - 19 * Math.sqrt(x / most)}L${i + 1} ${20 - 19 * Math.sqrt(x / most)}`,
                  )
                  .join('')}L64 20"
                fill="none"
                stroke="currentColor"
                stroke-width="0.6"
                vector-effect="non-scaling-stroke"
                stroke-dasharray={['', '3 2', '1 2'][c]}
              />
            {/each}
          </svg>
          <p class="mono text-[11.5px] text-second">
            {formatNumber(shown.range[0])} to {formatNumber(shown.range[1])}
          </p>
        {/if}
      {/if}
      {#if seam}
        <h4 class="mt-3 mb-1 text-third">Seam</h4>
        <p data-testid="seam">
          Across left–right <b class="mono">{percent(seam.across[0])}</b>, top–bottom
          <b class="mono">{percent(seam.across[1])}</b> of the range, a pixel; inside
          <span class="mono">{percent(seam.inside[0])}</span> and
          <span class="mono">{percent(seam.inside[1])}</span>.
        </p>
      {/if}
      <h4 class="mt-3 mb-1 text-third">{texture.name}</h4>
      <div class="grid grid-cols-[6.5rem_1fr] items-center gap-x-2 gap-y-1.5">
        <span class="text-second">size</span>
        <div class="flex gap-1">
          {#each texture.body.size as x, i (i)}
            <NumberField
              value={x}
              label={i ? 'Height' : 'Width'}
              min={1}
              max={4096}
              hard
              whole
              step={1}
              unit=" px"
              onchange={(next) =>
                put(
                  'Change the size',
                  { size: texture.body.size.with(i, next) as unknown as [number, number] },
                  'size',
                )}
              onsettle={session.settle}
            />
          {/each}
        </div>
        <span class="text-second">holds</span>
        <select
          class="justify-self-start bg-transparent font-semibold"
          aria-label="What {texture.name} holds"
          value={texture.body.holds}
          onchange={(event) =>
            put('Change what it holds', { holds: event.currentTarget.value as (typeof HOLDS)[number] })}
        >
          {#each HOLDS as each (each)}<option value={each}>{each === 'color' ? 'colour' : each}</option
            >{/each}
        </select>
        <span class="text-second">repeats</span>
        <div class="flex gap-3">
          {#each ['across', 'down'] as word, i (word)}
            <label class="flex items-center gap-1"
              ><input
                type="checkbox"
                class="accent-ink"
                checked={texture.body.repeats[i]}
                onchange={(event) =>
                  put('Change how it repeats', {
                    repeats: texture.body.repeats.with(i, event.currentTarget.checked),
                  })}
              />
              {word}</label
            >
          {/each}
        </div>
      </div>
      <p class="mt-2 text-[12px] text-second">
        {users.length ? `Used by ${users.join(', ')}.` : 'Not used yet: choose it at a texture parameter.'}
      </p>
      <div class="mt-2 flex flex-wrap gap-2">
        {#if making.baking === texture.id}
          <button class="btn" onclick={making.cancel}>Cancel</button><span class="self-center text-second"
            >baking…</span
          >
        {:else}
          <button
            class="btn"
            class:btn-live={making.isStale(texture)}
            disabled={making.baking !== null}
            onclick={() => void making.bake(texture)}>{texture.body.baked ? 'Bake again' : 'Bake'}</button
          >
          <button
            class="btn"
            disabled={making.baking !== null}
            onclick={() => void making.download(texture, 8)}>PNG, 8 bit</button
          >
          <button
            class="btn"
            disabled={making.baking !== null}
            onclick={() => void making.download(texture, 16)}>PNG, 16 bit</button
          >
        {/if}
      </div>
    </aside>
  {/if}
</div>

<style>
  .row {
    display: flex;
    border-bottom: 1px solid var(--rule);
  }
  .margin {
    flex: none;
    width: 126px;
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
  .tool {
    color: var(--second);
  }
  .tool:hover {
    color: var(--ink);
  }
</style>
