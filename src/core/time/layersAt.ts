import { flourishLength } from '../document/flourishes.ts';
import type { Prop } from '../document/project.ts';
import { createFlourishPlayer, type LayerNow } from './playFlourishes.ts';
import type { RehearsalSetup } from './rehearse.ts';
import { TICKS_PER_SECOND } from './tick.ts';

type Setup = Pick<RehearsalSetup, 'set' | 'parametersOf'>;

/**
 * What there is of a flourish so many seconds after it began: played until then, tick by tick.
 * @param props where the set's props stand all the while
 */
export const layersAt = (
  { set, parametersOf }: Setup,
  flourish: string,
  seconds: number,
  props: readonly Prop[] = set.props,
): readonly LayerNow[] => {
  const player = createFlourishPlayer(set.flourishes ?? [], parametersOf);
  player.start(flourish);
  const world = { props, pointer: null, walker: null };
  let now: readonly LayerNow[] = [];
  for (let tick = 0; tick <= Math.round(seconds * TICKS_PER_SECOND); tick += 1) {
    player.advance();
    now = player.now(world);
  }
  return now;
};

/**
 * What there is of flourishes where a cue is looked at so many seconds into it: of those that it starts, and of those
 * that begin with the rehearsal.
 */
export const layersBesideCue = (
  setup: Setup,
  cue: string,
  seconds: number,
  props: readonly Prop[] = setup.set.props,
): readonly LayerNow[] => {
  const { cues = [], flourishes = [] } = setup.set;
  const end = cues.find(({ id }) => id === cue)?.length ?? 0;
  return flourishes.flatMap((each) => {
    const began = each.starts.flatMap((start) => {
      if (start.by === 'begin') return [0];
      return start.by === 'cue' && start.cue === cue ? [start.at ?? end] : [];
    });
    const since = Math.min(...began.map((at) => seconds - at).filter((x) => x >= -1e-9));
    if (each.off || !Number.isFinite(since)) return [];
    const length = flourishLength(each);
    return layersAt(
      setup,
      each.id,
      each.play === 'looped' ? since % length : Math.min(since, length + 1),
      props,
    );
  });
};
