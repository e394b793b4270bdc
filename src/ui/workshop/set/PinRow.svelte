<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import { MOST_PINS, type PartOf } from '#core/document/project.ts';
  import { addPinTo, changePin, duplicatePin, removePin } from '../pins/doToPin.ts';
  import { propsInHand } from '../state/propsInHand.ts';
  import type { Session } from '../state/session.svelte.ts';
  import NumbersLine from './NumbersLine.svelte';
  import SetCard from './SetCard.svelte';
  import SetRow from './SetRow.svelte';

  let { session, set }: { session: Session; set: PartOf<'stage'> } = $props();
  const pins = $derived(set.body.pins ?? []);
  const prop = $derived(propsInHand(session).at(-1));
</script>

<SetRow aria-label="Pins">
  {#snippet margin()}
    <div class="text-[15px] font-semibold">pins</div>
    <div class="text-[12px] text-second">where steps are read</div>
  {/snippet}
  {#each pins as pin (pin.id)}
    <SetCard label="Pin {pin.name}" inHand={session.pin === pin.id}>
      {#snippet heading()}
        <button
          class="max-w-44 truncate"
          aria-pressed={session.pin === pin.id}
          title="Read this pin in the score"
          onclick={() => session.holdPin(pin.id)}>{pin.name}</button
        >
        <button
          class="ml-auto text-third hover:text-ink"
          aria-label="Duplicate the pin {pin.name}"
          title="Duplicate"
          onclick={() => duplicatePin(session, pin)}><Copy size={12} /></button
        >
        <button
          class="text-third hover:text-ink"
          aria-label="Take off the pin {pin.name}"
          title="Take it off"
          onclick={() => removePin(session, pin)}><X size={12} /></button
        >
      {/snippet}
      <label class="flex h-[17px] items-center gap-1.5 text-[12px] text-third">
        on <select
          class="max-w-40 bg-transparent"
          aria-label="Prop of the pin {pin.name}"
          value={pin.prop}
          onchange={(event) => {
            changePin(session, pin.id, { prop: event.currentTarget.value }, `Move the pin ${pin.name}`);
            session.settle();
          }}
        >
          {#if !set.body.props.some((each) => each.id === pin.prop)}
            <option value={pin.prop}>a prop that is gone</option>
          {/if}
          {#each set.body.props as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
        </select>
      </label>
      <NumbersLine
        word="at"
        label="Pin {pin.name}"
        value={pin.at}
        unit="m"
        onchange={([x, y, z]) =>
          changePin(session, pin.id, { at: [x!, y!, z!] }, `Move the pin ${pin.name}`, 'place')}
        onsettle={session.settle}
      />
    </SetCard>
  {/each}
  {#if pins.length < MOST_PINS}
    <button
      class="staff-add"
      disabled={!prop}
      aria-label="Put a pin on the prop in hand"
      title={prop ? `Put a pin on ${prop.name}` : 'Take a prop in hand to put a pin on it'}
      onclick={() => prop && addPinTo(session, prop)}><Plus size={13} /></button
    >
  {/if}
</SetRow>
