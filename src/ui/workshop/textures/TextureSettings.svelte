<script lang="ts">
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Copy from '@lucide/svelte/icons/copy';
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import type { PartOf } from '#core/document/project.ts';
  import { usersOf } from '#core/document/users.ts';
  import { changeStep, changeTexture } from '#core/edits/textureEdits.ts';
  import type { FILTERS } from '#core/document/sampling.ts';
  import { bitsOf } from '#core/images/encodePicture.ts';
  import { HOLDS } from '#core/images/encodePng.ts';
  import { IMAGE_STEPS } from '#core/images/imageSteps.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import type { ShownStep } from '../../../workers/texture.worker.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import { deleteStep, duplicateStep, shiftStep, stepInHand, switchStep } from './doToTexture.ts';
  import { handlesOf } from './handlesOf.ts';
  import Histogram from './Histogram.svelte';
  import type { Making } from './making.svelte.ts';
  import PowersOfTwo from './PowersOfTwo.svelte';
  import StepArguments from './StepArguments.svelte';

  /** The texture in hand and its step in hand: what they are told, what they come to, and the baking. */
  let { session, making }: { session: Session; making: Making } = $props();
  const texture = $derived(session.texture!);
  const step = $derived(stepInHand(session));
  /** As large as a texture may be, of as many rows as columns. */
  const MOST_SIDE = 4096;
  /** The files that it is handed over as. */
  const FILES = [
    [8, 'PNG, 8 bit'],
    [16, 'PNG, 16 bit'],
    [32, 'EXR, 32 bit'],
  ] as const;
  const found = $derived(making.seamOf(texture));
  const users = $derived(usersOf(session.parts, texture.id));
  const bits = $derived(bitsOf(texture.body.bits));
  const { baking } = $derived(making);
  const loss = $derived(making.lossOf(texture));
  const percent = (x: number): string => `${(x * 100).toFixed(1)} %`;
  const made = $derived(making.previews.get(texture.id)?.steps ?? []);
  const place = $derived(made.findIndex(({ id }) => id === step?.id));
  /** What the step in hand comes to, and what it is given. */
  const shown = $derived<ShownStep | null | undefined>(
    step && (making.nearOf(texture.id, step.id) ?? made[place]),
  );
  const shownBefore = $derived<ShownStep | undefined>(made[place - 1]);
  /** The step that begins it, where that has a size of its own. */
  const sized = $derived.by(() => {
    const first = texture.body.steps.find(({ off }) => !off);
    return first && IMAGE_STEPS.get(first.step)?.size ? first : null;
  });
  const begins = $derived(
    (sized ? made.find(({ id }) => id === sized.id)?.whole : texture.body.size)?.join(' × ') ?? '',
  );
  const comesTo = $derived(made.at(-1)?.whole.join(' × ') ?? begins);
  const putNumber = (name: string, value: number) => {
    if (!step) return;
    const { id } = step;
    session.apply(
      changeStep(
        texture,
        id,
        `Change ${step.step}`,
        (each) => ({ ...each, numbers: { ...each.numbers, [name]: [value] } }),
        `${name} 0`,
      ),
    );
  };
  const put = (label: string, change: Partial<PartOf<'texture'>['body']>, merge?: string) => {
    session.apply(changeTexture(texture, label, change, merge));
    if (merge === undefined) session.settle();
  };
</script>

{#snippet reach({ range, broken, width, whole }: ShownStep)}
  <p class="mono text-[11.5px] text-second">
    {formatNumber(range[0])} to {formatNumber(range[1])}{broken
      ? `, and ${broken} infinite or none at all`
      : ''}{width === whole[0] ? '' : ', as it is shown small'}
  </p>
{/snippet}

<aside class="flex h-full flex-col border-l border-rule bg-page" aria-label="Texture in hand">
  <header class="flex h-[35px] flex-none items-center gap-2 border-b border-hairline px-3.5">
    <h2 class="truncate text-[14px] font-semibold">{texture.name}</h2>
    <span class="text-second">texture</span>
    <span class="ml-auto min-w-0 truncate text-[12px] text-second" title={users.join(', ')}>
      {users.length ? `Used by ${users.join(', ')}.` : 'Not used yet: choose it at a texture parameter.'}
    </span>
  </header>
  <div class="min-h-0 flex-1 overflow-auto px-3.5 py-2">
    {#if step}
      <div class="flex items-center gap-2">
        <h3 class="min-w-0 flex-1 truncate text-[14px] font-semibold">{step.step}</h3>
        <button
          class="tool"
          aria-label="Move the step earlier"
          onclick={() => shiftStep(session, texture, step.id, -1)}><ChevronLeft size={14} /></button
        >
        <button
          class="tool"
          aria-label="Move the step later"
          onclick={() => shiftStep(session, texture, step.id, 1)}><ChevronRight size={14} /></button
        >
        <button
          class="tool"
          aria-label={step.off ? 'Take the step in' : 'Leave the step out'}
          onclick={() => switchStep(session, texture, step)}
          >{#if step.off}<EyeOff size={13} />{:else}<Eye size={13} />{/if}</button
        >
        <button
          class="tool"
          aria-label="Duplicate the step"
          onclick={() => duplicateStep(session, texture, step)}><Copy size={13} /></button
        >
        <button class="tool" aria-label="Delete the step" onclick={() => deleteStep(session, texture, step)}
          ><Trash2 size={13} /></button
        >
      </div>
      <p class="mt-0.5 mb-1.5 text-[12px] text-second">
        {IMAGE_STEPS.get(step.step)?.summary}{shown?.note ? ` This one is ${shown.note}.` : ''}
      </p>
      <StepArguments {session} {making} {texture} {step} />
      {#if shown}
        {@const before = shownBefore}
        <div class="mt-3 grid grid-cols-[repeat(auto-fit,minmax(11rem,1fr))] gap-x-4 gap-y-3">
          {#if before}
            <div>
              <h4 class="mb-1 text-third">Levels before</h4>
              <Histogram
                histogram={before.histogram}
                label="Levels before {step.step}"
                handles={handlesOf(step, putNumber)}
                onsettle={session.settle}
              />
              {@render reach(before)}
            </div>
          {/if}
          <div>
            <h4 class="mb-1 text-third">{before ? 'Levels after' : 'Levels here'}</h4>
            <Histogram histogram={shown.histogram} label="Levels after {step.step}" />
            {@render reach(shown)}
          </div>
        </div>
      {/if}
    {/if}
    {#if found}
      {@const { across, inside } = found.seam}
      <h4 class="mt-3 mb-1 text-third">Seam{found.isWhole ? '' : ', as it is shown small'}</h4>
      <p data-testid="seam">
        Across left–right <b class="mono">{percent(across[0])}</b>, top–bottom
        <b class="mono">{percent(across[1])}</b> of the range, a pixel; inside
        <span class="mono">{percent(inside[0])}</span> and
        <span class="mono">{percent(inside[1])}</span>.
      </p>
    {/if}
    <h4 class="mt-3 mb-1 text-third">Making</h4>
    <div class="grid grid-cols-[6.5rem_1fr] items-center gap-x-2 gap-y-1.5">
      <span class="text-second">size</span>
      {#if sized}
        <span><span class="mono">{begins}</span>, as its {sized.step} is; a resize makes it another</span>
      {:else}
        <div class="flex flex-wrap gap-1">
          {#each texture.body.size as x, i (i)}
            <NumberField
              value={x}
              label={i ? 'Height' : 'Width'}
              min={1}
              max={MOST_SIDE}
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
          <PowersOfTwo
            size={texture.body.size as [number, number]}
            most={MOST_SIDE}
            label={texture.name}
            onchoose={(size) => put('Change the size', { size })}
          />
        </div>
      {/if}
      {#if comesTo !== begins}
        <span class="text-second">comes to</span>
        <span class="mono">{comesTo}</span>
      {/if}
      <span class="text-second">holds</span>
      <select
        class="justify-self-start bg-transparent font-semibold"
        aria-label="What {texture.name} holds"
        value={texture.body.holds}
        onchange={(event) =>
          put('Change what it holds', { holds: event.currentTarget.value as (typeof HOLDS)[number] })}
      >
        {#each HOLDS as each (each)}<option value={each}>{each === 'color' ? 'colour' : each}</option>{/each}
      </select>
      <span class="text-second">kept as</span>
      <select
        class="justify-self-start bg-transparent font-semibold"
        aria-label="How finely {texture.name} is kept"
        value={String(bits)}
        onchange={(event) => put('Change its bits', { bits: Number(event.currentTarget.value) })}
      >
        <option value="8">8 bit</option>
        <option value="16">16 bit</option>
        <option value="32">32 bit, floats</option>
      </select>
      <span class="text-second">is read</span>
      <select
        class="justify-self-start bg-transparent font-semibold"
        aria-label="How {texture.name} is read"
        value={texture.body.filter ?? 'linear'}
        onchange={(event) =>
          put('Change its filter', { filter: event.currentTarget.value as (typeof FILTERS)[number] })}
      >
        <option value="linear">between texels</option>
        <option value="nearest">at the nearest texel</option>
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
      <span class="text-second">is baked</span>
      <label class="flex items-center gap-1"
        ><input
          type="checkbox"
          class="accent-ink"
          checked={!texture.body.byHand}
          onchange={(event) => put('Change when it is baked', { byHand: !event.currentTarget.checked })}
        />
        whenever it changes</label
      >
    </div>
  </div>
  <footer class="flex-none border-t border-hairline px-3.5 py-2">
    {#if loss}
      <p class="mb-2 text-[12px] text-oxblood" data-testid="loss">
        {loss}
        {#if bits !== 32}<button class="underline" onclick={() => put('Change its bits', { bits: 32 })}
            >Keep it as floats</button
          >{/if}
      </p>
    {/if}
    <div class="flex flex-wrap gap-2">
      <button
        class="btn"
        class:btn-live={making.isStale(texture)}
        disabled={baking.isAsked}
        onclick={() => void baking.bake(texture)}>{texture.body.baked ? 'Bake again' : 'Bake'}</button
      >
      {#each FILES as [kept, name] (kept)}
        <button class="btn" disabled={baking.isAsked} onclick={() => void making.download(texture, kept)}
          >{name}</button
        >
      {/each}
    </div>
    {#if baking.baking === texture.id}
      <div class="mt-2 flex items-center gap-2">
        <progress class="w-32" max="1" value={baking.progress} aria-label="How much of {texture.name} is made"
        ></progress>
        <button class="underline" onclick={baking.cancel}>Cancel</button>
      </div>
    {:else if baking.refusals.get(texture.id)}
      <p class="mt-2 text-[12px] text-oxblood" role="alert">
        Not baked. {baking.refusals.get(texture.id)}
      </p>
    {/if}
  </footer>
</aside>

<style>
  .tool {
    color: var(--second);
  }
  .tool:hover {
    color: var(--ink);
  }
</style>
