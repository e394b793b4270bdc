import { materialsOn } from '#core/document/materialsOn.ts';
import type { Part } from '#core/document/project.ts';
import { cardOf, STARTERS } from '#core/document/starter.ts';
import type { Stage } from '#stage/stage.ts';
import { drawSet, type Look } from '../../parts/drawSet.ts';
import { lookOf } from '../state/looks.ts';
import type { Session } from '../state/session.svelte.ts';

export const PORTRAIT: readonly [number, number] = [96, 54];

/** Looks straight at a card: what a material, a shader or a motif is shown on. */
const portraitSet = (material: string) => ({
  ...STARTERS.stage([cardOf('card', 'Card', material)]),
  camera: { position: [0, 1, 2.2], target: [0, 1, 0], fieldOfView: 32 } as const,
});

/** What a part's picture shows, and everything it is made from: where none of that is another, the picture stands. */
interface Sitting {
  readonly set: ReturnType<typeof STARTERS.stage>;
  readonly looks: readonly Look[];
  readonly from: readonly unknown[];
}

/** Small pictures of the project's parts, drawn one at a time on a stage of their own while they are looked at. */
export const createPortraits = (session: Session) => {
  let pictures = $state.raw<ReadonlyMap<string, string>>(new Map());
  const drawnFrom = new Map<string, readonly unknown[]>();
  let wanted: readonly string[] = [];
  /** When each part was first asked for. */
  const asked = new Map<string, number>();
  let round = 0;
  let stage: Promise<Stage | null> | null = null;
  let busy = false;
  let closed = false;

  /** A shader or a motif as it stands by itself: every parameter at its default. */
  const bare = (id: string): Look | null => {
    const part = session.part(id);
    const state = session.shaders.get(id);
    if ((part?.kind !== 'shader' && part?.kind !== 'motif') || !state?.good) return null;
    return {
      ...{ material: id, shader: state.good, settings: state.settings, knobs: state.knobs },
      ...{ parameters: part.body.parameters, authored: session.authored({}), pictures: new Map() },
    };
  };
  const sittingOf = (part: Part): Sitting | null => {
    if (part.kind === 'stage') {
      const looks = [...materialsOn(part.body)]
        .map((each) => lookOf(session, each))
        .filter((each) => each !== null);
      return { set: part.body, looks, from: [part.body, ...looks.flatMap(partsOfLook)] };
    }
    const look = part.kind === 'material' ? lookOf(session, part.id) : bare(part.id);
    return look && { set: portraitSet(look.material), looks: [look], from: partsOfLook(look) };
  };
  const partsOfLook = ({ shader, settings, authored, knobs }: Look): unknown[] => [
    ...[shader, settings, authored.values, authored.shared, knobs],
  ];
  const isDrawn = (id: string, from: readonly unknown[]): boolean => {
    const before = drawnFrom.get(id);
    return before?.length === from.length && from.every((each, i) => each === before[i]);
  };
  const make = async (): Promise<Stage | null> => {
    const { createStage } = await import('#stage/createStage.ts');
    try {
      return createStage({}, false);
    } catch {
      return null;
    }
  };

  const work = async () => {
    if (busy) return;
    busy = true;
    for (let id = wanted[0]; id !== undefined; id = wanted[0]) {
      wanted = wanted.slice(1);
      const part = session.part(id);
      const sitting = part && sittingOf(part);
      if (!sitting || isDrawn(id, sitting.from)) continue;
      const on = await (stage ??= make());
      const blob = on && (await drawSet(on, sitting.set, sitting.looks, PORTRAIT).catch(() => null));
      if (!blob || closed) continue;
      drawnFrom.set(id, sitting.from);
      const before = pictures.get(id);
      pictures = new Map(pictures).set(id, URL.createObjectURL(blob));
      if (before) URL.revokeObjectURL(before);
      await new Promise((next) => requestAnimationFrame(next));
    }
    busy = false;
  };

  return {
    /** The pictures there are, as addresses, by the parts' ids. */
    get all() {
      return pictures;
    },
    /**
     * Asks for parts' pictures as they stand now, in this order; what was asked for last, and has none yet, comes first.
     * @returns how to ask no longer
     */
    ask: (ids: readonly string[]): (() => void) => {
      round += 1;
      for (const id of ids) if (!asked.has(id)) asked.set(id, round);
      const others = wanted.filter((id) => !ids.includes(id));
      // What is not drawn yet keeps its turn, however often the rest is asked for again.
      const turn = (id: string) => (pictures.has(id) ? 0 : asked.get(id)!);
      wanted = [...[...ids].sort((a, b) => turn(b) - turn(a)), ...others];
      void work();
      return () => (wanted = wanted.filter((id) => !ids.includes(id)));
    },
    close: (): void => {
      closed = true;
      wanted = [];
      for (const each of pictures.values()) URL.revokeObjectURL(each);
      void stage?.then((each) => each?.dispose());
    },
  };
};
export type Portraits = ReturnType<typeof createPortraits>;
