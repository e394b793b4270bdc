<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import type { Prop } from '#core/document/project.ts';
  import { changeProps } from '#core/edits/stageEdits.ts';
  import { MESH_KINDS, type MadeRecipe, type MeshRecipe } from '#core/meshes/makeMesh.ts';
  import { meshStarter } from '#core/meshes/meshStarter.ts';
  import { chordOf, chordText } from '../commands/chords.ts';
  import { commandFor, nameOf } from '../commands/command.ts';
  import { HANDLES, ON_PROP, type PropDeed, type PropsHere } from '../commands/onProp.ts';
  import { isStop, propStop } from '../score/stops.ts';
  import { propsInHand } from '../state/propsInHand.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { changeProp, doToProps, dressProps } from './doToProp.ts';
  import { drawWires } from './drawWires.ts';
  import MeshWords from './MeshWords.svelte';
  import NumbersLine from './NumbersLine.svelte';
  import PictureChooser from './PictureChooser.svelte';
  import PivotPicker from './PivotPicker.svelte';
  import PropLayers from './PropLayers.svelte';
  import PropPlace from './PropPlace.svelte';
  import { renameThing } from './renameThing.ts';
  import SetCard from './SetCard.svelte';
  import SetRow from './SetRow.svelte';

  interface Props {
    session: Session;
    prop: Prop;
    portrait: string | undefined;
    onwalk: (way: -1 | 1) => void;
  }
  let { session, prop, portrait, onwalk }: Props = $props();
  const inHand = $derived(session.props.includes(prop.id));
  const kind = $derived(MESH_KINDS.get(prop.mesh.kind));
  const imported = $derived(prop.mesh.kind === 'imported' ? prop.mesh : null);
  const material = $derived(session.materials.find((each) => each.id === prop.material));
  const ownValues = $derived(Object.keys(material?.body.values ?? {}).length);
  const fields = $derived(Object.entries(kind?.fields ?? {}));
  const numbersOf = (name: string): readonly number[] => {
    const given = (prop.mesh as unknown as Readonly<Record<string, number | readonly number[]>>)[name]!;
    return typeof given === 'number' ? [given] : given;
  };
  const counts = $derived(
    fields.filter(([, field]) => field.whole).flatMap(([name]) => [...numbersOf(name)]),
  );

  const change = (label: string, how: (prop: Prop) => Prop, merge?: string) =>
    changeProp(session, prop, label, how, merge);
  const setMesh = (name: string, value: number | readonly number[] | string) =>
    change(
      `Change ${name} of ${prop.name}`,
      (each) => ({
        ...each,
        mesh: { ...each.mesh, [name]: value } as MeshRecipe,
      }),
      `mesh ${name}`,
    );
  const settle = () => session.settle();
  const hasHeights = $derived('picture' in prop.mesh && prop.mesh.picture !== undefined);
  const chooseHeights = (picture: string) => {
    change(`Choose the heights of ${prop.name}`, (each) => ({
      ...each,
      mesh: { ...each.mesh, picture } as MeshRecipe,
    }));
    settle();
  };

  const hold = (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const more = event.shiftKey || event.ctrlKey || event.metaKey;
    if (!more) return session.holdProps([prop.id]);
    const others = session.props.filter((each) => each !== prop.id);
    session.holdProps(inHand ? others : [...others, prop.id]);
  };
  const here = (): PropsHere => ({
    props: inHand ? propsInHand(session) : [prop],
    do: (deed: PropDeed) => {
      if (!inHand) session.holdProps([prop.id]);
      doToProps(session, deed);
    },
  });
  const onkeydown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) {
      // From what is in the row back to the row.
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      return (event.currentTarget as HTMLElement).focus();
    }
    const command = commandFor([...ON_PROP, ...HANDLES], chordOf(event), here());
    if (command) command.run(here());
    else if (event.key === 'ArrowDown') onwalk(1);
    else if (event.key === 'ArrowUp') onwalk(-1);
    else if (event.key === 'Enter' || event.key === ' ') hold(event);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const commit = (field: HTMLInputElement) => {
    if (session.propToName !== prop.id) return;
    const name = field.value.trim();
    session.nameProp(null);
    if (name && name !== prop.name && session.stage)
      void renameThing(
        session,
        'prop',
        [prop.name, name],
        changeProps(session.stage, [prop.id], `Rename ${prop.name}`, (each) => ({ ...each, name })),
      );
  };
</script>

<SetRow
  {inHand}
  dim={prop.hidden ?? false}
  aria-label="Prop {prop.name}"
  tabindex={0}
  data-prop={prop.name}
  {onkeydown}
  {@attach isStop(propStop(prop.id))}
  onpointerdown={(event: PointerEvent) => {
    if (!(event.target as Element).closest('button, select, input, textarea, [role=spinbutton]')) hold(event);
    else if (!inHand) session.holdProps([prop.id]);
  }}
>
  {#snippet margin()}
    {#if session.propToName === prop.id}
      <input
        class="field h-6 w-26 font-semibold"
        value={prop.name}
        aria-label="Name of the prop"
        maxlength="120"
        {@attach (field: HTMLInputElement) => {
          field.focus();
          field.select();
        }}
        onblur={(event) => commit(event.currentTarget)}
        onkeydown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') commit(event.currentTarget);
          if (event.key === 'Escape') session.nameProp(null);
        }}
      />
    {:else}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          class="w-full truncate text-left text-[15px] font-semibold"
          title="What to do with {prop.name}">{prop.name}</DropdownMenu.Trigger
        >
        <DropdownMenu.Portal>
          <DropdownMenu.Content class="popup min-w-44 py-1" align="start" sideOffset={4}>
            {#each ON_PROP.filter((each) => each.when?.(here()) ?? true) as command (command.deed)}
              <!-- The menu gives the focus back first. -->
              <DropdownMenu.Item class="menu-item" onSelect={() => setTimeout(() => command.run(here()), 30)}
                ><span>{nameOf(command, here())}</span><kbd class="mono text-third"
                  >{chordText(command.keys![0]!)}</kbd
                ></DropdownMenu.Item
              >
            {/each}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    {/if}
    <div class="text-[12px] text-second">
      {prop.mesh.kind}{counts.length ? ` · ${counts.join(' × ')}` : ''}
    </div>
    {#if prop.hidden || prop.locked}
      <div class="text-[12px] text-third">
        {[prop.hidden ? 'hidden' : '', prop.locked ? 'locked' : ''].filter(Boolean).join(', ')}
      </div>
    {/if}
  {/snippet}
  <SetCard label="Mesh of {prop.name}">
    {#snippet picture()}
      <canvas
        width="104"
        height="104"
        class="h-full w-full"
        aria-hidden="true"
        {@attach (canvas: HTMLCanvasElement) =>
          drawWires(canvas, prop.mesh, getComputedStyle(canvas).getPropertyValue('color'))}
      ></canvas>
    {/snippet}
    {#snippet heading()}
      <select
        aria-label="Kind of mesh of {prop.name}"
        title={kind?.summary ?? 'Brought from a file; another kind takes its place'}
        value={prop.mesh.kind}
        onchange={(event) => {
          const mesh = meshStarter(event.currentTarget.value as MadeRecipe['kind']);
          change(`Make ${prop.name} a ${mesh.kind}`, (each) => ({ ...each, mesh }));
        }}
      >
        {#if imported}<option value="imported">imported</option>{/if}
        {#each MESH_KINDS.keys() as each (each)}<option value={each}>{each}</option>{/each}
      </select>
      {#if kind?.picture}
        <PictureChooser
          words={hasHeights ? 'another picture' : 'choose a picture'}
          label="Height picture of {prop.name}"
          title="Its heights: black is low, white is high"
          accept=".png,.jpg,.jpeg,.webp"
          onchosen={chooseHeights}
        />
      {/if}
    {/snippet}
    {#if imported}
      <div class="mono max-w-44 truncate text-third" title={imported.file}>{imported.file}</div>
      <div class="mono text-third">{imported.triangles.toLocaleString('en')} triangles</div>
    {/if}
    <div class="flex gap-3">
      <MeshWords mesh={prop.mesh} of={prop.name} onchange={setMesh} onsettle={settle} />
      <div class="fields">
        {#each fields as [name, field] (name)}
          <NumbersLine
            word={name}
            label="{prop.name} {name}"
            value={numbersOf(name)}
            min={field.least}
            max={field.most}
            whole={field.whole}
            onchange={(value) => setMesh(name, value.length === 1 ? value[0]! : value)}
            onsettle={settle}
          />
        {/each}
      </div>
      {#if kind?.fields['pivot']}
        <PivotPicker
          label="Pivot of {prop.name}"
          value={numbersOf('pivot')}
          onchange={(value) => {
            setMesh('pivot', value);
            settle();
          }}
        />
      {/if}
    </div>
  </SetCard>
  <SetCard label="Material of {prop.name}">
    {#snippet picture()}
      {#if portrait}<img src={portrait} alt="" class="h-full w-full object-cover" />{/if}
    {/snippet}
    {#snippet heading()}
      <select
        aria-label="Material of {prop.name}"
        value={prop.material}
        onchange={(event) => dressProps(session, [prop.id], event.currentTarget.value)}
      >
        {#if !material}<option value={prop.material}>(a material that is gone)</option>{/if}
        {#each session.materials as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
      </select>
    {/snippet}
    <div class="mono text-third">
      shader {material ? (session.part(material.body.shader)?.name ?? 'none') : 'none'}
    </div>
    <div class="mono text-third">
      {ownValues === 1 ? '1 value' : `${ownValues || 'no'} values`} of its own
    </div>
  </SetCard>
  <PropPlace {session} {prop} {inHand} />
  <PropLayers {session} {prop} />
</SetRow>

<style>
  .fields {
    display: grid;
    grid-auto-flow: column;
    grid-template-rows: repeat(2, 17px);
    column-gap: 14px;
    justify-content: start;
  }
</style>
