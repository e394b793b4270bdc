<script lang="ts">
  import type { Prop } from '#core/document/project.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { changeProp, marked, type Mark } from './doToProp.ts';
  import NumbersLine from './NumbersLine.svelte';

  let { session, prop }: { session: Session; prop: Prop } = $props();
  const change = (label: string, how: (prop: Prop) => Prop, merge?: string) =>
    changeProp(session, prop, label, how, merge);
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
  /** Why its mesh cannot count for distances, where the stage says so. */
  const left = $derived(session.leftOut.find((each) => each.prop === prop.id) ?? null);
  const told = $derived(
    left
      ? `It does not count now: ${left.why}. ${left.isOpen ? 'Press it to count the mesh by its distance alone' : 'Press it to leave it out'}`
      : prop.unsigned
        ? 'Where its mesh is open it counts by its distance alone, never below 0'
        : 'What is inside its mesh is below 0',
  );
  const press = ({ mark, on, off }: Layer) => {
    if (mark === 'fieldless' && left?.isOpen)
      change(`Count ${prop.name} by distance alone`, (each) => marked(each, 'unsigned', true));
    else change(`${prop[mark] ? on : off} ${prop.name}`, (each) => marked(each, mark, !each[mark]));
  };
  const settle = () => session.settle();
</script>

<div class="tags">
  {#each LAYERS as layer (layer.mark)}
    {@const { mark, word, title } = layer}
    <button
      class="tag"
      class:on={!prop[mark]}
      class:left={mark === 'fieldless' && left}
      aria-pressed={!prop[mark] && !(mark === 'fieldless' && left)}
      title={mark === 'fieldless' ? `${title}. ${told}.` : title}
      onclick={() => press(layer)}>{word}</button
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
  .tag.left {
    border-style: dashed;
    border-color: var(--oxblood);
    color: var(--oxblood);
  }
</style>
