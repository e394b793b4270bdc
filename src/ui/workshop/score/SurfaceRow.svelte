<script lang="ts">
  import { tapKey } from '#core/compileShader.ts';
  import { clearOutput, setOutput, setSurface as setSetting } from '#core/edits/shaderEdits.ts';
  import { OUTPUT_NAMES, OUTPUTS, type OutputName } from '#core/document/shader.ts';
  import { SURFACE } from '#core/lower/lowerShader.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import OutputsRow from './OutputsRow.svelte';
  import RangeBar from './RangeBar.svelte';
  import StepPicture from './StepPicture.svelte';

  let { session, pictures }: { session: Session; pictures: Pictures } = $props();
  const shader = $derived(session.shader!);
  const part = $derived(shader.id);
  const surface = $derived(shader.body.surface);
  const shown = $derived(
    OUTPUT_NAMES.filter(
      (name) => surface.lit || !['roughness', 'metallic', 'occlusion', 'normal'].includes(name),
    ),
  );
  let editing = $state<{ name: OutputName; text: string } | null>(null);

  const mistakeOf = (name: OutputName) =>
    session.shaderState?.diagnostics.find((each) => each.strand === SURFACE && each.step === name);
  const commit = () => {
    if (!editing) return;
    const { name } = editing;
    const text = editing.text.trim();
    editing = null;
    if (text === (surface.outputs[name] ?? '')) return;
    session.apply(text ? setOutput(shader.id, name, text) : clearOutput(shader.id, name));
    session.settle();
  };
  const tap = (name: OutputName) => {
    const now = session.shown;
    const same = now.kind === 'tap' && now.strand === SURFACE && now.step === name;
    session.show(same ? { kind: 'finished' } : { kind: 'tap', strand: SURFACE, step: name });
  };
  const alphaModes = { opaque: 'opaque', cutout: 'cut out', blended: 'blended', added: 'added' } as const;
</script>

<OutputsRow label="Surface" {pictures}>
  {#snippet margin()}
    <div class="title">surface</div>
    <div class="settings">
      <select
        aria-label="Lighting"
        value={surface.lit ? 'lit' : 'unlit'}
        onchange={(event) => session.apply(setSetting(part, 'lit', event.currentTarget.value === 'lit'))}
      >
        <option value="lit">lit</option>
        <option value="unlit">unlit</option>
      </select>
      <select
        aria-label="Blending"
        value={surface.alphaMode}
        onchange={(event) =>
          session.apply(setSetting(part, 'alphaMode', event.currentTarget.value as typeof surface.alphaMode))}
      >
        {#each Object.entries(alphaModes) as [value, label] (value)}<option {value}>{label}</option>{/each}
      </select>
      <select
        aria-label="Sides"
        title="The sides that are drawn"
        value={surface.sides}
        onchange={(event) =>
          session.apply(setSetting(part, 'sides', event.currentTarget.value as typeof surface.sides))}
      >
        <option value="front">front</option>
        <option value="back">back</option>
        <option value="both">both</option>
      </select>
      <label title="Hides what is drawn later behind it"
        ><input
          type="checkbox"
          checked={surface.depthWrite}
          onchange={(event) => session.apply(setSetting(part, 'depthWrite', event.currentTarget.checked))}
        /> depth</label
      >
    </div>
  {/snippet}
  <div class="outputs">
    {#each shown as name (name)}
      {@const text = surface.outputs[name]}
      {@const mistake = mistakeOf(name)}
      {@const picture = pictures.all.get(tapKey(SURFACE, name))}
      <div class="output" data-output={name}>
        {#if text !== undefined}
          <button
            aria-label="Tap {OUTPUTS[name].label}"
            aria-pressed={session.shown.kind === 'tap' && session.shown.step === name}
            onclick={() => tap(name)}
          >
            <StepPicture {picture} size={44} label="Picture of {OUTPUTS[name].label}" />
          </button>
        {/if}
        <div>
          <div class="font-semibold">{OUTPUTS[name].label}</div>
          {#if editing?.name === name}
            <input
              class="mono field h-5"
              style="width: {Math.min(Math.max(editing.text.length + 2, 14), 48)}ch"
              bind:value={editing.text}
              aria-label="{OUTPUTS[name].label}, an expression"
              spellcheck="false"
              {@attach (field: HTMLElement) => field.focus()}
              onblur={commit}
              onkeydown={(event) => {
                event.stopPropagation();
                if (event.key === 'Enter') commit();
                if (event.key === 'Escape') editing = null;
              }}
            />
          {:else}
            <button
              class="mono block max-w-[30ch] truncate text-second hover:bg-well"
              class:text-oxblood={mistake}
              title={text ?? `stays at ${OUTPUTS[name].start.join(', ')}`}
              onclick={() => (editing = { name, text: text ?? '' })}
            >
              {text ?? 'none'}
            </button>
          {/if}
          {#if text !== undefined && picture}<div class="mt-1"><RangeBar range={picture.range} /></div>{/if}
          {#if mistake}<p class="max-w-60 text-[12px] text-oxblood" role="alert">{mistake.message}</p>{/if}
        </div>
      </div>
    {/each}
  </div>
</OutputsRow>

<style>
  .title {
    font-size: 15px;
    font-weight: 640;
  }
  .settings {
    display: grid;
    grid-template-columns: auto auto;
    justify-content: start;
    column-gap: 4px;
    color: var(--third);
    font-size: 11.5px;
  }
  .settings select {
    margin-left: -4px;
    background: transparent;
    color: var(--second);
  }
  .settings label {
    display: flex;
    align-items: center;
    gap: 3px;
  }
  .settings input {
    width: 11px;
    height: 11px;
    accent-color: var(--ink);
  }
  .outputs {
    display: flex;
    gap: 22px;
    padding: 14px 24px 8px 12px;
  }
  .output {
    display: flex;
    flex: none;
    gap: 8px;
  }
</style>
