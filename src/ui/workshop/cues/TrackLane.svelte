<script lang="ts">
  import { onFrame } from '#core/edits/cueEdits.ts';
  import { addKeyAt, changeKey, moveKeys, pasteKeys, removeKeys } from '#core/edits/cueEdits.ts';
  import type { Cue, Track } from '#core/document/cues.ts';
  import { gradientAt } from '#core/numbers/curve.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import type { Slot } from '#core/time/slots.ts';
  import { slopesAt, trackAt } from '#core/time/trackAt.ts';
  import { createDrag } from '../../parts/drag.ts';
  import { spanOf } from '../../parts/spanOf.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { LEAD, type Cueing } from './cueing.svelte.ts';
  import { doToTrack } from './doToCue.ts';
  import { lineOf } from './lineOf.ts';

  interface Props {
    session: Session;
    cueing: Cueing;
    cue: Cue;
    track: Track;
    /** What it drives; null where that is gone. */
    slot: Slot | null;
    /** Seconds on the ruler at which the cue begins. */
    begins: number;
    width: number;
  }
  let { session, cueing, cue, track, slot, begins, width }: Props = $props();

  const HEIGHT = 64;
  const [TOP, FOOT] = [20, 8];
  /** How far from its key a slope’s handle stands, in pixels. */
  const REACH = 34;
  const DASHES = ['', '6 3', '2 3', '9 3 2 3'];

  const isHeld = $derived(cueing.track?.id === track.id);
  /** A curve or a gradient is no line over time: its keys stand in the middle. */
  const table = $derived(slot?.table);
  const shownKeys = $derived(table ? track.keys.map((each) => ({ ...each, value: [0] })) : track.keys);
  const size = $derived(shownKeys[0]?.value.length ?? 1);
  const samples = $derived(Array.from({ length: 161 }, (_, i) => trackAt(shownKeys, (cue.length * i) / 160)));
  /** What a gradient is over the cue: its colours from the top down, so many across. */
  const SWATCHES = 40;
  const swatches = $derived(
    table === 'gradient'
      ? Array.from({ length: SWATCHES }, (_, i) =>
          trackAt(track.keys, (cue.length * (i + 0.5)) / SWATCHES, table),
        )
      : [],
  );
  /** While something is dragged, what is seen of the values stays. */
  let kept = $state.raw<{ low: number; high: number } | null>(null);
  const span = $derived.by(() => {
    if (kept) return kept;
    return spanOf([...samples.flat(), ...shownKeys.flatMap((each) => each.value)]);
  });
  const x = (at: number) => LEAD + (begins + at) * cueing.perSecond;
  const y = (value: number) =>
    HEIGHT - FOOT - ((value - span.low) / (span.high - span.low)) * (HEIGHT - TOP - FOOT);
  /** How much of the values a pixel is. */
  const perPixel = $derived((span.high - span.low) / (HEIGHT - TOP - FOOT));
  const line = (c: number) => lineOf(samples, shownKeys, cue.length, c, x, y);
  const told = $derived.by(() => {
    if (size > 1 || table) return '';
    const values = track.keys.map((each) => formatNumber(each.value[0]!));
    return (values.length > 4 ? [values[0]!, '…', values.at(-1)!] : values).join(' → ');
  });
  const unit = $derived(slot?.parameter?.unit ?? '');

  let lane: SVGSVGElement;
  const secondsOf = (event: MouseEvent): number =>
    (event.clientX - lane.getBoundingClientRect().left - LEAD) / cueing.perSecond - begins;

  // Keys are dragged, all that are in hand.
  let from: { x: number; y: number; track: Track; keys: ReadonlySet<number>; c: number } | null = null;
  const dragging = createDrag(
    () => track,
    (was) => put('Move keys', () => was),
    () => {
      kept = null;
      from = null;
      session.settle();
    },
  );
  const put = (label: string, change: (track: Track) => Track, merge = 'keys') =>
    doToTrack(session, cue.id, track.id, label, change, merge);
  const shift = (of: Track, which: ReadonlySet<number>, by: Parameters<typeof moveKeys>[2]) => {
    const { track: now, moved } = moveKeys(of, which, by, { length: cue.length, frames: cueing.frames });
    put('Move keys', () => now);
    cueing.hold(cue, now, moved);
  };
  const grab = (event: PointerEvent, i: number, c: number) => {
    event.stopPropagation();
    if (event.shiftKey) {
      const now = new Set(isHeld ? cueing.keys : []);
      if (!now.delete(i)) now.add(i);
      cueing.hold(cue, track, now);
      return;
    }
    if (!isHeld || !cueing.keys.has(i)) cueing.hold(cue, track, [i]);
    dragging.begin(event);
    kept = span;
    from = { x: event.clientX, y: event.clientY, track, keys: cueing.keys, c };
  };
  const drag = (event: PointerEvent) => {
    if (!from || !dragging.held) return;
    const [across, down] = [event.clientX - from.x, event.clientY - from.y];
    const { c, keys, track: was } = from;
    const values = Array.from({ length: table ? 0 : size }, (_, k) =>
      k === c ? Number((-down * perPixel).toPrecision(3)) : 0,
    );
    const seconds = Math.abs(across) > 2 ? across / cueing.perSecond : 0;
    shift(was, keys, [seconds, values]);
  };

  // A slope is drawn by its handle.
  let bent: { i: number; side: 'into' | 'out' } | null = null;
  const bend = (event: PointerEvent) => {
    if (!bent || !dragging.held) return;
    const key = track.keys[bent.i]!;
    const box = lane.getBoundingClientRect();
    const across = event.clientX - box.left - x(key.at);
    const down = event.clientY - box.top - y(key.value[0]!);
    const run = Math.max(bent.side === 'out' ? across : -across, 6) / cueing.perSecond;
    const rise = (bent.side === 'out' ? -down : down) * perPixel;
    const slopes = { ...slopesAt(track.keys, bent.i), [bent.side]: [Number((rise / run).toPrecision(4))] };
    put('Bend the curve', (each) => changeKey(each, bent!.i, slopes), 'slope');
  };

  // What is drawn over an empty place takes the keys in it in hand.
  let box = $state.raw<{ x: number; y: number; to: readonly [number, number] } | null>(null);
  const pointIn = (event: PointerEvent): [number, number] => {
    const { left, top } = lane.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top];
  };
  const begin = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const [left, top] = pointIn(event);
    box = { x: left, y: top, to: [left, top] };
    lane.setPointerCapture(event.pointerId);
  };
  const stretch = (event: PointerEvent) => {
    if (box) box = { ...box, to: pointIn(event) };
  };
  const end = (event: PointerEvent) => {
    if (!box) return;
    const { x: left, y: top, to } = box;
    box = null;
    if (Math.hypot(to[0] - left, to[1] - top) < 4) {
      cueing.hold(cue, track);
      cueing.scrub(secondsOf(event));
      return;
    }
    const within = (value: number, a: number, b: number) =>
      value >= Math.min(a, b) && value <= Math.max(a, b);
    cueing.hold(
      cue,
      track,
      track.keys.flatMap((key, i) =>
        within(x(key.at), left, to[0]) && shownKeys[i]!.value.some((value) => within(y(value), top, to[1]))
          ? [i]
          : [],
      ),
    );
  };

  const add = (event: MouseEvent) => {
    const at = onFrame(Math.min(Math.max(secondsOf(event), 0), cue.length), cueing.frames);
    addAt(at);
  };
  const addAt = (at: number) => {
    doToTrack(session, cue.id, track.id, 'Add a key', (each) => addKeyAt(each, at, table));
    cueing.hold(cue, track, [track.keys.findIndex((each) => each.at === at)]);
  };
  const remove = () => {
    doToTrack(session, cue.id, track.id, 'Delete keys', (each) => removeKeys(each, cueing.keys));
    cueing.hold(cue, track);
  };

  const frame = $derived(1 / (cueing.frames || 60));
  const nudge = (event: KeyboardEvent, i: number) => {
    if (dragging.held) {
      if (event.key !== 'Escape') return;
      dragging.cancel();
    } else {
      const up = (event.shiftKey ? 10 : 1) * perPixel;
      const ways: Readonly<Record<string, readonly [number, number]>> = {
        ArrowLeft: [-frame, 0],
        ArrowRight: [frame, 0],
        ArrowUp: [0, up],
        ArrowDown: [0, -up],
      };
      const way = ways[event.key];
      const held = cueing.keys.has(i) ? cueing.keys : new Set([i]);
      if (way) {
        const values = Array.from({ length: table ? 0 : size }, () => Number(way[1].toPrecision(3)));
        shift(track, held, [way[0], values]);
      } else if (event.key === 'Delete' || event.key === 'Backspace') remove();
      else if ((event.ctrlKey || event.metaKey) && event.key === 'a')
        cueing.hold(cue, track, track.keys.keys());
      else if ((event.ctrlKey || event.metaKey) && event.key === 'c') cueing.copy();
      else if ((event.ctrlKey || event.metaKey) && event.key === 'v')
        doToTrack(session, cue.id, track.id, 'Paste keys', (each) =>
          pasteKeys(each, cueing.copied, cueing.at, cue.length, table),
        );
      else return;
    }
    event.preventDefault();
    event.stopPropagation();
  };
</script>

<svg
  bind:this={lane}
  {width}
  height={HEIGHT}
  class="block border-b border-hairline"
  class:held={isHeld}
  role="group"
  aria-label="{cue.name}, {slot?.name ?? 'what is gone'}{track.side ? `, ${track.side}` : ''}"
  onpointerdown={begin}
  onpointermove={stretch}
  onpointerup={end}
  onpointercancel={() => (box = null)}
  ondblclick={add}
>
  <rect x={x(0)} y="0" width={cue.length * cueing.perSecond} height={HEIGHT} class="extent" />
  {#each { length: size } as _, c (c)}
    <path d={line(c)} class="curve" stroke-dasharray={DASHES[c]} />
  {/each}
  {#each swatches as stops, i (i)}
    {#each [0.02, 0.25, 0.5, 0.75, 0.98] as at, k (k)}
      <rect
        x={x((cue.length * i) / SWATCHES)}
        y={TOP + k * 7}
        width={Math.max((cue.length * cueing.perSecond) / SWATCHES, 1)}
        height="7"
        fill="color(srgb-linear {gradientAt(stops, at).join(' ')})"
        pointer-events="none"
      />
    {/each}
  {/each}
  {#if slot?.parameter?.kind === 'color'}
    {#each samples as value, i (i)}
      {#if i % 4 === 0}
        <rect
          x={x((cue.length * i) / 160)}
          y={HEIGHT - 5}
          width={Math.max((cue.length * cueing.perSecond) / 40, 1)}
          height="4"
          fill="color(srgb-linear {value.slice(0, 3).join(' ')})"
        />
      {/if}
    {/each}
  {/if}
  <text x={x(0) + 6} y="14" class="told"
    ><tspan class="name">{slot?.name ?? 'gone'}{track.side ? `, ${track.side}` : ''}</tspan>
    <tspan class="figures" dx="4">{told}{unit && told ? ` ${unit === 'stops' ? 'st' : unit}` : ''}</tspan
    ></text
  >
  {#each shownKeys as key, i (i)}
    {@const inHand = isHeld && cueing.keys.has(i)}
    {#if inHand && size === 1 && !table && !slot?.pictures && cueing.keys.size === 1}
      {@const slopes = slopesAt(shownKeys, i)}
      {#each ['into', 'out'] as const as side (side)}
        {@const way = side === 'out' ? 1 : -1}
        {@const rises = slopes[side][0]! / cueing.perSecond / perPixel}
        {@const long = Math.hypot(1, rises)}
        {@const shown =
          side === 'out'
            ? key.go === 'eased' && i < track.keys.length - 1
            : track.keys[i - 1]?.go === 'eased'}
        {#if shown}
          <line
            x1={x(key.at)}
            y1={y(key.value[0]!)}
            x2={x(key.at) + (way * REACH) / long}
            y2={y(key.value[0]!) - (way * REACH * rises) / long}
            class="arm"
          />
          <circle
            cx={x(key.at) + (way * REACH) / long}
            cy={y(key.value[0]!) - (way * REACH * rises) / long}
            r="4"
            class="handle"
            role="presentation"
            onpointerdown={(event) => {
              event.stopPropagation();
              bent = { i, side };
              kept = span;
              dragging.begin(event);
            }}
            onpointermove={bend}
            onpointerup={() => {
              bent = null;
              dragging.release();
            }}
            onpointercancel={() => {
              bent = null;
              dragging.cancel();
            }}
          />
        {/if}
      {/each}
    {/if}
    {#each key.value as value, c (c)}
      <rect
        x={-4}
        y={-4}
        width="8"
        height="8"
        transform="translate({x(key.at)} {y(value)}) rotate(45)"
        class="key"
        class:inhand={inHand}
        role="slider"
        tabindex={c === 0 ? 0 : -1}
        aria-label="Key {i + 1} of {slot?.name ?? 'what is gone'}{size > 1
          ? ` ${'xyzw'[c]}`
          : ''}, at {formatNumber(key.at)} s"
        aria-valuenow={value}
        onfocus={() => !(isHeld && cueing.keys.has(i)) && cueing.hold(cue, track, [i])}
        onpointerdown={(event) => grab(event, i, c)}
        onpointermove={drag}
        onpointerup={dragging.release}
        onpointercancel={dragging.cancel}
        onkeydown={(event) => nudge(event, i)}
        onkeyup={() => !dragging.held && session.settle()}
      />
    {/each}
  {/each}
  {#if box}
    <rect
      x={Math.min(box.x, box.to[0])}
      y={Math.min(box.y, box.to[1])}
      width={Math.abs(box.to[0] - box.x)}
      height={Math.abs(box.to[1] - box.y)}
      class="box"
    />
  {/if}
</svg>

<style>
  .extent {
    fill: var(--sheet);
  }
  .held .extent {
    fill: var(--well);
  }
  .curve {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.6;
    pointer-events: none;
  }
  .told {
    pointer-events: none;
    font-size: 13px;
  }
  .name {
    fill: var(--ink);
    font-weight: 600;
  }
  .figures {
    fill: var(--second);
    font-family: var(--font-mono);
    font-size: 11.5px;
  }
  .key {
    fill: var(--sheet);
    stroke: var(--ink);
    cursor: grab;
    touch-action: none;
  }
  .key.inhand {
    fill: var(--ink);
  }
  .key:focus-visible {
    outline: 2px solid var(--limelight-ink);
    outline-offset: 3px;
  }
  .arm {
    stroke: var(--second);
    stroke-dasharray: 2 2;
    pointer-events: none;
  }
  .handle {
    fill: var(--page);
    stroke: var(--second);
    cursor: grab;
    touch-action: none;
  }
  .box {
    fill: none;
    stroke: var(--second);
    stroke-dasharray: 3 3;
  }
</style>
