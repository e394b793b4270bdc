import { toast } from 'svelte-sonner';
import type { Prop } from '#core/document/project.ts';
import { changeProps } from '#core/edits/stageEdits.ts';
import type { Place, Stage } from '#stage/stage.ts';
import { chordOf } from '../commands/chords.ts';
import { commandFor } from '../commands/command.ts';
import { HANDLES, ON_PROP, type PropDeed } from '../commands/onProp.ts';
import { propsInHand } from '../state/propsInHand.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import type { Session } from '../state/session.svelte.ts';
import { addPin } from '../pins/doToPin.ts';
import { doToProps, dressProps, nudgeProps } from './doToProp.ts';

/** What a material is dragged as, from the project’s list to the stage. */
export const MATERIAL = 'application/x-veil-material';
/** A press that goes no further than so many pixels is no drag. */
const STILL = 3;

/** A prop at a place; one that was never scaled stays without a scale of its own. */
const placed = (prop: Prop, { position, rotation, scale }: Place): Prop => ({
  ...{ ...prop, position, rotation },
  ...(prop.scale || scale.some((x) => x !== 1) ? { scale } : {}),
});

/** Puts props where their handles were dragged to. */
export const placeProps = (session: Session, places: readonly Place[]): void => {
  const set = session.stage;
  if (!set) return;
  const moved = new Map(places.map((each) => [each.id, each]));
  const label = places.length === 1 ? 'Place prop' : `Place ${places.length} props`;
  session.apply(
    changeProps(set, [...moved.keys()], label, (prop) => placed(prop, moved.get(prop.id)!), 'place'),
  );
};

/** Keys that move what is in hand along the floor, up and down, in metres. */
const wayOf = (event: KeyboardEvent): readonly [number, number, number] | undefined => {
  const far = event.shiftKey ? 0.5 : 0.05;
  const ways: Readonly<Record<string, readonly [number, number, number]>> = {
    ArrowLeft: [-far, 0, 0],
    ArrowRight: [far, 0, 0],
    ArrowUp: [0, 0, -far],
    ArrowDown: [0, 0, far],
    PageUp: [0, far, 0],
    PageDown: [0, -far, 0],
  };
  return ways[event.key];
};

/** What the stage’s canvas hears: what is pressed is taken in hand, keys do to it, a material dropped is given to it. */
export const createStageHands = (
  session: Session,
  stage: () => Stage | null,
  rehearsal: Pick<Rehearsal, 'running' | 'input' | 'followsPointer'>,
) => {
  const hit = (event: MouseEvent) => {
    const { left, top } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return stage()?.hitAt(event.clientX - left, event.clientY - top) ?? null;
  };
  /** Where the pointer was last looked at: a rehearsal that follows it hears of it once a frame. */
  let looking = false;
  let pressed: { readonly x: number; readonly y: number } | null = null;
  const under = (event: MouseEvent): string | null => {
    const { left, top } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return stage()?.pick(event.clientX - left, event.clientY - top) ?? null;
  };
  return {
    onpointerdown: (event: PointerEvent): void => {
      pressed = event.button === 0 ? { x: event.clientX, y: event.clientY } : null;
      stage()?.canvas.focus({ preventScroll: true });
    },
    onpointerup: (event: PointerEvent): void => {
      if (!pressed) return;
      const moved = Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y);
      pressed = null;
      if (moved > STILL) return;
      if (rehearsal.running) {
        rehearsal.input({ kind: 'click', hit: hit(event) });
        return;
      }
      if (session.pinning) {
        const { left, top } = (event.currentTarget as HTMLElement).getBoundingClientRect();
        const spot = stage()?.pinAt(event.clientX - left, event.clientY - top);
        if (spot) addPin(session, spot);
        else toast('There is no prop there to put a pin on.');
        // One press, one pin; with Shift the next press puts another.
        if (!event.shiftKey) session.setPinning(false);
        return;
      }
      const found = under(event);
      const more = event.shiftKey || event.ctrlKey || event.metaKey;
      if (!found) {
        if (!more) session.holdProps([]);
        return;
      }
      const others = session.props.filter((each) => each !== found);
      if (!more) session.holdProps([found]);
      else session.holdProps(session.props.includes(found) ? others : [...others, found]);
    },
    onpointermove: (event: PointerEvent): void => {
      if (!rehearsal.running || !rehearsal.followsPointer || event.buttons || looking) return;
      looking = true;
      const canvas = event.currentTarget as HTMLElement;
      const { clientX, clientY } = event;
      requestAnimationFrame(() => {
        looking = false;
        const { left, top } = canvas.getBoundingClientRect();
        if (rehearsal.running)
          rehearsal.input({
            ...{ kind: 'pointer', hit: stage()?.hitAt(clientX - left, clientY - top) ?? null },
          });
      });
    },
    onfocusout: (): void => void stage()?.walkKey(null, false),
    onkeyup: (event: KeyboardEvent): void => void stage()?.walkKey(event.code, false),
    onkeydown: (event: KeyboardEvent): void => {
      if (rehearsal.running) return;
      const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
      if (session.walking && plain && stage()?.walkKey(event.code, true)) {
        event.preventDefault();
        event.stopPropagation();
        return;
      }
      const here = { props: propsInHand(session), do: (deed: PropDeed) => doToProps(session, deed) };
      const command = commandFor([...ON_PROP, ...HANDLES], chordOf(event), here);
      const way = wayOf(event);
      if (command) command.run(here);
      else if (way && here.props.length) nudgeProps(session, way);
      else return;
      event.preventDefault();
      event.stopPropagation();
    },
    ondragover: (event: DragEvent): void => {
      if (event.dataTransfer?.types.includes(MATERIAL)) event.preventDefault();
    },
    ondrop: (event: DragEvent): void => {
      const material = event.dataTransfer?.getData(MATERIAL);
      if (!material || !stage()) return;
      event.preventDefault();
      const found = under(event);
      if (found) dressProps(session, [found], material);
      else toast('There is no prop there to give the material to.');
    },
  };
};
