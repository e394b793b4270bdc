<script lang="ts">
  import type { PartOf, TextureStep } from '#core/document/project.ts';
  import { changeStep } from '#core/edits/textureEdits.ts';
  import type { Argument } from '#core/images/declareStep.ts';
  import { IMAGE_STEPS } from '#core/images/imageSteps.ts';
  import { toast } from 'svelte-sonner';
  import CurveField from '../../parts/CurveField.svelte';
  import GradientField from '../../parts/GradientField.svelte';
  import NumberField from '../../parts/NumberField.svelte';
  import { keepBlob } from '../keepBlob.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Making } from './making.svelte.ts';
  import PowersOfTwo from './PowersOfTwo.svelte';
  import PropField from './PropField.svelte';
  import SurfaceField from './SurfaceField.svelte';

  /** What the step in hand is told. */
  interface Props {
    session: Session;
    making: Making;
    texture: PartOf<'texture'>;
    step: TextureStep;
  }
  let { session, making, texture, step }: Props = $props();
  const declared = $derived(
    Object.entries(IMAGE_STEPS.get(step.step)?.arguments ?? {}) as [string, Argument][],
  );
  const others = $derived(making.othersFor(texture));
  const put = (change: (step: TextureStep) => TextureStep, merge?: string) => {
    session.apply(changeStep(texture, step.id, `Change ${step.step}`, change, merge));
    if (merge === undefined) session.settle();
  };
  const putNumbers = (name: string, value: readonly number[], merge?: string) =>
    put((each) => ({ ...each, numbers: { ...each.numbers, [name]: value } }), merge);
  const putWord = (name: string, word: string) =>
    put((each) => {
      const { [name]: _, ...words } = each.words;
      return { ...each, words: word ? { ...words, [name]: word } : words };
    });
  const putText = (name: string, text: string) =>
    put((each) => ({ ...each, words: { ...each.words, [name]: text } }), name);
  const choose = async (name: string, file: File) => {
    try {
      putWord(name, await keepBlob(file, file.name));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const startOf = (argument: Argument): readonly number[] =>
    argument.kind === 'number'
      ? [argument.start]
      : argument.kind === 'flag'
        ? [argument.start ? 1 : 0]
        : 'start' in argument && typeof argument.start !== 'string'
          ? (argument.start as readonly number[])
          : [];
</script>

<div class="grid grid-cols-[6.5rem_1fr] items-center gap-x-2 gap-y-1.5">
  {#each declared as [name, argument] (`${step.id} ${name}`)}
    <span class="text-second" title={argument.about}>{name}</span>
    {#if argument.kind === 'number' || argument.kind === 'numbers'}
      {@const value = step.numbers[name] ?? startOf(argument)}
      <div class="flex flex-wrap gap-1">
        {#each value as x, i (i)}
          <span class="w-[4.6rem]"
            ><NumberField
              value={x}
              label="{step.step} {name}{value.length > 1 ? ` ${i + 1}` : ''}"
              min={argument.least}
              max={argument.most}
              hard
              whole={argument.whole === true}
              step={argument.kind === 'number' && argument.whole
                ? 0.1
                : (argument.most - argument.least) / 800}
              unit={argument.unit ? ` ${argument.unit}` : ''}
              onchange={(next) => putNumbers(name, value.with(i, next), `${name} ${i}`)}
              onsettle={session.settle}
            /></span
          >
        {/each}
        {#if argument.kind === 'numbers' && argument.isSize}
          <PowersOfTwo
            size={value as [number, number]}
            most={argument.most}
            label="{step.step} {name}"
            onchoose={(size) => putNumbers(name, size)}
          />
        {/if}
      </div>
    {:else if argument.kind === 'choice'}
      <select
        class="justify-self-start bg-transparent font-semibold"
        aria-label="{step.step} {name}"
        value={step.words[name] ?? argument.start}
        onchange={(event) => putWord(name, event.currentTarget.value)}
      >
        {#each argument.options as option (option)}<option value={option}
            >{option === 'color' ? 'colour' : option}</option
          >{/each}
      </select>
    {:else if argument.kind === 'text'}
      <textarea
        class="field h-16! w-full resize-y py-1"
        rows="2"
        maxlength={argument.most}
        aria-label="{step.step} {name}"
        value={step.words[name] ?? argument.start}
        oninput={(event) => putText(name, event.currentTarget.value)}
        onchange={session.settle}></textarea>
    {:else if argument.kind === 'flag'}
      <input
        type="checkbox"
        class="justify-self-start accent-ink"
        aria-label="{step.step} {name}"
        checked={(step.numbers[name]?.[0] ?? (argument.start ? 1 : 0)) !== 0}
        onchange={(event) => putNumbers(name, [event.currentTarget.checked ? 1 : 0])}
      />
    {:else if argument.kind === 'curve' || argument.kind === 'gradient'}
      {@const Field = argument.kind === 'curve' ? CurveField : GradientField}
      <Field
        value={step.numbers[name] ?? argument.start}
        label="{step.step} {name}"
        onchange={(value) => putNumbers(name, value, name)}
        onsettle={session.settle}
      />
    {:else if argument.kind === 'texture'}
      <select
        class="max-w-40 justify-self-start bg-transparent font-semibold"
        aria-label="{step.step} {name}"
        value={step.words[name] ?? ''}
        onchange={(event) => putWord(name, event.currentTarget.value)}
      >
        <option value="">none</option>
        {#if step.words[name] && !others.some(({ id }) => id === step.words[name])}
          <option value={step.words[name]}>what is gone</option>
        {/if}
        {#each others as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
      </select>
    {:else if argument.kind === 'surface' || argument.kind === 'prop'}
      {@const Field = argument.kind === 'surface' ? SurfaceField : PropField}
      <Field
        {session}
        label="{step.step} {name}"
        value={step.words[name] ?? ''}
        onchange={(word) => putWord(name, word)}
      />
    {:else}
      <label class="flex cursor-pointer items-center gap-2 text-second hover:text-ink">
        {#if step.words[name]}<img
            class="size-8 object-cover"
            src="/api/blobs/{step.words[name]}"
            alt=""
          />{/if}
        <span>{step.words[name] ? 'Choose another…' : 'Choose a picture…'}</span>
        <input
          type="file"
          class="sr-only"
          accept=".png,.jpg,.jpeg,.webp,.exr,.hdr"
          aria-label="{step.step} {name}"
          onchange={(event) => {
            const file = event.currentTarget.files?.[0];
            event.currentTarget.value = '';
            if (file) void choose(name, file);
          }}
        />
      </label>
    {/if}
  {:else}
    <p class="col-span-2 text-second">It takes nothing.</p>
  {/each}
</div>
