<script lang="ts">
  import type { Prop } from '#core/document/project.ts';
  import { coarse, makeMesh } from '#core/meshes/makeMesh.ts';
  import { openEdges } from '#core/meshes/openEdges.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { changeProp, marked, type Mark } from './doToProp.ts';
  import NumbersLine from './NumbersLine.svelte';

  let { session, prop }: { session: Session; prop: Prop } = $props();
  const change = (label: string, how: (prop: Prop) => Prop, merge?: string) =>
    changeProp(session, prop, label, how, merge);
  /** Quads along an edge, enough to tell whether it is closed. */
  const FEW = 12;
  interface Layer {
    readonly mark: Mark;
    readonly word: string;
    /** What taking the mark off and putting it on are called. */
    readonly on: string;
    readonly off: string;
    readonly title: string;
  }
  const LAYERS: readonly Layer[] = [
    {
      mark: 'passable',
      word: 'solid',
      on: 'Make solid',
      off: 'Let the walker through',
      title: 'Whether the walker stands on it and is stopped by it',
    },
    {
      mark: 'shadowless',
      word: 'shadow',
      on: 'Give a shadow to',
      off: 'Take the shadow of',
      title: 'Whether it throws a shadow where the key light does',
    },
    {
      mark: 'uncopied',
      word: 'copied',
      on: 'Copy',
      off: 'Leave out',
      title: 'Whether surfaces in front of it, such as heat haze or glass, see it behind them',
    },
    {
      mark: 'fieldless',
      word: 'field',
      on: 'Count',
      off: 'Do not count',
      title: 'Whether shaders that ask how far the nearest surface is count it',
    },
  ];
  /** What is to be said of its mesh's inside, once somebody looks. */
  let inside = $state('');
  const lookInside = () => {
    const open = openEdges(makeMesh(coarse(prop.mesh, FEW)));
    inside = open ? ' Its mesh is open and has no inside: distances to it are never below 0.' : '';
  };
  const settle = () => session.settle();
</script>

<div class="tags">
  {#each LAYERS as { mark, word, on, off, title } (mark)}
    <button
      class="tag"
      class:on={!prop[mark]}
      aria-pressed={!prop[mark]}
      title={mark === 'fieldless' ? `${title}.${inside}` : title}
      onpointerenter={() => mark === 'fieldless' && lookInside()}
      onfocus={() => mark === 'fieldless' && lookInside()}
      onclick={() =>
        change(`${prop[mark] ? on : off} ${prop.name}`, (each) => marked(each, mark, !each[mark]))}
      >{word}</button
    >
  {/each}
  <span title="Of what blends: drawn after what has less, and by distance among the same">
    <NumbersLine
      word="drawn"
      label="{prop.name} draw order"
      value={[prop.drawOrder ?? 0]}
      step={1}
      whole
      min={-1000}
      max={1000}
      onchange={([order]) =>
        change(
          `Order ${prop.name}`,
          ({ drawOrder: _, ...each }) => (order ? { ...each, drawOrder: order } : each),
          'draw order',
        )}
      onsettle={settle}
    />
  </span>
</div>

<style>
  .tags {
    display: flex;
    flex-wrap: wrap;
    align-content: center;
    gap: 4px;
    width: 130px;
    height: 65px;
  }
  .tag {
    flex: none;
    padding: 0 6px;
    border: 1px solid var(--rule);
    border-radius: 3px;
    background: var(--page);
    color: var(--third);
    font-size: 12px;
    line-height: 17px;
    text-decoration: line-through;
  }
  .tag.on {
    border-color: var(--ink);
    color: var(--ink);
    text-decoration: none;
  }
</style>
