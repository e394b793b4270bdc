<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import Trash from '@lucide/svelte/icons/trash-2';
  import { toast } from 'svelte-sonner';
  import type { Pin } from '#core/document/project.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import { chordOf } from '../commands/chords.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { changePin, duplicatePin, removePin } from './doToPin.ts';
  import { placesNear } from './placesNear.ts';
  import type { PinWatch } from './watchPins.svelte.ts';

  let { session, pins, width, height }: { session: Session; pins: PinWatch; width: number; height: number } =
    $props();

  const all = $derived(session.stage?.body.pins ?? []);
  const three = (numbers: readonly number[]) =>
    numbers
      .map((x) =>
        x
          .toFixed(3)
          .replace(/^-0\.000$/, '0.000')
          .replace('-', '−'),
      )
      .join('  ');
  const screenOf = (id: string) => {
    const there = pins.seen.get(id);
    return there && there.why === undefined ? there.screen : null;
  };
  const metres = (a: readonly number[], b: readonly number[]) =>
    `${formatNumber(Math.hypot(...a.map((x, i) => x - b[i]!)))} m`;

  const held = $derived(all.find((each) => each.id === session.pin) ?? null);
  const lines = $derived.by((): readonly (readonly [string, string])[] => {
    const there = held && pins.seen.get(held.id);
    const set = session.stage?.body;
    if (!held || !there || there.why !== undefined || !set) return [];
    const { position, normal, uv } = there.place;
    const near = placesNear(set, { pin: held.id, prop: held.prop }, pins.seen).map(({ key, name, at }) => ({
      key,
      line: [`to ${name}`, metres(position, at)] as const,
    }));
    const isProp = ({ key }: { readonly key: string }): boolean => key.startsWith('prop ');
    return [
      ['position', three(position)],
      ['normal', three(normal)],
      ['uv', uv.map((x) => x.toFixed(3)).join('  ')],
      ...(there.place.isFront ? [] : ([['side', 'back']] as const)),
      ...near.filter((each) => !isProp(each)).map(({ line }) => line),
      ...near
        .filter(isProp)
        .map(({ line }) => line)
        .sort((a, b) => parseFloat(a[1]) - parseFloat(b[1])),
    ];
  });
  const why = $derived.by(() => {
    if (!held) return null;
    const there = pins.seen.get(held.id);
    if (there?.why !== undefined) return there.why;
    if (!session.stage?.body.props.some((each) => each.id === held.prop)) return 'Its prop is gone.';
    if (!there) return 'Its prop is not drawn yet.';
    return there.screen ? null : 'Behind the camera.';
  });
  /** At most so many lines, so that the note leaves the picture to be seen. */
  const MOST = 9;

  const copy = async () => {
    const there = held && pins.seen.get(held.id);
    if (!held || !there || there.why !== undefined) return;
    const strands = session.score?.body.strands ?? [];
    const nameOf = (key: string) => {
      const [strand, step] = key.split('/');
      const found = strands.find((each) => each.id === strand);
      const at = found?.steps.findIndex((each) => each.id === step) ?? -1;
      return found && at >= 0 ? `${found.name} ${at + 1} ${found.steps[at]!.operator}` : `surface ${step}`;
    };
    const text = [
      held.name,
      ...lines.map(([name, value]) => `${name}\t${value}`),
      ...[...there.readings].map(
        ([key, { numbers, why: lack }]) => `${nameOf(key)}\t${numbers?.join(' ') ?? lack}`,
      ),
    ].join('\n');
    try {
      await navigator.clipboard.writeText(text);
      toast('The reading is on the clipboard.');
    } catch {
      toast.error('The browser did not let it be copied.');
    }
  };

  /** A marker is dragged over what its prop shows, or over another. */
  let dragged = $state<string | null>(null);
  const place = (pin: Pin, x: number, y: number) => {
    const found = pins.spotAt(x, y);
    if (found) changePin(session, pin.id, found, `Move the pin ${pin.name}`, 'place');
  };
  const onmove = (event: PointerEvent, pin: Pin) => {
    if (dragged !== pin.id) return;
    const { left, top } = (event.currentTarget as HTMLElement).parentElement!.getBoundingClientRect();
    place(pin, event.clientX - left, event.clientY - top);
  };
  const STEPS: Readonly<Record<string, readonly [number, number]>> = {
    ...{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] },
  };
  const onkeydown = (event: KeyboardEvent, pin: Pin) => {
    const way = STEPS[event.key];
    const screen = screenOf(pin.id);
    const chord = chordOf(event);
    if (way && screen) {
      const far = event.shiftKey ? 20 : 2;
      place(pin, screen[0] * width + way[0] * far, screen[1] * height + way[1] * far);
      session.settle();
    } else if (chord === 'Delete' || chord === 'Backspace') removePin(session, pin);
    else if (chord === 'D') duplicatePin(session, pin);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const note = $derived.by(() => {
    const screen = held && screenOf(held.id);
    if (!screen) return { left: 12, top: 34 };
    const x = screen[0] * width;
    return {
      left: Math.max(8, x + 272 > width ? x - 250 : x + 26),
      top: Math.min(Math.max(8, screen[1] * height - 70), Math.max(8, height - 200)),
    };
  });
</script>

<div class="layer">
  {#each all as pin (pin.id)}
    {@const screen = screenOf(pin.id)}
    {#if screen && screen[0] >= 0 && screen[0] <= 1 && screen[1] >= 0 && screen[1] <= 1}
      <button
        class="pin"
        class:held={pin.id === session.pin}
        style:left="{screen[0] * width}px"
        style:top="{screen[1] * height}px"
        aria-label="Pin {pin.name}"
        aria-pressed={pin.id === session.pin}
        title="{pin.name}: drag it, or use the arrow keys; Delete takes it off"
        onclick={() => session.holdPin(pin.id)}
        onpointerdown={(event) => {
          session.holdPin(pin.id);
          dragged = pin.id;
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onpointermove={(event) => onmove(event, pin)}
        onpointerup={() => {
          dragged = null;
          session.settle();
        }}
        onpointercancel={() => (dragged = null)}
        onkeydown={(event) => onkeydown(event, pin)}
      ></button>
    {/if}
  {/each}
  {#if held && !dragged}
    <section class="note" style:left="{note.left}px" style:top="{note.top}px" aria-label="Pin {held.name}">
      <header>
        <input
          aria-label="Name of the pin"
          maxlength="120"
          value={held.name}
          onchange={(event) => {
            const name = event.currentTarget.value.trim();
            if (name && name !== held.name) {
              changePin(session, held.id, { name }, `Name the pin ${name}`);
              session.settle();
            } else event.currentTarget.value = held.name;
          }}
          onkeydown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        <button
          aria-label="Copy the reading as text"
          title="Copy the reading as text"
          onclick={() => void copy()}><Copy size={12} /></button
        >
        <button
          aria-label="Take the pin off"
          title="Take the pin off"
          onclick={() => removePin(session, held)}><Trash size={12} /></button
        >
        <button aria-label="Close the pin’s note" title="Close" onclick={() => session.holdPin(null)}
          >×</button
        >
      </header>
      {#if why}<p>{why}</p>{/if}
      <dl>
        {#each lines.slice(0, MOST) as [name, value] (name)}<div>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>{/each}
      </dl>
      {#if lines.length > MOST}<p class="rest">{lines.length - MOST} more in the copy</p>{/if}
    </section>
  {/if}
</div>

<style>
  .layer {
    position: absolute;
    inset: 0;
    overflow: hidden;
    pointer-events: none;
  }
  .pin {
    position: absolute;
    width: 18px;
    height: 18px;
    border: 2px solid #f2f2f2;
    border-radius: 50%;
    box-shadow:
      0 0 0 1px #000c,
      inset 0 0 0 1px #000c;
    background: radial-gradient(circle, #f2f2f2 0 2px, transparent 2.6px);
    transform: translate(-50%, -50%);
    cursor: grab;
    pointer-events: auto;
    touch-action: none;
  }
  .pin.held {
    border-color: var(--limelight);
    background: radial-gradient(circle, var(--limelight) 0 2px, transparent 2.6px);
  }
  .note {
    position: absolute;
    width: 236px;
    padding: 5px 9px 7px;
    border-radius: 3px;
    background: #0b0b0be6;
    color: #e4e4e4;
    font-size: 12px;
    pointer-events: auto;
  }
  header {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  header input {
    flex: 1;
    min-width: 0;
    background: transparent;
    color: #f4f4f4;
    font-weight: 640;
    text-overflow: ellipsis;
  }
  header button {
    color: #b8b8b8;
  }
  header button:hover {
    color: #fff;
  }
  dl div {
    display: flex;
    gap: 10px;
    align-items: baseline;
    justify-content: space-between;
  }
  dt {
    overflow: hidden;
    color: #b8b8b8;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  dd {
    font-family: var(--font-mono, monospace);
    font-size: 11.5px;
    text-align: right;
    white-space: pre;
  }
  p {
    color: #f0b0a8;
  }
  p.rest {
    color: #b8b8b8;
  }
</style>
