import type { Part } from '#core/document/project.ts';
import type { PartChange } from '#core/edits/changeParts.ts';
import { frameOf } from '#core/time/takes.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import { sceneryNow, sceneryOf, type Scenery } from '../state/looks.ts';
import type { Taking } from '../takes/taking.svelte.ts';
import type { Session } from '../state/session.svelte.ts';
import { canBeLeftOut, inHand, leftOut, wordFor, type Without } from './without.ts';

/** How the stage stood once: as it was drawn, and the documents it was drawn from. */
export interface Kept {
  readonly id: number;
  readonly name: string;
  readonly scenery: Scenery;
  readonly parts: readonly Part[];
}
/** What stands on the other side of the edge. */
export type Other =
  | { readonly kind: 'kept'; readonly id: number }
  | { readonly kind: 'without'; readonly what: Without }
  /** The take that stands beside the one that is shown, at the same tick. */
  | { readonly kind: 'take' };

const MOST_KEPT = 12;

/** What the stage is compared with: a state that was kept, or the stage without something. Not saved: it ends with the visit. */
export const createComparing = (session: Session, rehearsal: Rehearsal, taking: Taking) => {
  const standingNow = () => sceneryNow(session, { moved: rehearsal.moved, layers: rehearsal.layers });
  let kept = $state.raw<readonly Kept[]>([]);
  let other = $state.raw<Other | null>(null);
  /** Where the edge is, as a share of the width; left of it is the other. */
  let edge = $state(0.5);
  /** True while a key is held: all of the stage is without what is in hand. */
  let held = $state.raw<Without | null>(null);
  let last = 0;

  const shown = $derived.by((): Other | null => (held ? { kind: 'without', what: held } : other));
  const found = $derived.by((): Scenery | string | null => {
    if (!shown) return null;
    if (shown.kind === 'kept') return kept.find(({ id }) => id === shown.id)?.scenery ?? null;
    if (shown.kind === 'take') {
      if (!taking.beside) return 'No other take stands beside this one any more.';
      const { writes, ...moved } = frameOf(taking.beside);
      return sceneryOf(session, session.values.asDriven(writes), moved);
    }
    const now = standingNow();
    return now ? leftOut(session, now, shown.what) : null;
  });
  const word = $derived.by((): string => {
    if (!shown) return '';
    if (shown.kind === 'kept') return kept.find(({ id }) => id === shown.id)?.name ?? '';
    if (shown.kind === 'take') return taking.other?.name ?? '';
    return `without ${wordFor(session, shown.what)}`;
  });

  const keep = (): void => {
    const scenery = standingNow();
    if (!scenery) return;
    last += 1;
    const state: Kept = {
      ...{ id: last, name: `${session.stage!.name} ${last}`, scenery },
      parts: session.parts.filter(({ kind }) => kind !== 'script'),
    };
    kept = [...kept, state].slice(-MOST_KEPT);
    other = { kind: 'kept', id: state.id };
  };

  return {
    get kept() {
      return kept;
    },
    get other() {
      return other;
    },
    get edge() {
      return held ? 1 : edge;
    },
    setEdge: (share: number): void => {
      edge = Math.min(Math.max(share, 0), 1);
    },
    /** What stands on the other side; null where nothing is compared, or it cannot be. */
    get scenery(): Scenery | null {
      return typeof found === 'string' ? null : found;
    },
    get refusal(): string | null {
      return typeof found === 'string' ? found : null;
    },
    /** What the other side is called. */
    get word() {
      return word;
    },
    get isHeld() {
      return held !== null;
    },
    /** The take that can be chosen, by name. */
    get takeBeside() {
      return taking.other?.name ?? null;
    },
    get choices() {
      return canBeLeftOut(session);
    },
    keep,
    /** Begins with what was kept last, else keeps what stands there now. */
    begin: (): void => {
      const before = kept.at(-1);
      if (before) other = { kind: 'kept', id: before.id };
      else keep();
    },
    choose: (wanted: Other | null): void => {
      other = wanted;
    },
    rename: (id: number, name: string): void => {
      kept = kept.map((each) => (each.id === id && name.trim() ? { ...each, name: name.trim() } : each));
    },
    forget: (id: number): void => {
      kept = kept.filter((each) => each.id !== id);
      if (other?.kind === 'kept' && other.id === id) other = null;
    },
    /** What would bring the documents back to how they stood: those that are others since, and are still there. */
    changesBack: (id: number): readonly PartChange[] => {
      const state = kept.find((each) => each.id === id);
      return (state?.parts ?? []).flatMap((before): PartChange[] => {
        const now = session.part(before.id);
        return now?.kind === before.kind && now.body !== before.body
          ? [{ op: 'change', id: before.id, patches: [{ op: 'replace', path: [], value: before.body }] }]
          : [];
      });
    },
    /** While it is true, the stage is without what is in hand. */
    hold: (on: boolean): void => {
      held = on ? (held ?? inHand(session)) : null;
    },
  };
};
export type Comparing = ReturnType<typeof createComparing>;
