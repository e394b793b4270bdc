<script lang="ts">
  import { download } from '../parts/download.ts';
  import Download from '@lucide/svelte/icons/download';
  import { programOf } from '#core/compileShader.ts';
  import { emitGlsl } from '#core/emit/glsl/emitGlsl.ts';
  import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
  import { bindingsOf } from '#core/handover/bindings.ts';
  import { partsOf, setsOf, type Project } from '#core/document/project.ts';
  import { contractOf } from '#core/handover/contract.ts';
  import { toHex } from '#core/numbers/colour.ts';
  import Mark from '../parts/Mark.svelte';
  import ThemeButton from '../parts/ThemeButton.svelte';

  /** `first` is the id of the shader to begin with: the one that was being worked on. */
  let { project, first = null }: { project: Project; first?: string | null } = $props();
  const shaders = $derived(partsOf(project, 'shader'));
  let chosen = $state<string | null>(null);
  const shader = $derived(shaders.find((each) => each.id === (chosen ?? first)) ?? shaders[0]);
  const library = $derived(new Map(partsOf(project, 'motif').map((part) => [part.id, part])));
  const made = $derived(shader ? programOf(shader.body, library) : null);
  const options = $derived(
    shader && {
      title: shader.name,
      notes: new Map(shader.body.strands.map((strand) => [strand.name, strand.note])),
    },
  );
  const source = $derived(
    made?.program && options ? emitGlsl(made.program, { ...options, purpose: 'handover' }) : null,
  );
  const wgsl = $derived(made?.program && options ? emitWgsl(made.program, options) : null);
  const materials = $derived(partsOf(project, 'material').filter((each) => each.body.shader === shader?.id));
  const contract = $derived(
    shader && source && made?.program
      ? contractOf({
          title: shader.name,
          shader: shader.body,
          program: made.program,
          builtIn: source.builtIn,
          materials,
          sets: setsOf(project),
          shared: partsOf(project, 'shared')[0]?.body.values ?? {},
        })
      : null,
  );
  let shown = $state<'fragment' | 'vertex' | 'wgsl' | 'bindings'>('fragment');
  const texts = $derived({
    fragment: source?.fragment ?? '',
    vertex: source?.vertex ?? '',
    wgsl: wgsl?.code ?? (wgsl?.refused ? `// ${wgsl.refused}\n` : ''),
    bindings: contract ? bindingsOf(contract) : '',
  });

  const save = (name: string, text: string, type = 'text/plain') => download(name, type, text);
  /** As exact as it was authored: a contract rounds nothing that matters. */
  const exact = (x: number) => String(Number(x.toPrecision(7)));
  const slug = $derived(
    (shader?.name ?? 'shader')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, ''),
  );
  const files = $derived(
    source && contract
      ? ([
          [`${slug}.frag`, 'Fragment source', source.fragment, 'text/plain'],
          [`${slug}.vert`, 'Vertex source', source.vertex, 'text/plain'],
          ...(wgsl?.code ? ([[`${slug}.wgsl`, 'WGSL', wgsl.code, 'text/plain']] as const) : []),
          [
            `${slug}.contract.json`,
            'Parameter contract',
            `${JSON.stringify(contract, null, 2)}\n`,
            'application/json',
          ],
          [`${slug}.ts`, 'Bindings', texts.bindings, 'text/plain'],
        ] as const)
      : [],
  );
</script>

<div class="flex h-screen flex-col">
  <header class="flex h-11 flex-none items-center gap-3 border-b border-rule bg-sheet px-4">
    <a href="/" aria-label="All projects" class="mr-1"><Mark /></a>
    <h1 class="flex items-center gap-2 text-[14px] font-semibold">
      <a href="/projects/{project.id}" class="hover:underline">{project.name}</a>
      <span class="text-third">/</span> Handover
    </h1>
    <div class="ml-auto flex items-center gap-3">
      <ThemeButton />
      <a class="btn" href="/projects/{project.id}">Back to the workshop</a>
    </div>
  </header>
  <main class="grid min-h-0 flex-1 grid-cols-[minmax(0,11fr)_minmax(0,10fr)]">
    <div class="overflow-y-auto px-8 py-6">
      <div class="flex items-baseline gap-3">
        <select
          class="field text-[14px] font-semibold"
          aria-label="Shader"
          value={shader?.id}
          onchange={(event) => (chosen = event.currentTarget.value)}
        >
          {#each shaders as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
        </select>
        {#if shader}
          <span class="text-second">
            {shader.body.surface.lit ? 'lit' : 'unlit'}, {shader.body.surface.alphaMode}, {shader.body.surface
              .sides === 'both'
              ? 'two sides'
              : `${shader.body.surface.sides} only`}
          </span>
        {/if}
      </div>
      {#if made && !made.program}
        <div class="mt-5 border-l-2 border-oxblood pl-3 text-oxblood" role="alert">
          <p>This shader has mistakes and cannot be handed over yet:</p>
          {#each made.diagnostics as mistake, i (i)}<p>{mistake.message}</p>{/each}
        </div>
      {/if}
      <div class="mt-5 flex flex-wrap gap-2">
        {#each files as [name, label, text, type] (name)}
          <button class="btn" onclick={() => save(name, text, type)}><Download size={13} /> {label}</button>
        {/each}
      </div>
      {#if contract}
        <h2 class="mt-7 mb-2 text-[15px] font-semibold">Parameters</h2>
        <table class="w-full border-collapse">
          <thead>
            <tr class="text-left text-[12px] text-third">
              <th class="py-1 pr-3 font-normal">name</th><th class="pr-3 font-normal">uniform</th><th
                class="pr-3 font-normal">range</th
              ><th class="pr-3 font-normal">default</th><th class="font-normal">what it does</th>
            </tr>
          </thead>
          <tbody>
            {#each contract.parameters as each (each.name)}
              <tr class="border-t border-hairline align-top">
                <td class="py-1.5 pr-3 font-semibold">{each.name}</td>
                <td class="mono pt-2 pr-3 text-second"
                  >{each.uniform}{#if each.scope !== 'material'}<small class="block text-third"
                      >{each.scope === 'lifetime' ? each.uniforms[0] : each.scope}</small
                    >{/if}</td
                >
                <td class="mono pt-2 pr-3 whitespace-nowrap"
                  >{exact(each.min)} … {exact(each.max)}{each.unit
                    ? ` ${each.unit}`
                    : ''}{#if each.ends}<small class="block text-third"
                      >drives {exact(each.ends[0])} … {exact(each.ends[1])}</small
                    >{/if}</td
                >
                <td class="mono pt-2 pr-3 whitespace-nowrap">
                  {#if each.kind === 'color'}
                    <i
                      class="mr-1 inline-block h-3 w-3 border border-rule align-[-1px]"
                      style="background: {toHex(each.default)}"
                    ></i>{exact(each.default[3] ?? 0)} stops
                  {:else if each.samples}{each.default.length / 4}
                    {each.kind === 'curve' ? 'keys' : 'stops'}, {each.samples} samples
                  {:else}{each.default.map(exact).join(', ')}{/if}
                </td>
                <td class="py-1.5 text-second">{each.description}</td>
              </tr>
            {:else}
              <tr><td colspan="5" class="py-2 text-second">This shader exposes no parameters.</td></tr>
            {/each}
          </tbody>
        </table>
        {#if contract.drives.length || contract.lifetimes.length}
          <h2 class="mt-7 mb-2 text-[15px] font-semibold">What drives it without a script</h2>
          {#each contract.drives as each (`${each.set} ${each.material} ${each.parameter}`)}
            <p>
              <b class="font-semibold">{each.parameter}</b> of {each.material}: {each.told}
              <span class="text-third">in {each.set}</span>
            </p>
          {/each}
          {#each contract.lifetimes as each, i (i)}
            <p>
              <b class="font-semibold">{Object.keys(each.curves).join(', ')}</b> of {each.material}: curves
              over
              {exact(each.life)} s
              <span class="text-third">by {each.flourish}, {each.layer}, in {each.set}</span>
            </p>
          {/each}
        {/if}
        <h2 class="mt-7 mb-2 text-[15px] font-semibold">What the game gives besides</h2>
        <p class="mono text-second">{contract.builtIn.join(', ') || 'nothing'}</p>
        {#each Object.values(contract.requires) as sentence (sentence)}<p class="mt-2">{sentence}</p>{/each}
        <p class="mt-2 text-second">
          What begins with a_ is the mesh’s; a_stretch is how many metres one unit of u and of v are long,
          a_instance each instance’s age, order and seed. A curve or a gradient is a row of samples, read at
          their centres. Colours are linear; a colour’s uniform is its red, green and blue times 2 to the
          power of its stops.
        </p>
      {/if}
    </div>
    <div class="flex min-h-0 flex-col border-l border-rule bg-sheet">
      <div
        class="flex h-[34px] flex-none items-center gap-1 border-b border-rule px-3"
        role="tablist"
        aria-label="Source"
      >
        {#each [['fragment', 'Fragment'], ['vertex', 'Vertex'], ['wgsl', 'WGSL'], ['bindings', 'Bindings']] as const as [stage, label] (stage)}
          <button
            class="score-tab"
            role="tab"
            aria-selected={shown === stage}
            data-state={shown === stage ? 'active' : ''}
            onclick={() => (shown = stage)}>{label}</button
          >
        {/each}
        <span class="mono ml-auto text-third"
          >{shown === 'wgsl' ? 'WGSL' : shown === 'bindings' ? 'TypeScript' : 'GLSL ES 3.00'}</span
        >
      </div>
      <pre class="mono min-h-0 flex-1 overflow-auto p-4 leading-[1.55]" data-testid="source">{texts[
          shown
        ]}</pre>
    </div>
  </main>
</div>
