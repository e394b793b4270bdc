<script lang="ts">
  import { readArithmetic } from '#core/language/arithmetic.ts';
  import type { Readable } from './completeName.ts';
  import ExpressionField from './ExpressionField.svelte';
  import { formatNumber, snap } from '#core/numbers/format.ts';

  interface Props {
    value: number;
    label: string;
    /** How far one pixel of a drag goes. */
    step?: number;
    min?: number;
    max?: number;
    whole?: boolean;
    unit?: string;
    /** Holds values at the ends when typed or dragged. */
    hard?: boolean;
    /** An angle: past one end it comes in at the other. */
    cyclic?: boolean;
    /** Drawn without a frame, inside a sentence of arguments. */
    plain?: boolean;
    live?: boolean;
    onchange: (value: number) => void;
    onsettle?: () => void;
    /** Gets what was typed when it is not a number; returns true when it could use it. */
    ontext?: (text: string) => boolean;
    /** Names that may be written in place of a number; given with `ontext`. */
    readable?: readonly Readable[];
  }
  let {
    value,
    label,
    step = 0.01,
    min = -Infinity,
    max = Infinity,
    whole = false,
    unit = '',
    hard = false,
    cyclic = false,
    plain = false,
    live = false,
    onchange,
    onsettle,
    ontext,
    readable,
  }: Props = $props();

  let typed = $state<string | null>(null);
  let wrong = $state(false);
  let begins = $state<'all' | 'end'>('all');
  let input = $state<HTMLInputElement>();
  let drag: { x: number; from: number; moved: boolean; began: number } | null = null;

  const text = $derived((whole ? String(Math.round(value)) : formatNumber(value)) + unit);
  const hold = (x: number) => {
    const kept = whole ? Math.round(x) : x;
    if (cyclic && max > min)
      return kept === max ? max : kept - (max - min) * Math.floor((kept - min) / (max - min));
    return hard ? Math.min(Math.max(kept, min), max) : kept;
  };
  const pace = (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) =>
    (whole ? Math.max(step, 0.2) : step) * (event.shiftKey ? 0.1 : event.ctrlKey || event.metaKey ? 10 : 1);

  const why = $derived(wrong ? 'A number or sums on numbers belong here, such as 3/8.' : '');
  /** Typing begins at the number that stands there, or at the key that was pressed. */
  const begin = (key: string | null = null) => {
    typed = key ?? (whole ? String(Math.round(value)) : String(Number(value.toPrecision(7))));
    begins = key ? 'end' : 'all';
    wrong = false;
    queueMicrotask(() => (key ? input?.setSelectionRange(1, 1) : input?.select()));
  };
  const commit = () => {
    if (typed === null) return;
    const x = readArithmetic(
      typed.endsWith(unit) ? typed.slice(0, typed.length - unit.length || undefined) : typed,
    );
    if (x !== null) onchange(hold(x));
    else if (!ontext?.(typed)) {
      wrong = true;
      return;
    }
    typed = null;
    onsettle?.();
  };
  const leave = () => {
    commit();
    typed = null;
  };
  const onkeydown = (event: KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === 'Enter') commit();
    if (event.key === 'Escape') typed = null;
  };
  const nudge = (event: KeyboardEvent) => {
    if (event.key === 'Escape' && drag) {
      event.preventDefault();
      event.stopPropagation();
      cancel();
      return;
    }
    const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    if (event.key === 'Enter') {
      event.preventDefault();
      begin();
    } else if (/^[-0-9.]$/.test(event.key)) {
      event.preventDefault();
      begin(event.key);
    } else if (way && !event.altKey) {
      event.preventDefault();
      event.stopPropagation();
      onchange(hold(snap(value + way * (whole ? 1 : pace(event) * 5), whole ? 1 : pace(event) / 10)));
      onsettle?.();
    }
  };
  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    drag = { x: event.clientX, from: value, moved: false, began: value };
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    // Escape is heard by what has the focus.
    (event.currentTarget as HTMLElement).focus({ preventScroll: true });
  };
  const move = (event: PointerEvent) => {
    if (!drag) return;
    const dx = event.clientX - drag.x;
    if (!drag.moved && Math.abs(dx) < 3) return;
    drag.moved = true;
    // Steps are taken from where the pointer was, so that changing to fine mid-way does not jump.
    drag.from += dx * pace(event);
    drag.x = event.clientX;
    if (hard) drag.from = Math.min(Math.max(drag.from, min), max);
    onchange(hold(snap(drag.from, whole ? 1 : pace(event) / 10)));
  };
  /** Ends a drag that was not meant: the number is what it was. */
  const cancel = () => {
    if (drag?.moved) {
      onchange(drag.began);
      onsettle?.();
    }
    drag = null;
  };
  const up = () => {
    if (!drag) return;
    if (drag.moved) onsettle?.();
    else begin();
    drag = null;
  };
</script>

{#if typed !== null && readable}
  <ExpressionField
    bind:text={typed}
    {label}
    {readable}
    {wrong}
    title={why}
    {begins}
    least={6}
    oncommit={commit}
    oncancel={() => (typed = null)}
    onleave={leave}
  />
{:else if typed !== null}
  <!-- svelte-ignore a11y_autofocus -->
  <input
    bind:this={input}
    bind:value={typed}
    class="mono field w-full"
    class:wrong
    aria-label={label}
    aria-invalid={wrong}
    title={why}
    autofocus
    {onkeydown}
    onblur={leave}
  />
{:else}
  <span
    class="mono figure {plain ? 'plain' : 'field framed'}"
    class:live
    role="spinbutton"
    tabindex="0"
    aria-label={label}
    aria-valuenow={value}
    aria-valuetext={text}
    title="Drag to change; Shift is finer, Ctrl coarser. Click to type."
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={cancel}
    onkeydown={nudge}>{text}</span
  >
{/if}

<style>
  .figure {
    cursor: ew-resize;
    user-select: none;
    touch-action: none;
    white-space: nowrap;
  }
  .framed {
    display: flex;
    height: 22px;
    align-items: center;
    justify-content: flex-end;
  }
  .framed.live {
    color: var(--limelight-ink);
    border-color: var(--limelight-ink);
  }
  .plain {
    color: var(--second);
    border-radius: 2px;
  }
  .plain:hover {
    background: var(--well);
    color: var(--ink);
  }
  .wrong {
    outline-color: var(--oxblood);
    color: var(--oxblood);
  }
</style>
