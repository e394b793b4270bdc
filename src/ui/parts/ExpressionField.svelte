<script lang="ts">
  import { completeName, type Offers, type Readable } from './completeName.ts';

  interface Props {
    text: string;
    label: string;
    /** Strands and parameters that an expression may read. */
    readable: readonly Readable[];
    wrong?: boolean;
    title?: string;
    /** Where the caret stands at first: all of the text, or behind its end. */
    begins?: 'all' | 'end';
    /** Its width in letters, when there is little in it. */
    least?: number;
    oncommit: () => void;
    oncancel: () => void;
    onleave: () => void;
  }
  let {
    text = $bindable(),
    label,
    readable,
    wrong = false,
    title = '',
    begins = 'all',
    least = 10,
    oncommit,
    oncancel,
    onleave,
  }: Props = $props();

  let field = $state<HTMLInputElement>();
  const listId = $props.id();
  /** What the name that is being written may go on as, and the one that is pointed at: none until a key or Tab says so. */
  let offered = $state.raw<Offers | null>(null);
  let at = $state(-1);

  const begin = (input: HTMLInputElement) => {
    input.focus();
    if (begins === 'all') input.select();
    else input.setSelectionRange(input.value.length, input.value.length);
  };
  const offer = () => {
    offered = field ? completeName(field.value, field.selectionStart ?? 0, readable) : null;
    at = -1;
  };
  const accept = (i: number) => {
    const chosen = offered?.offers[i];
    if (!chosen || !offered) return;
    const { from, to } = offered;
    text = text.slice(0, from) + chosen.name + text.slice(to);
    offered = null;
    at = -1;
    const caret = from + chosen.name.length;
    queueMicrotask(() => field?.setSelectionRange(caret, caret));
  };
  const onkeydown = (event: KeyboardEvent) => {
    event.stopPropagation();
    const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (offered && way) {
      event.preventDefault();
      const count = offered.offers.length;
      at = at < 0 && way < 0 ? count - 1 : (at + way + count) % count;
    } else if (offered && event.key === 'Tab' && !event.shiftKey) {
      event.preventDefault();
      accept(Math.max(at, 0));
    } else if (event.key === 'Enter') {
      if (at >= 0) accept(at);
      else oncommit();
    } else if (event.key === 'Escape') {
      if (offered) offered = null;
      else oncancel();
    }
  };
</script>

<span class="completed">
  <input
    bind:this={field}
    bind:value={text}
    class="mono editor"
    class:wrong
    style="width: {Math.min(Math.max(text.length + 2, least), 44)}ch"
    spellcheck="false"
    autocomplete="off"
    role="combobox"
    aria-label={label}
    aria-invalid={wrong}
    {title}
    aria-autocomplete="list"
    aria-expanded={offered !== null}
    aria-controls="{listId}-offers"
    aria-activedescendant={offered && at >= 0 ? `${listId}-${at}` : undefined}
    oninput={offer}
    {onkeydown}
    onclick={(event) => event.stopPropagation()}
    onblur={onleave}
    {@attach begin}
  />
  {#if offered}
    <ul class="offers" id="{listId}-offers" role="listbox" aria-label="Names">
      {#each offered.offers as each, i (each.name)}
        <li id="{listId}-{i}" role="option" aria-selected={i === at}>
          <!-- The field keeps the focus. -->
          <button tabindex="-1" onpointerdown={(event) => event.preventDefault()} onclick={() => accept(i)}
            ><span>{each.name}</span><span class="detail">{each.detail}</span></button
          >
        </li>
      {/each}
    </ul>
  {/if}
</span>

<style>
  .editor {
    height: 17px;
    padding: 0 3px;
    outline: 1px solid var(--limelight-ink);
    border-radius: 1px;
    background: var(--sheet);
    color: var(--ink);
  }
  .editor.wrong {
    outline-color: var(--oxblood);
    color: var(--oxblood);
  }
  .completed {
    position: relative;
  }
  .offers {
    position: absolute;
    top: calc(100% + 2px);
    left: 0;
    z-index: 5;
    min-width: 100%;
    padding: 3px 0;
    border: 1px solid var(--rule);
    border-radius: 3px;
    background: var(--sheet);
  }
  .offers button {
    display: flex;
    justify-content: space-between;
    gap: 16px;
    width: 100%;
    padding: 1px 8px;
    line-height: 17px;
    text-align: left;
  }
  .offers [aria-selected='true'] button,
  .offers button:hover {
    background: var(--well);
  }
  .offers .detail {
    color: var(--third);
  }
</style>
